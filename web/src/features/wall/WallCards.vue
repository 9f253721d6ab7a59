<script setup lang="ts">
import '@/words/wall'
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import { text } from '@/words/words'

/** The walls that somebody can vote at now. */
const LOOK_MS = 10_000
const walls = useQuery({
  queryKey: ['walls'],
  queryFn: () => ask(api.GET('/api/walls')),
  refetchInterval: LOOK_MS,
})
</script>

<template>
  <section v-for="w in walls.data.value" :key="w.id" class="panel row" :aria-label="text('wall.name')">
    <p class="grow">
      <b>{{ w.class_title }}:</b> “{{ w.words }}”
    </p>
    <v-btn color="secondary" variant="flat" :to="`/wall/${w.id}`">{{ text('wall.go-vote') }}</v-btn>
  </section>
</template>

<style scoped>
section {
  border-left: 7px solid var(--water-2);
  border-radius: 4px 14px 14px 4px;
}
</style>
