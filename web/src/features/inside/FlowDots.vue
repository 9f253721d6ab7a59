<script setup lang="ts">
import { computed } from 'vue'

/** Things that move along a way, evenly spread: air, fuel, burnt gas. */
const props = defineProps<{
  /** Points of the way, from where it begins. */
  way: [number, number][]
  count: number
  /** How far they have come, in shares of the way; it begins anew after 1. */
  moved: number
  r: number
  /** How far they lie beside the middle of the way. */
  spread: number
}>()
const legs = computed(() =>
  props.way
    .slice(1)
    .map((to, i) => ({ from: props.way[i], to, long: Math.hypot(to[0] - props.way[i][0], to[1] - props.way[i][1]) })),
)
const long = computed(() => legs.value.reduce((sum, l) => sum + l.long, 0))
const dots = computed(() =>
  Array.from({ length: props.count }, (_, i) => {
    let left = ((i / props.count + props.moved) % 1) * long.value
    for (const l of legs.value) {
      if (left <= l.long) {
        const s = left / l.long
        // Beside the middle of the way, each on its own line.
        const off = props.spread * Math.sin(i * 2.4)
        const [ux, uy] = [(l.to[0] - l.from[0]) / l.long, (l.to[1] - l.from[1]) / l.long]
        return { x: l.from[0] + ux * l.long * s - uy * off, y: l.from[1] + uy * l.long * s + ux * off }
      }
      left -= l.long
    }
    const [x, y] = props.way.at(-1)!
    return { x, y }
  }),
)
</script>

<template>
  <circle v-for="(d, i) in dots" :key="i" :cx="d.x.toFixed(1)" :cy="d.y.toFixed(1)" :r="r" />
</template>
