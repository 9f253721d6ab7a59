<script setup lang="ts">
import { computed } from 'vue'

/** Cleaner sprayed in at each port of the carburettor, and where it leaves. */
const props = defineProps<{ scene: string; shown?: number }>()
const ports = computed(() => {
  const main =
    { 'main-part': Math.max(0.15, 1 - (props.shown ?? 0.5)) * 0.6, 'main-shut': 0, 'main-large': 1.7 }[props.scene] ?? 1
  return [
    { y: 46, name: 'main', flow: main },
    { y: 92, name: 'sides', flow: props.scene === 'side-holes-shut' ? 0 : main > 0 ? 0.7 : 0 },
    { y: 138, name: 'idle', flow: props.scene === 'idle-shut' ? 0 : 0.5 },
  ]
})
</script>

<template>
  <rect x="104" y="14" width="120" height="156" rx="12" fill="#aab2ad" stroke="#39423f" stroke-width="3" />
  <g v-for="p in ports" :key="p.name">
    <text x="14" :y="p.y" class="start">{{ p.name }}</text>
    <path :d="`M84 ${p.y}h20`" stroke="#57aeb4" stroke-width="7" />
    <path :d="`M104 ${p.y}H224`" stroke="#5f6a65" stroke-width="8" />
    <path
      v-if="p.flow > 0"
      :d="`M224 ${p.y}h${20 + 80 * Math.min(1, p.flow)}`"
      stroke="#57aeb4"
      :stroke-width="3 + 9 * p.flow"
      stroke-linecap="round"
    />
    <path
      v-if="p.flow > 0.3"
      :d="`M${250 + 60 * Math.min(1, p.flow)} ${p.y}l20-9m-20 9l24 0m-24 0l20 9`"
      stroke="#57aeb4"
      stroke-width="2.5"
    />
    <path v-if="p.flow === 0" :d="`M92 ${p.y - 3}l-16-12m16 18l-16 12`" stroke="#57aeb4" stroke-width="3" />
  </g>
</template>
