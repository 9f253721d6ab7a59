<script setup lang="ts">
import '@/words/talk'
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import { moment, text } from '@/words/words'

/** Hints and questions of the bench: whoever marks should know what somebody was told. */
const { attempt } = defineProps<{ attempt: string }>()
const talk = useQuery({
  queryKey: ['talk', attempt],
  queryFn: () => ask(api.GET('/api/attempts/{attempt}/hints', { params: { path: { attempt } } })),
})
</script>

<template>
  <section v-if="talk.data.value?.hints.length" class="panel" :aria-label="text('talk.said')">
    <h2>{{ text('talk.said') }}</h2>
    <ul>
      <li v-for="h in talk.data.value.hints" :key="h.id">
        <span class="muted">{{ moment(h.at) }} · {{ text('talk.after', { n: h.seq }) }}</span>
        <b>{{ h.by }}:</b> {{ h.words }}
      </li>
    </ul>
  </section>
</template>
