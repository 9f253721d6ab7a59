<script setup lang="ts">
import { scatter, upTo } from './seed'

/** The cylinder's fins from the side, with what lies between them. */
defineProps<{ scene: string; shown?: number }>()
</script>

<template>
  <rect x="36" y="24" width="288" height="136" rx="8" fill="#20262a" />
  <g v-for="i in upTo(14)" :key="i">
    <rect
      :x="50 + i * 19"
      :y="160 - 118 * Math.min(1, (shown ?? 0) * (0.7 + 0.6 * scatter(i)))"
      width="12"
      :height="118 * Math.min(1, (shown ?? 0) * (0.7 + 0.6 * scatter(i)))"
      fill="#8a7343"
    />
    <path
      v-if="(shown ?? 0) > 0.1"
      :d="`M${50 + i * 19} 150l12-8m-12-6l10-9m-8-8l10-7`"
      stroke="#cdb26a"
      stroke-width="2"
    />
  </g>
  <rect v-for="i in upTo(15)" :key="`f${i}`" :x="43 + i * 19" y="30" width="7" height="130" rx="2" fill="#b6bfc2" />
</template>
