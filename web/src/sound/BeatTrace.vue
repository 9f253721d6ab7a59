<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'

/** How loud a run was against time, for those who do not hear it. */
const props = defineProps<{ score: Schema['Heard']; says: string }>()
const WIDE = 360
const BARS = 180
/** Of each slice of time the loudest beat; a puff hardly shows. */
const bars = computed(() => {
  const out = new Array<number>(BARS).fill(0)
  for (const b of props.score.beats) {
    const i = Math.min(BARS - 1, Math.floor((b.at / props.score.seconds) * BARS))
    out[i] = Math.max(out[i], b.kind === 'puff' ? 0.25 * b.loud : b.loud)
  }
  return out
})
</script>

<template>
  <svg :viewBox="`0 0 ${WIDE} 64`" role="img" :aria-label="says">
    <rect :width="WIDE" height="64" rx="8" fill="#22302e" />
    <rect
      v-for="(b, i) in bars"
      :key="i"
      :x="(WIDE / BARS) * i"
      :y="32 - 28 * b"
      width="1.4"
      :height="Math.max(0.6, 56 * b)"
      fill="#8fd9e0"
    />
  </svg>
</template>
