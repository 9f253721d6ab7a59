<script setup lang="ts">
import { computed } from 'vue'
import { mix, type Seen } from './seen'

/** A gasket against the face it sealed: its print, and where its holes lie. */
const props = defineProps<{ seen: Seen }>()
/** One that has swollen has grown out past its edge, round and soft. */
const out = computed(() => 11 * props.seen.swollen)
const paper = computed(() => mix([111, 91, 58], [128, 134, 84], props.seen.swollen))
const gap = computed(() => 4 + 26 * props.seen.tear)
</script>

<template>
  <rect x="70" y="16" width="220" height="152" rx="18" fill="#9aa39d" stroke="#39423f" stroke-width="3" />
  <rect :x="84 - out" :y="28 - out" :width="192 + 2 * out" :height="128 + 2 * out" :rx="14 + 1.5 * out" :fill="paper" />
  <rect :x="112 + out" :y="54 + out" :width="136 - 2 * out" :height="76 - 2 * out" rx="30" fill="#39423f" />
  <circle v-for="(c, i) in [98, 262]" :key="i" :cx="c" cy="44" :r="7 - 0.3 * out" fill="#dfe3e0" />
  <circle v-for="(c, i) in [98, 262]" :key="`l${i}`" :cx="c" cy="140" :r="7 - 0.3 * out" fill="#dfe3e0" />
  <!-- the pulse passage and the hole that belongs over it -->
  <circle cx="262" cy="92" r="8" fill="#20302e" />
  <circle v-if="!seen.turned" cx="262" cy="92" r="10" fill="none" stroke="#e9dfc6" stroke-width="3" />
  <circle v-else cx="98" cy="92" r="10" fill="#9aa39d" stroke="#e9dfc6" stroke-width="3" />
  <g v-if="seen.tear">
    <path :d="`M172 22l6 34h${gap}l-2-34z`" fill="#9aa39d" />
    <path :d="`M176 24l${gap} 30M${176 + gap / 2} 22l${gap / 2} 26`" stroke="#2d241a" stroke-width="3" opacity="0.7" />
  </g>
</template>
