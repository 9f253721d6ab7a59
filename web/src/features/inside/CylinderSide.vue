<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { mix } from '@/looks/seen'
import { places, text } from '@/words/words'
import FlowDots from './FlowDots.vue'
import { down, passed, sparking, STEP, strokeOf, valueAt, type Moment } from './cycle'

/** Cylinder, valves or ports, piston, crank, flywheel, coil and plug at one moment of a cycle. */
const props = defineProps<{ film: Schema['Film']; frame: Schema['Frame']; moment?: Moment }>()
const f = computed(() => props.frame)
const m = computed(() => props.moment)
const twoStroke = computed(() => props.film.degrees === 360)
/** Where it stands that does not turn: a quarter of a turn before the top. */
const degree = computed(() => m.value?.degree ?? props.film.top - 90)

const CRANK = { x: 633, y: 366, throw: 38, rod: 150 }
const angle = computed(() => ((degree.value - props.film.top) * Math.PI) / 180)
const pinX = computed(() => CRANK.x + CRANK.throw * Math.sin(angle.value))
const pinY = computed(() => CRANK.y - CRANK.throw * Math.cos(angle.value))
/** The crown at the top and at the bottom, and as it is. */
const TOP = 146
const TRAVEL = 2 * CRANK.throw
const crownAt = (d: number) => TOP + TRAVEL * down(props.film, d)
const crown = computed(() => crownAt(degree.value))

const lift = (list?: number[]) => (list && m.value ? valueAt(list, degree.value) : 0)
const inlet = computed(() => lift(m.value?.turn.inlet))
const exhaust = computed(() => lift(m.value?.turn.exhaust))
/** The upper edge of a port: where the crown is as it begins to open. */
function edge(list: number[] | undefined): number {
  const i = list?.findIndex((x, k) => k * STEP > props.film.top && x > 0) ?? -1
  return i > 0 ? crownAt((i - 0.5) * STEP) : TOP + TRAVEL
}
const ports = computed(() => ({ exhaust: edge(m.value?.turn.exhaust), transfer: edge(m.value?.turn.transfer) }))

/** What carbon shuts of the exhaust port. */
const crust = computed(() => (TOP + TRAVEL - ports.value.exhaust) * (1 - Math.max(...(m.value?.turn.exhaust ?? [1]))))

const stroke = computed(() => m.value && strokeOf(props.film, m.value))
const pressure = computed(() =>
  m.value ? valueAt(m.value.fires ? m.value.turn.fires : m.value.turn.misses, degree.value) : 100,
)
const lit = computed(() => m.value?.fires && degree.value >= m.value.turn.spark_at && stroke.value !== 'inlet')
/** Burning is bright and fades as it expands; fresh charge is as rich as it is; what is burnt is grey. */
const gas = computed(() => {
  if (!m.value) return 'var(--panel)'
  if (lit.value && stroke.value !== 'exhaust' && stroke.value !== 'filling')
    return mix([196, 160, 130], [255, 140, 40], pressure.value / 2200)
  if (stroke.value === 'exhaust') return m.value.fires ? '#a9a39b' : fresh.value
  return fresh.value
})
const fresh = computed(() => {
  const l = f.value.lambda
  return l < 0.9
    ? mix([150, 196, 190], [84, 78, 62], (0.9 - l) / 0.4)
    : mix([150, 196, 190], [226, 238, 236], (l - 0.9) / 0.6)
})
/** Pressure as depth of colour: from a tenth of the air to fifty times it. */
const dense = computed(() => Math.min(1, Math.max(0.15, Math.log10(pressure.value / 10) / 2.6)))
const leak = computed(() => Math.min(1, f.value.leak_share * 2) * Math.min(1, pressure.value / 600))
const spark = computed(() => !!m.value && f.value.spark_kv > 1 && sparking(m.value))
/** Where the coil is on the flywheel's rim, degrees from the top; the magnet passes it as the spark comes. */
const COIL = 268
const magnet = computed(() => (m.value ? degree.value - m.value.turn.spark_at : 0) + COIL)
const hot = computed(() => mix([116, 126, 120], [226, 72, 30], (f.value.coil_c - 40) / 110))
const moved = computed(() => (m.value ? 0.5 * (m.value.cycles + passed(m.value.turn.exhaust, degree.value)) : 0))
const out = computed<[number, number][]>(() =>
  twoStroke.value
    ? [
        [690, ports.value.exhaust + 12],
        [760, ports.value.exhaust + 12],
        [838, ports.value.exhaust + 40],
      ]
    : [
        [664, 120],
        [716, 104],
        [838, 104],
      ],
)
const way = computed(() => `M${out.value.map((p) => p.join(' ')).join('L')}`)
</script>

<template>
  <!-- the way out, with what is burnt in it -->
  <path :d="way" fill="none" stroke="var(--ink)" stroke-width="34" stroke-linejoin="round" />
  <path :d="way" fill="none" stroke="#d8d2c8" stroke-width="29" stroke-linejoin="round" />
  <g v-if="m" fill="#6b655d"><FlowDots :way="out" :count="9" :moved="moved" :r="3" :spread="7" /></g>
  <!-- flywheel and coil -->
  <circle :cx="CRANK.x" :cy="CRANK.y" r="62" class="wheel" />
  <path
    :transform="`rotate(${magnet} ${CRANK.x} ${CRANK.y})`"
    :d="`M${CRANK.x - 15} ${CRANK.y - 61}a63 63 0 0 1 30 0l-4 15a48 48 0 0 0 -22 0z`"
    fill="#7a2f2a"
    stroke="var(--ink)"
  />
  <g :transform="`rotate(${COIL} ${CRANK.x} ${CRANK.y})`">
    <rect
      :x="CRANK.x - 20"
      :y="CRANK.y - 98"
      width="40"
      height="32"
      rx="5"
      :fill="hot"
      stroke="var(--ink)"
      stroke-width="2"
    />
  </g>
  <text x="516" y="412">{{ text('inside.coil-at', { celsius: Math.round(f.coil_c) }) }}</text>
  <!-- cylinder and what is in it -->
  <path d="M566 118H700V312H566Z" class="metal" />
  <rect x="580" y="132" width="106" height="180" fill="var(--panel)" />
  <rect x="580" y="132" width="106" :height="Math.max(0, crown - 132)" :fill="gas" :opacity="dense" />
  <g v-if="leak > 0.03">
    <path v-for="i in Math.ceil(leak * 5)" :key="i" :d="`M${690 + i * 5} ${crown + i * 12}q10 8 4 18`" class="pull" />
  </g>
  <template v-if="twoStroke">
    <rect x="566" :y="ports.transfer" width="14" :height="TOP + TRAVEL - ports.transfer" class="port" />
    <rect x="686" :y="ports.exhaust" width="14" :height="TOP + TRAVEL - ports.exhaust" class="port" />
    <rect x="686" :y="ports.exhaust" width="14" :height="crust" fill="#15110d" />
    <path :d="`M573 ${TOP + TRAVEL}V330`" class="passage" />
  </template>
  <path :d="`M${CRANK.x} ${crown + 34}L${pinX} ${pinY}`" class="rod" />
  <rect x="581" :y="crown" width="104" height="62" rx="5" class="crown" />
  <path :d="`M582 ${crown + 11}h102M582 ${crown + 23}h102`" class="ring" />
  <circle :cx="CRANK.x" :cy="CRANK.y" r="12" fill="var(--ink)" />
  <path :d="`M${CRANK.x} ${CRANK.y}L${pinX} ${pinY}`" class="web" />
  <circle :cx="pinX" :cy="pinY" r="8" fill="var(--panel)" stroke="var(--ink)" stroke-width="3" />
  <!-- valves overhead -->
  <template v-if="!twoStroke">
    <g
      v-for="(v, i) in [
        { x: 604, up: inlet },
        { x: 662, up: exhaust },
      ]"
      :key="i"
      :transform="`translate(0 ${3.6 * v.up})`"
    >
      <path :d="`M${v.x} 74V132`" class="stem" />
      <path :d="`M${v.x - 18} 134h36l-7-8h-22z`" fill="var(--ink)" />
    </g>
    <path d="M588 118H620M646 118H678" stroke="var(--panel)" stroke-width="3" />
  </template>
  <!-- plug -->
  <path d="M622 62h22v40h-22zM628 102h10v26h-10z" class="plug" />
  <path
    v-if="spark"
    d="M633 128l-7 6 11 3-6 9"
    class="spark"
    :style="{ strokeWidth: `${Math.min(6, 1.5 + f.spark_kv / 4)}px` }"
  />
  <text x="652" y="58" class="start">
    {{ m ? text('inside.spark', { kv: places(f.spark_kv, 1) }) : text('inside.no-spark') }}
  </text>
  <template v-if="m">
    <text x="712" y="262" class="start">λ {{ places(f.lambda, 2) }}</text>
    <text x="712" y="284" class="start">{{ text('inside.charge', { percent: Math.round(f.charge * 100) }) }}</text>
    <text x="712" y="306" class="start">{{ text('inside.leak-by', { percent: Math.round(f.leak_share * 100) }) }}</text>
    <text x="712" y="328" class="start">{{ text('inside.pressure', { kpa: Math.round(pressure) }) }}</text>
  </template>
</template>

<style scoped src="./cutaway.css"></style>

<style scoped>
.wheel {
  fill: var(--line-soft);
  stroke: var(--ink);
  stroke-width: 3;
}
.crown {
  fill: var(--gate);
  stroke: var(--ink);
  stroke-width: 2;
}
.ring {
  stroke: var(--panel);
  stroke-width: 4;
}
.rod {
  stroke: var(--gate);
  stroke-width: 14;
  stroke-linecap: round;
}
.web {
  stroke: var(--ink);
  stroke-width: 16;
  stroke-linecap: round;
}
.stem {
  stroke: var(--ink);
  stroke-width: 5;
}
.port {
  fill: #d8d2c8;
  stroke: var(--ink);
}
.passage {
  fill: none;
  stroke: #d8d2c8;
  stroke-width: 10;
}
.plug {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 2;
}
.spark {
  fill: none;
  stroke: var(--link);
}
</style>
