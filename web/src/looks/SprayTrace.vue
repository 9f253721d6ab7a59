<script setup lang="ts">
import { computed } from 'vue'
import type { Seen } from './seen'
import { text } from '@/words/words'

/** Cleaner sprayed in at each port of the carburettor, and where it leaves. */
const props = defineProps<{ seen: Seen }>()
/** How much of a full jet leaves at each: the main's is the thickest. */
const ports = computed(() => [
  { y: 46, id: 'main', flow: props.seen.main },
  { y: 92, id: 'sides', flow: 0.7 * props.seen.sides },
  { y: 138, id: 'idle', flow: 0.5 * props.seen.idle },
])
</script>

<template>
  <rect x="104" y="14" width="120" height="156" rx="12" fill="#aab2ad" stroke="#39423f" stroke-width="3" />
  <g v-for="p in ports" :key="p.id">
    <text x="14" :y="p.y" class="start">{{ text(`look.port-${p.id}`) }}</text>
    <path :d="`M84 ${p.y}h20`" stroke="#57aeb4" stroke-width="7" />
    <path :d="`M104 ${p.y}H224`" stroke="#5f6a65" stroke-width="8" />
    <path
      v-if="p.flow > 0"
      :d="`M224 ${p.y}h${14 + 76 * Math.min(1, p.flow)}`"
      stroke="#57aeb4"
      :stroke-width="2 + 8 * p.flow"
      stroke-linecap="round"
    />
    <path
      v-if="p.flow > 0.3"
      :d="`M${246 + 60 * Math.min(1, p.flow)} ${p.y}l20-9m-20 9l24 0m-24 0l20 9`"
      stroke="#57aeb4"
      stroke-width="2.5"
    />
    <path v-if="p.flow === 0" :d="`M92 ${p.y - 3}l-16-12m16 18l-16 12`" stroke="#57aeb4" stroke-width="3" />
  </g>
</template>
