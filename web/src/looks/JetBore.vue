<script setup lang="ts">
import { computed } from 'vue'
import type { Seen } from './seen'

/** A jet held to the window: deposit grows from the wall, so 40 % and 80 % look different. */
const props = defineProps<{ seen: Seen }>()

const R = 46
/** The free opening: a round of the open area, eaten into at its edge. */
const path = computed(() => {
  const { open } = props.seen
  if (open <= 0) return ''
  const clear = open >= 1
  const mean = R * Math.sqrt(open)
  let d = ''
  for (let i = 0; i <= 72; i++) {
    const a = (i / 72) * 2 * Math.PI
    const rough = clear
      ? 0
      : (1 - open) * (0.22 * Math.sin(3 * a + 1) + 0.14 * Math.sin(7 * a) + 0.08 * Math.sin(13 * a + 2))
    const r = Math.min(R, mean * (1 + rough))
    const shift = clear ? 0 : (R - mean) * 0.35
    d += `${i ? 'L' : 'M'}${(180 + shift + r * Math.cos(a)).toFixed(1)} ${(92 + shift * 0.4 + r * Math.sin(a)).toFixed(1)}`
  }
  return `${d}Z`
})
/** One that was drilled has a larger round with the marks of the drill in it. */
const bored = computed(() => R + 6 + 8 * props.seen.bored)
</script>

<template>
  <rect width="360" height="184" rx="10" fill="#25312f" />
  <circle cx="180" cy="92" r="84" fill="#b98b3f" stroke="#6d5122" stroke-width="4" />
  <path d="M96 84h30v16H96zM234 84h30v16h-30z" fill="#7c5d28" />
  <circle cx="180" cy="92" r="62" fill="#8d6a30" />
  <circle cx="180" cy="92" :r="R" fill="#2f2417" />
  <g v-if="seen.bored">
    <circle cx="180" cy="92" :r="bored" fill="#fff7dc" />
    <path
      v-for="i in Math.round(2 + 4 * seen.bored)"
      :key="i"
      :d="`M${140 - i} ${56 + i * 12}q${40 + i}-24 ${80 + 2 * i} 0`"
      fill="none"
      stroke="#c7a75a"
      stroke-width="2.5"
    />
  </g>
  <path v-else-if="path" :d="path" fill="#fff7dc" />
</template>
