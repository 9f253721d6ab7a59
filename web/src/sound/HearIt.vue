<script setup lang="ts">
import '@/words/hear'
import { useQuery } from '@tanstack/vue-query'
import { watch } from 'vue'
import { api, ask, type Refusal } from '@/api/client'
import { sentence, text } from '@/words/words'
import { useSound } from './useSound'

/** A run, to be heard: off until it is asked for. The words beside it say the same. */
const props = defineProps<{ attempt: string; seq: number }>()
const { loud, setLoud, byItself, playing, mute, play, stop } = useSound()
const score = useQuery({
  queryKey: ['heard', () => props.attempt, () => props.seq],
  queryFn: () =>
    ask(
      api.GET('/api/attempts/{attempt}/heard/{seq}', { params: { path: { attempt: props.attempt, seq: props.seq } } }),
    ),
  enabled: false,
  staleTime: Infinity,
})
async function hear() {
  if (playing.value) return stop()
  const { data } = score.data.value ? { data: score.data.value } : await score.refetch()
  if (data) await play(data)
}
watch(
  () => props.seq,
  () => {
    stop()
    if (byItself.value) void hear()
  },
  { immediate: true },
)
</script>

<template>
  <div class="hear" role="group" :aria-label="text('hear.name')">
    <v-btn :loading="score.isFetching.value" @click="hear">{{ text(playing ? 'hear.stop' : 'hear.hear') }}</v-btn>
    <v-slider
      class="loud"
      hide-details
      :min="0"
      :max="1"
      :step="0.05"
      :model-value="loud"
      :aria-label="text('hear.loud')"
      @update:model-value="setLoud"
    />
    <v-checkbox v-model="byItself" hide-details density="compact" :label="text('hear.by-itself')" />
    <p v-if="mute" class="small" role="status">{{ text(`hear.${mute}`) }}</p>
    <p v-else-if="score.isError.value" class="small" role="alert">{{ sentence(score.error.value as Refusal) }}</p>
  </div>
</template>

<style scoped>
.hear {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 12px;
}
.loud {
  flex: 1 1 90px;
  min-width: 90px;
}
p {
  flex-basis: 100%;
}
</style>
