<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { mix } from '@/looks/seen'
import { places, text } from '@/words/words'
import FlowDots from './FlowDots.vue'
import { passed, type Moment } from './cycle'

/** The bore with choke, throat and throttle, and the way from it to the cylinder: how deep the vacuum is, and what goes through. */
const props = defineProps<{ frame: Schema['Frame']; moment?: Moment; way: [number, number][]; below: boolean }>()
const f = computed(() => props.frame)
const running = computed(() => f.value.rpm > 0)
/** The deeper the vacuum the darker: none is as pale as the air, 60 kPa below it as dark as it gets. */
const shade = computed(() => mix([234, 244, 244], [24, 62, 92], running.value ? f.value.manifold_kpa / 60 : 0))
const before = computed(() => mix([234, 244, 244], [24, 62, 92], running.value ? 0.6 * f.value.choke ** 2 : 0))
const line = computed(() => `M${props.way.map((p) => p.join(' ')).join('L')}`)
/** Air and fuel move while the inlet stands open: of what is right one drop to each of air. */
const moved = computed(() =>
  props.moment ? 0.5 * (props.moment.cycles + passed(props.moment.turn.inlet, props.moment.degree)) : 0,
)
const air = computed(() => Math.round(4 + 8 * Math.min(1, f.value.charge)))
const drops = computed(() => Math.min(30, Math.round(air.value / Math.max(f.value.lambda, 0.2))))
const bore = computed<[number, number][]>(() => [[250, 190], [470, 190], ...props.way.slice(1)])
const jet = computed<[number, number][]>(() => [[360, 204], [400, 194], [470, 190], ...props.way.slice(1)])
</script>

<template>
  <path :d="line" fill="none" stroke="var(--ink)" stroke-width="38" stroke-linejoin="round" />
  <path :d="line" fill="none" :stroke="shade" stroke-width="33" stroke-linejoin="round" />
  <path d="M250 150H470V230H250Z" class="metal" />
  <path d="M250 160H330Q345 169 360 172V208Q345 211 330 220H250Z" :fill="before" />
  <path d="M360 172Q375 169 390 160H436V220H390Q375 211 360 208Z" :fill="before" />
  <path d="M436 160H472V220H436Z" :fill="shade" />
  <ellipse cx="282" cy="190" :rx="3 + 27 * f.choke" ry="29" class="plate" />
  <ellipse cx="436" cy="190" :rx="3 + 27 * (1 - Math.min(1, f.throttle))" ry="29" class="plate" />
  <path d="M360 250V204" class="pipe thin" />
  <template v-if="running && moment">
    <path
      v-if="f.use_ml_min > 0"
      d="M360 250V204"
      class="jet"
      :style="{ strokeWidth: `${1.5 + 5 * Math.min(1, f.use_ml_min / 30)}px` }"
    />
    <g fill="#fff" stroke="#7d9aa0" stroke-width="0.8"
      ><FlowDots :way="bore" :count="air" :moved="moved" :r="2.6" :spread="8"
    /></g>
    <g fill="#d9a441" stroke="#6d5122" stroke-width="0.6">
      <FlowDots :way="jet" :count="drops" :moved="moved" :r="2.8" :spread="8" />
    </g>
  </template>
  <path v-if="f.false_air > 0.01" d="M486 140v26m-5-7l5 7l5-7M506 140v26m-5-7l5 7l5-7" class="pull" />
  <text v-if="f.false_air > 0.01" x="496" y="132">{{ text('inside.false-air') }}</text>
  <text x="282" y="140">{{ text('inside.choke') }}</text>
  <text x="420" y="140">{{ text('inside.throttle') }}</text>
  <text :x="below ? 380 : 374" :y="below ? 290 : 256" class="start">
    {{ text('inside.drawn', { ml: places(f.use_ml_min, 1) }) }}
  </text>
  <text :x="below ? 380 : 374" :y="below ? 312 : 278" class="start">
    {{ running ? text('inside.below-air', { kpa: places(f.manifold_kpa, 0) }) : text('inside.still') }}
  </text>
</template>

<style scoped src="./cutaway.css"></style>

<style scoped>
.plate {
  fill: #b98b3f;
  stroke: #5b4317;
  stroke-width: 1.5;
}
.pipe.thin {
  stroke-width: 9;
}
.jet {
  fill: none;
  stroke: #d9a441;
}
</style>
