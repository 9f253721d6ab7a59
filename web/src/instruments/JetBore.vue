<script setup lang="ts">
import { computed } from 'vue'

/** A jet held to the window: deposit grows from the wall, so 40 % and 80 % look different. */
const props = defineProps<{ open: number; oversize?: boolean; text: string }>()

const R = 46
/** The free opening: a round of the open area, eaten into at its edge. */
const path = computed(() => {
  if (props.open <= 0) return ''
  const clear = props.open >= 1
  const mean = R * Math.sqrt(props.open)
  let d = ''
  for (let i = 0; i <= 72; i++) {
    const a = (i / 72) * 2 * Math.PI
    const rough = clear
      ? 0
      : (1 - props.open) * (0.22 * Math.sin(3 * a + 1) + 0.14 * Math.sin(7 * a) + 0.08 * Math.sin(13 * a + 2))
    const r = Math.min(R, mean * (1 + rough))
    const shift = clear ? 0 : (R - mean) * 0.35
    d += `${i ? 'L' : 'M'}${(180 + shift + r * Math.cos(a)).toFixed(1)} ${(92 + shift * 0.4 + r * Math.sin(a)).toFixed(1)}`
  }
  return `${d}Z`
})
</script>

<template>
  <figure class="drawn">
    <svg viewBox="0 0 360 184" role="img" :aria-label="text">
      <rect width="360" height="184" rx="10" fill="#25312f" />
      <circle cx="180" cy="92" r="84" fill="#b98b3f" stroke="#6d5122" stroke-width="4" />
      <path d="M96 84h46v16H96zM218 84h46v16h-46z" fill="#7c5d28" />
      <circle cx="180" cy="92" r="54" fill="#8d6a30" />
      <circle cx="180" cy="92" :r="R" fill="#2f2417" />
      <path v-if="path && !oversize" :d="path" fill="#fff7dc" />
      <g v-if="oversize">
        <circle cx="180" cy="92" r="56" fill="#fff7dc" />
        <path d="M140 60q40-26 80 0M134 84q46-26 92 0M136 110q44-24 88 0" class="spiral" />
      </g>
    </svg>
    <figcaption>{{ text }}</figcaption>
  </figure>
</template>

<style scoped>
svg {
  max-height: 180px;
}
.spiral {
  fill: none;
  stroke: #c7a75a;
  stroke-width: 2.5;
}
figcaption {
  margin-top: 6px;
}
</style>
