<script setup lang="ts">
import '@/words/lesson'
import '@/words/wall'
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { text } from '@/words/words'

/** What a class does together just now: walls to vote at, and machines to be told apart. */
const LOOK_MS = 10_000
const walls = useQuery({ queryKey: ['walls'], queryFn: () => ask(api.GET('/api/walls')), refetchInterval: LOOK_MS })
const lessons = useQuery({
  queryKey: ['lessons'],
  queryFn: () => ask(api.GET('/api/lessons')),
  refetchInterval: LOOK_MS,
})
const cards = computed(() => [
  ...(walls.data.value ?? []).map((w) => ({
    of: w.class_title,
    to: `/wall/${w.id}`,
    name: text('wall.name'),
    says: `“${w.words}”`,
    go: text('wall.go-vote'),
  })),
  ...(lessons.data.value ?? []).map((l) => ({
    of: l.class_title,
    to: `/lesson/${l.id}`,
    name: text('lesson.name'),
    says: text(`lesson.by-${l.sense}`),
    go: text('lesson.go'),
  })),
])
</script>

<template>
  <section v-for="c in cards" :key="c.to" class="panel row" :aria-label="c.name">
    <p class="grow">
      <b>{{ c.of }}:</b> {{ c.says }}
    </p>
    <v-btn color="secondary" variant="flat" :to="c.to">{{ c.go }}</v-btn>
  </section>
</template>

<style scoped>
section {
  border-left: 7px solid var(--water-2);
  border-radius: 4px 14px 14px 4px;
}
</style>
