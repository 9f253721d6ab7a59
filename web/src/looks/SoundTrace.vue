<script setup lang="ts">
import { computed } from 'vue'
import { scatter } from './seed'
import { text } from '@/words/words'

/** What the ear hears against time. */
const props = withDefaults(defineProps<{ scene: string; loudness?: number }>(), { loudness: 1 })

const loud = (i: number): number => {
  const beat = Math.max(0, Math.sin(i * 0.42)) ** 4
  switch (props.scene) {
    case 'even':
      return 0.5 * beat
    case 'surging':
      return (0.25 + 0.35 * Math.sin(i * 0.07) ** 2) * beat
    case 'stumbling':
      return (scatter(Math.floor(i / 15), 9) > 0.4 ? 0.6 : 0.1) * beat
    case 'lumpy':
      return (Math.floor(i / 15) % 3 === 2 ? 0.12 : 0.65) * beat
    case 'labouring':
      return 0.7 * Math.max(0, Math.sin(i * (0.42 - i * 0.0011))) ** 4
    case 'howl':
      return 0.9 * Math.max(0, Math.sin(i * 1.1)) ** 2
    case 'shudder':
      return (0.35 + 0.5 * Math.abs(Math.sin(i * 0.11))) * beat
    case 'pops':
      return 0.4 * beat + (scatter(i, 7) > 0.96 ? 0.6 : 0)
    case 'cough':
      return i < 60 ? 0.6 * beat * (1 - i / 70) : 0.02
    case 'spit':
      return i > 20 && i < 30 ? 0.9 * scatter(i) : i > 60 && i < 68 ? 0.7 * scatter(i) : 0.05 * beat
    case 'bang':
      return i > 30 ? Math.exp(-(i - 30) / 8) : 0.15 * beat
    case 'knock':
      return 0.35 * beat + (i % 15 === 0 ? 0.95 : 0)
    case 'hiss':
      return 0.9 * scatter(i) * Math.exp(-Math.max(0, i - 12) / 60) * (i > 12 ? 1 : 0)
    case 'clicks':
      return i === 60 ? 1 : i > 60 && i < 66 ? 0.4 : 0
    default:
      return 0.02
  }
}
const bars = computed(() =>
  Array.from({ length: 145 }, (_, i) => Math.max(0.015, Math.min(1, props.loudness * loud(i)))),
)
</script>

<template>
  <rect x="0" y="0" width="360" height="184" rx="10" fill="#22302e" />
  <rect v-for="(b, i) in bars" :key="i" :x="34 + i * 2" :y="92 - 66 * b" width="1.4" :height="132 * b" fill="#8fd9e0" />
  <text x="34" y="20" class="light start">{{ text('face.heard') }}</text>
  <text x="326" y="176" class="light end">{{ text('face.time') }}</text>
</template>

<style scoped>
text {
  font: 600 14px var(--label);
  fill: #dfe9e4;
}
.end {
  text-anchor: end;
}
</style>
