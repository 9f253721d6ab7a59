<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, ref, useTemplateRef } from 'vue'
import type { Schema } from '@/api/client'
import { figure, text } from '@/words/words'

/**
 * A reading's own scale with the sheet's band, and over it two humps: what sound machines
 * read, and what those read that come to this step. Edges of bands are dragged or moved
 * by the arrows.
 */
const props = defineProps<{ seen: Schema['Seen']; edges: number[] }>()
const emit = defineEmits<{ edge: [from: number, to: number] }>()

const W = 344
const TOP = 16
const BASE = 104
const svg = useTemplateRef<SVGSVGElement>('svg')
const least = computed(() => props.seen.least ?? 0)
const most = computed(() => props.seen.most ?? 1)
const x = (v: number) =>
  8 + ((Math.min(Math.max(v, least.value), most.value) - least.value) / (most.value - least.value)) * (W - 16)
const highest = computed(() => Math.max(...(props.seen.sound ?? []), ...(props.seen.come ?? []), 1e-9))
// A hump far higher than the other would press it flat: heights go by the root.
const tall = (share: number) => Math.sqrt(share / highest.value) * (BASE - TOP)
function hump(shares: number[] = []) {
  const step = (W - 16) / Math.max(shares.length, 1)
  const points = shares.map((s, i) => `${(8 + (i + 0.5) * step).toFixed(1)} ${(BASE - tall(s)).toFixed(1)}`)
  return `M8 ${BASE}L${points.join('L')}L${W - 8} ${BASE}Z`
}
/** A number every so many small marks, so that about six stand on the scale. */
const numbered = computed(() => {
  const span = most.value - least.value
  const rough = span / 6
  const ten = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 5, 10].map((m) => m * ten).find((m) => m >= rough)!
  const out = []
  for (let v = Math.ceil(least.value / step) * step; v <= most.value + 1e-9; v += step)
    out.push(Math.round(v * 1e6) / 1e6)
  return out
})
const fine = computed(() => props.seen.division || (most.value - least.value) / 100)
const snapped = (v: number) => Math.round(Math.round(v / fine.value) * fine.value * 1e6) / 1e6
const dragged = ref<number>()
function drag(e: PointerEvent) {
  if (dragged.value === undefined || !svg.value) return
  const box = svg.value.getBoundingClientRect()
  const at = ((e.clientX - box.left) / box.width) * W
  const v = snapped(least.value + ((at - 8) / (W - 16)) * (most.value - least.value))
  const to = Math.min(Math.max(v, least.value), most.value)
  if (to !== dragged.value && !props.edges.includes(to)) {
    emit('edge', dragged.value, to)
    dragged.value = to
  }
}
useEventListener(window, 'pointermove', drag)
useEventListener(window, ['pointerup', 'pointercancel'], () => (dragged.value = undefined))
function key(e: KeyboardEvent, v: number) {
  const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageUp: 10, PageDown: -10 }[e.key]
  if (!by) return
  e.preventDefault()
  const to = snapped(v + by * fine.value)
  if (to >= least.value && to <= most.value && !props.edges.includes(to)) emit('edge', v, to)
}
</script>

<template>
  <svg ref="svg" class="scale" :viewBox="`0 0 ${W} 140`" role="group" :aria-label="text('desk.scale')">
    <path class="sound" :d="hump(seen.sound)" />
    <path class="come" :d="hump(seen.come)" />
    <rect
      v-if="seen.low !== undefined && seen.high !== undefined"
      class="sheet"
      :x="x(seen.low)"
      :y="BASE"
      :width="Math.max(x(seen.high) - x(seen.low), 2)"
      height="8"
    />
    <path class="line" :d="`M8 ${BASE}H${W - 8}`" />
    <g v-for="v in numbered" :key="v">
      <path class="line" :d="`M${x(v)} ${BASE}v7`" />
      <text :x="x(v)" :y="BASE + 21" text-anchor="middle">{{ figure(v) }}</text>
    </g>
    <text class="unit" :x="W - 8" :y="BASE + 35" text-anchor="end">{{ seen.unit }}</text>
    <text v-if="seen.low !== undefined && seen.high !== undefined" class="unit" x="8" :y="BASE + 35">
      {{ text('desk.sheet', { low: figure(seen.low), high: figure(seen.high) }) }}
    </text>
    <g
      v-for="(v, i) in edges"
      :key="i"
      class="edge"
      role="slider"
      tabindex="0"
      :aria-label="text('desk.edge')"
      :aria-valuemin="least"
      :aria-valuemax="most"
      :aria-valuenow="v"
      :aria-valuetext="`${figure(v)} ${seen.unit ?? ''}`"
      @keydown="key($event, v)"
      @pointerdown.prevent="dragged = v"
    >
      <rect :x="x(v) - 14" y="0" width="28" :height="BASE + 10" class="grab" />
      <path :d="`M${x(v)} ${BASE + 6}V12`" />
      <circle :cx="x(v)" cy="9" r="7" />
    </g>
  </svg>
</template>

<style scoped>
.scale {
  width: 100%;
  height: 144px;
  display: block;
  touch-action: none;
}
.sound {
  fill: var(--dry);
  stroke: var(--gate);
  stroke-width: 1;
}
.come {
  fill: var(--water-2);
  fill-opacity: 0.55;
  stroke: var(--water-2);
  stroke-width: 1.5;
}
.sheet {
  fill: var(--good-bg);
  stroke: var(--good);
}
.line {
  stroke: var(--ink);
  stroke-width: 1.5;
}
text {
  font: 500 13.5px/1 var(--label);
  fill: var(--ink);
}
.unit {
  fill: var(--muted);
}
.edge {
  cursor: ew-resize;
}
.edge path {
  stroke: var(--ink);
  stroke-width: 2.5;
}
.edge circle {
  fill: var(--ink);
}
.grab {
  fill: transparent;
}
</style>
