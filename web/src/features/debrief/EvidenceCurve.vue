<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
import type { Schema } from '@/api/client'
import { text } from '@/words/words'

/** What each minute taught: bits left to know against minutes spent, a step down for each thing learned. */
const props = defineProps<{ points: Schema['Point'][]; at: number }>()
const emit = defineEmits<{ at: [i: number] }>()

// As wide as its place, so that its letters keep their size.
const place = useTemplateRef<SVGElement>('place')
const { width } = useElementSize(place)
const W = computed(() => Math.max(320, width.value || 760))
const H = 176
const box = { left: 46, right: 16, top: 18, bottom: 38 }
const end = computed(() => Math.max(10, ...props.points.map((p) => p.minutes)))
const top = computed(() => Math.max(1, Math.ceil(Math.max(...props.points.map((p) => p.bits)))))
const x = (m: number) => box.left + (m / end.value) * (W.value - box.left - box.right)
const y = (b: number) => H - box.bottom - (b / top.value) * (H - box.top - box.bottom)
const path = computed(() =>
  props.points.map((p, i) => (i === 0 ? `M${x(p.minutes)} ${y(p.bits)}` : `H${x(p.minutes)}V${y(p.bits)}`)).join(''),
)
const bits = computed(() => Array.from({ length: top.value + 1 }, (_, i) => i))
const minutes = computed(() => {
  const step = end.value > 90 ? 30 : end.value > 40 ? 15 : end.value > 16 ? 5 : 2
  return Array.from({ length: Math.floor(end.value / step) + 1 }, (_, i) => i * step)
})
const here = computed(() => props.points[props.at])
const flip = computed(() => x(here.value?.minutes ?? 0) > W.value * 0.62)
</script>

<template>
  <svg ref="place" :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="text('debrief.curve')">
    <g v-for="b in bits" :key="b">
      <path :d="`M${box.left} ${y(b)}H${W - box.right}`" class="grid" />
      <text :x="box.left - 9" :y="y(b)" class="num end">{{ b }}</text>
    </g>
    <text v-for="m in minutes" :key="`m${m}`" :x="x(m)" :y="H - 22" class="num mid">{{ m }}</text>
    <text :x="W - box.right" :y="H - 8" class="num end">{{ text('debrief.minutes') }}</text>
    <path :d="`M${x(here?.minutes ?? 0)} ${box.top}V${H - box.bottom}`" class="cursor" />
    <path :d="path" class="line" />
    <circle
      v-for="(p, i) in points"
      :key="i"
      :cx="x(p.minutes)"
      :cy="y(p.bits)"
      :r="i === at ? 9 : 6"
      class="dot"
      :class="{ on: i === at }"
      @click="emit('at', i)"
    />
    <text v-if="here" :x="x(here.minutes) + (flip ? -12 : 12)" :y="box.top + 8" class="say" :class="{ end: flip }">
      {{ text('debrief.left', { n: here.candidates, bits: here.bits.toFixed(1) }) }}
    </text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: 176px;
}
.grid {
  stroke: var(--line-soft);
  stroke-width: 1.5;
}
.line {
  fill: none;
  stroke: var(--link);
  stroke-width: 4;
  stroke-linejoin: round;
}
.dot {
  fill: var(--link);
  stroke: var(--panel);
  stroke-width: 3;
  cursor: pointer;
}
.dot.on {
  fill: var(--condemned);
}
.cursor {
  stroke: var(--condemned);
  stroke-width: 1.5;
}
text {
  font: 500 15px var(--label);
  fill: var(--muted);
  dominant-baseline: central;
}
.say {
  font-weight: 600;
  fill: var(--condemned-ink);
}
.end {
  text-anchor: end;
}
.mid {
  text-anchor: middle;
}
</style>
