<script setup lang="ts">
import '@/words/lesson'
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import { text } from '@/words/words'

/** The lessons of the senses that somebody can answer in now. */
const LOOK_MS = 10_000
const lessons = useQuery({
  queryKey: ['lessons'],
  queryFn: () => ask(api.GET('/api/lessons')),
  refetchInterval: LOOK_MS,
})
</script>

<template>
  <section v-for="l in lessons.data.value" :key="l.id" class="panel row" :aria-label="text('lesson.name')">
    <p class="grow">
      <b>{{ l.class_title }}:</b> {{ text(`lesson.by-${l.sense}`) }}
    </p>
    <v-btn color="secondary" variant="flat" :to="`/lesson/${l.id}`">{{ text('lesson.go') }}</v-btn>
  </section>
</template>

<style scoped>
section {
  border-left: 7px solid var(--water-2);
  border-radius: 4px 14px 14px 4px;
}
</style>
