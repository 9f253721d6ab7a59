<script setup lang="ts">
import { computed } from 'vue'
import { upTo } from './seed'
import type { Seen } from './seen'

/** The head off: the gasket's ring on the deck, and the two valves. */
const props = defineProps<{ seen: Seen }>()
const valves = computed(() => [
  { x: 262, y: 56, up: 0, hurt: false },
  { x: 262, y: 128, up: 4 + 12 * props.seen.lifted, hurt: true },
])
</script>

<template>
  <rect x="30" y="12" width="300" height="160" rx="16" fill="#9aa39d" stroke="#39423f" stroke-width="3" />
  <circle cx="132" cy="92" r="66" fill="#2c3331" stroke="#5f4c2c" stroke-width="14" />
  <circle cx="132" cy="92" r="54" fill="#7b847f" />
  <g v-if="seen.track" fill="#17120c">
    <path
      :d="`M188 70l${14 + 22 * seen.track}-${10 + 8 * seen.track} ${6 + 9 * seen.track} ${14 + 9 * seen.track}-${20 + 20 * seen.track} 6z`"
    />
    <path
      v-for="i in upTo(Math.round(6 * seen.track))"
      :key="i"
      :d="`M${206 + 5 * i} ${56 + 4 * i}l16-9`"
      stroke="#17120c"
      stroke-width="2"
      opacity="0.5"
    />
  </g>
  <g v-for="(v, i) in valves" :key="i">
    <circle :cx="v.x" :cy="v.y" r="28" fill="#4a524e" />
    <circle :cx="v.x" :cy="seen.lifted ? v.y - v.up : v.y" r="24" fill="#c3cbc6" stroke="#39423f" stroke-width="2" />
    <path
      v-if="v.hurt && seen.lifted"
      :d="`M${v.x - 26} ${v.y + 6}q26 22 52 0`"
      fill="none"
      stroke="#0f0c08"
      :stroke-width="3 + 6 * seen.lifted"
    />
    <template v-if="v.hurt && seen.burnt">
      <path
        :d="`M${v.x - 25} ${v.y - 3}l${8 + 12 * seen.burnt}-3-3 ${6 + 5 * seen.burnt} 7 5-${10 + 12 * seen.burnt} 5z`"
        fill="#0f0c08"
      />
      <path
        :d="`M${v.x - 14 + 8 * seen.burnt} ${v.y - 7}q9 8 4 16`"
        fill="none"
        stroke="#efe7d2"
        :stroke-width="2 + 5 * seen.burnt"
      />
    </template>
  </g>
</template>
