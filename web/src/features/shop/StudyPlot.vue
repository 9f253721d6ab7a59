<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { figure, text } from '@/words/words'

/** Every reading of a study: an engine a column, a person a place in it, so that who reads high is seen. */
const props = defineProps<{ study: Schema['Study'] }>()
const W = 900
const H = 300
const LEFT = 56
const TOP = 12
const BOTTOM = 44
const r = computed(() => props.study.result)
const values = computed(() => props.study.readings.map((x) => x.value))
const least = computed(() => Math.min(...values.value))
const most = computed(() => Math.max(...values.value, least.value + 1e-9))
const y = (v: number) => TOP + (H - TOP - BOTTOM) * (1 - (v - least.value) / (most.value - least.value))
const column = computed(() => (W - LEFT) / r.value.engines.length)
const x = (engine: string, person: string) =>
  LEFT +
  column.value * (r.value.engines.indexOf(engine) + (r.value.people.indexOf(person) + 1) / (r.value.people.length + 1))
/** A sign for each person, beside the place, so that nobody is told apart by colour. */
const SIGNS = ['○', '□', '△', '◇', '✕', '＋', '●', '■']
const sign = (person: string) => SIGNS[r.value.people.indexOf(person) % SIGNS.length]
const ticks = computed(() => [least.value, (least.value + most.value) / 2, most.value])
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="text('study.plot')">
      <g v-for="t in ticks" :key="t">
        <line :x1="LEFT" :x2="W" :y1="y(t)" :y2="y(t)" class="grid" />
        <text :x="LEFT - 8" :y="y(t) + 4" text-anchor="end">{{ figure(t) }}</text>
      </g>
      <g v-for="(e, i) in r.engines" :key="e">
        <line v-if="i" :x1="LEFT + column * i" :x2="LEFT + column * i" :y1="TOP" :y2="H - BOTTOM" class="grid" />
        <text :x="LEFT + column * (i + 0.5)" :y="H - BOTTOM + 20" text-anchor="middle">{{ e }}</text>
      </g>
      <text
        v-for="(d, i) in study.readings"
        :key="i"
        class="dot"
        :x="x(d.engine, d.person)"
        :y="y(d.value) + 5"
        text-anchor="middle"
      >
        {{ sign(d.person) }}
      </text>
    </svg>
    <figcaption>
      <span v-for="p in r.people" :key="p">{{ sign(p) }} {{ p }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  width: 100%;
}
text {
  font: 500 13px/1 var(--text);
  fill: var(--ink);
}
.dot {
  font-size: 15px;
  fill: var(--water-2);
}
.grid {
  stroke: var(--line-soft);
}
figcaption {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
}
</style>
