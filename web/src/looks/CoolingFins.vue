<script setup lang="ts">
import { scatter, upTo } from './seed'
import type { Seen } from './seen'

/** The cylinder's fins from the side, with what lies between them: chaff, and oil that binds it. */
const props = defineProps<{ seen: Seen }>()
/** How high it lies between two fins: more on one side, where the air comes in. */
const high = (i: number) => 122 * Math.min(1, props.seen.packed * (0.55 + 0.55 * scatter(i) + 0.35 * (1 - i / 14)))
</script>

<template>
  <rect x="36" y="24" width="288" height="136" rx="8" fill="#20262a" />
  <g v-for="i in upTo(14)" :key="i">
    <rect class="chaff" :x="50 + i * 19" :y="160 - high(i)" width="12" :height="high(i)" fill="#8a7343" />
    <path
      v-for="k in upTo(Math.floor(high(i) / 14))"
      :key="k"
      :d="`M${51 + i * 19} ${154 - k * 14}l10-${4 + 5 * scatter(i, k)}`"
      stroke="#cdb26a"
      stroke-width="2"
    />
  </g>
  <rect v-for="i in upTo(15)" :key="`f${i}`" :x="43 + i * 19" y="30" width="7" height="130" rx="2" fill="#b6bfc2" />
</template>
