<script setup lang="ts">
import { computed } from 'vue'
import { scatter } from './seed'

/** What the ear hears against time. */
const props = defineProps<{ scene: string }>()

const loud = (i: number): number => {
  const beat = Math.max(0, Math.sin(i * 0.42)) ** 4
  switch (props.scene) {
    case 'even':
      return 0.5 * beat
    case 'rattles':
      return 0.4 * beat + 0.45 * scatter(i) * scatter(Math.floor(i / 12), 3)
    case 'knocks':
      return 0.35 * beat + (i % 15 === 0 ? 0.95 : 0)
    case 'hisses':
      return 0.35 * beat + 0.45 * scatter(i) * Math.max(0, Math.sin(i * 0.42))
    case 'hiss':
      return 0.9 * scatter(i) * Math.exp(-Math.max(0, i - 12) / 60) * (i > 12 ? 1 : 0)
    case 'clicks':
      return i === 60 ? 1 : i > 60 && i < 66 ? 0.4 : 0
    default:
      return 0.02
  }
}
const bars = computed(() => Array.from({ length: 145 }, (_, i) => Math.max(0.015, Math.min(1, loud(i)))))
</script>

<template>
  <rect x="0" y="0" width="360" height="184" rx="10" fill="#22302e" />
  <rect v-for="(b, i) in bars" :key="i" :x="34 + i * 2" :y="92 - 66 * b" width="1.4" :height="132 * b" fill="#8fd9e0" />
  <text x="34" y="20" class="light start">what is heard</text>
  <text x="326" y="176" class="light end">time</text>
</template>
