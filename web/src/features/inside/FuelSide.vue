<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { places, text } from '@/words/words'
import FlowDots from './FlowDots.vue'

/** Tank, line, pump and bowl or chamber at one moment. */
const props = defineProps<{ family: string; frame: Schema['Frame']; second: number }>()
const f = computed(() => props.frame)
const twoStroke = computed(() => props.family === 't2-diaphragm')
const below = computed(() => props.family === 'f4-suction') // the carburettor sits on its tank
const running = computed(() => f.value.rpm > 0)
const tank = computed(() =>
  below.value ? { x: 170, y: 362, w: 290, h: 66, cap: 420 } : { x: 40, y: 40, w: 190, h: 120, cap: 135 },
)
const fuelTop = computed(() => tank.value.y + tank.value.h * (1 - f.value.fuel_share))
const way = computed<[number, number][]>(() =>
  below.value
    ? [
        [200, 380],
        [200, 270],
        [262, 270],
      ]
    : twoStroke.value
      ? [
          [135, 160],
          [135, 270],
          [262, 270],
        ]
      : [
          [135, 160],
          [135, 234],
          [292, 234],
          [292, 252],
        ],
)
const line = computed(() => `M${way.value.map((p) => p.join(' ')).join('L')}`)
const bowlTop = computed(() => 260 + 56 * (1 - f.value.bowl_share))
const sag = computed(() => Math.min(26, f.value.pump_kpa * 2.2))
/** The pump's skin beats with the crankcase, once a turn. */
const beat = computed(() => (running.value ? Math.sin(2 * Math.PI * ((f.value.rpm / 60) * props.second)) : 0))
</script>

<template>
  <g>
    <rect :x="tank.x" :y="tank.y" :width="tank.w" :height="tank.h" rx="14" class="metal" />
    <rect
      :x="tank.x + 7"
      :y="fuelTop"
      :width="tank.w - 14"
      :height="Math.max(0, tank.y + tank.h - 7 - fuelTop)"
      rx="6"
      class="fuel"
    />
    <rect :x="tank.cap - 24" :y="tank.y - 14" width="48" height="18" rx="5" class="metal" />
    <path
      v-for="i in f.tank_vacuum_kpa > 0.05 ? Math.min(6, Math.ceil(f.tank_vacuum_kpa * 2)) : 0"
      :key="i"
      :d="`M${tank.x + 20 + i * 24} ${tank.y + 12}v16m-5-6l5 6l5-6`"
      class="pull"
    />
    <text :x="tank.x + tank.w / 2" :y="below ? tank.y + tank.h / 2 + 6 : tank.y - 22">
      {{
        f.tank_vacuum_kpa > 0.05
          ? text('inside.tank-below', { kpa: places(f.tank_vacuum_kpa, 2) })
          : text('inside.tank-level')
      }}
    </text>
  </g>
  <path :d="line" class="pipe" />
  <g v-if="f.flow_ml_min > 0.2 && running" class="drops">
    <path :d="line" class="stream" :style="{ strokeWidth: `${2 + 4 * Math.min(1, f.flow_ml_min / 40)}px` }" />
    <FlowDots
      :way="way"
      :count="Math.round(4 + 10 * Math.min(1, f.use_ml_min / 30))"
      :moved="(second * 4 * f.use_ml_min) % 1"
      :r="3"
      :spread="2"
    />
  </g>
  <g v-if="twoStroke || below">
    <circle cx="200" cy="270" r="30" class="metal" />
    <path :d="`M172 270q28 ${sag * (0.4 + 0.6 * beat)} 56 0`" class="skin" />
    <text :x="below ? 122 : 200" :y="below ? 275 : 316">
      {{ text('inside.pump', { kpa: places(f.pump_kpa, 1) }) }}
    </text>
  </g>
  <rect x="262" y="250" width="96" height="76" rx="10" class="metal" />
  <rect x="269" :y="bowlTop" width="82" :height="Math.max(0, 319 - bowlTop)" rx="4" class="fuel" />
  <circle v-if="!twoStroke && !below" cx="310" :cy="Math.min(312, bowlTop + 5)" r="11" class="float" />
  <path v-if="twoStroke" d="M266 256q44 14 88 0" class="skin" />
  <text x="310" y="346">
    {{ text(twoStroke || below ? 'inside.chamber-at' : 'inside.bowl-at', { percent: Math.round(f.bowl_share * 100) }) }}
  </text>
</template>

<style scoped src="./cutaway.css"></style>

<style scoped>
.float {
  fill: #b98b3f;
  stroke: var(--ink);
  stroke-width: 2;
}
.stream {
  fill: none;
  stroke: #d9a441;
}
.drops {
  fill: #fff3d6;
}
.skin {
  fill: none;
  stroke: var(--condemned);
  stroke-width: 4;
}
</style>
