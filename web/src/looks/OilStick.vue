<script setup lang="ts">
import { computed } from 'vue'

/** The oil stick wiped, dipped and drawn: where the film ends against its two marks. */
const props = defineProps<{ scene: string; shown?: number }>()
// The level is 1 at the upper mark and 0.75 at the lower one.
const level = computed(() => (props.scene === 'thin' ? 1 : Math.min(1.6, Math.max(0.2, props.shown ?? 1))))
const x = computed(() => 300 - (level.value - 0.2) * 172)
</script>

<template>
  <rect x="30" y="70" width="280" height="34" rx="10" fill="#aeb7b4" stroke="#39423f" stroke-width="2.5" />
  <rect
    :x="x"
    y="71.5"
    :width="309 - x"
    height="31"
    rx="9"
    :fill="scene === 'thin' ? '#b8812c' : '#5d3a12'"
    :opacity="scene === 'thin' ? 0.55 : 0.92"
  />
  <path
    v-if="scene === 'thin'"
    :d="`M${x + 30} 103v26M${x + 70} 103v38M${x + 110} 103v22`"
    stroke="#b8812c"
    stroke-width="5"
    stroke-linecap="round"
    opacity="0.7"
  />
  <g v-for="m in [0.75, 1]" :key="m">
    <path :d="`M${300 - (m - 0.2) * 172} 62v50`" stroke="#20302e" stroke-width="4" />
    <text :x="300 - (m - 0.2) * 172" :y="m === 1 ? 48 : 128">{{ m === 1 ? 'upper' : 'lower' }}</text>
  </g>
  <path d="M30 87H6" stroke="#39423f" stroke-width="10" stroke-linecap="round" />
</template>
