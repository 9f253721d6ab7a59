<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { places, text } from '@/words/words'

/** A cutaway of a family's engine at one moment: tank, line, carburettor, cylinder and spark, all from the model. */
const props = defineProps<{ family: string; frame: Schema['Frame'] }>()

const f = computed(() => props.frame)
const twoStroke = computed(() => props.family === 't2-diaphragm')
const below = computed(() => props.family === 'f4-suction') // the carburettor sits on its tank
const tank = computed(() =>
  below.value ? { x: 170, y: 362, w: 290, h: 66, cap: 420 } : { x: 40, y: 40, w: 190, h: 120, cap: 135 },
)
const fuelTop = computed(() => tank.value.y + tank.value.h * (1 - f.value.fuel_share))
const line = computed(() =>
  below.value ? 'M200 380V270H262' : twoStroke.value ? 'M135 160V270H262' : 'M135 160V234H292V252',
)
const running = computed(() => f.value.rpm > 0)
// A stroke a second at most, so that the eye can follow: speed is shown by pace, not by count.
const pace = computed(() => (running.value ? Math.max(0.25, Math.min(1.6, 2400 / f.value.rpm)) : 0))
const mixture = computed(() => {
  const l = f.value.lambda
  if (!running.value || !l) return 'var(--dry)'
  return l < 0.75 ? '#3f3a35' : l < 1.12 ? 'var(--water-1)' : '#d8c9a0'
})
const bowlTop = computed(() => 260 + 56 * (1 - f.value.bowl_share))
const depression = computed(() => Math.min(1, f.value.manifold_kpa / 60))
const flow = computed(() => Math.min(1, f.value.use_ml_min / 30))
const sag = computed(() => Math.min(26, f.value.pump_kpa * 2.2))
const leak = computed(() => Math.min(1, f.value.leak_share * 2))
const words = computed(() => {
  const m = f.value
  const parts = [
    running.value ? text('inside.turning', { rpm: Math.round(m.rpm) }) : text('inside.standing'),
    text('inside.tank-full', { percent: Math.round(m.fuel_share * 100), kpa: m.tank_vacuum_kpa.toFixed(2) }),
    text(twoStroke.value ? 'inside.chamber-full' : 'inside.bowl-full', { percent: Math.round(m.bowl_share * 100) }),
  ]
  if (running.value)
    parts.push(
      text('inside.mixture', { lambda: m.lambda.toFixed(2) }),
      text('inside.leaks', { percent: Math.round(m.leak_share * 100) }),
    )
  return parts.join('; ')
})
</script>

<template>
  <svg viewBox="0 0 860 436" role="img" :aria-label="text('inside.cutaway', { says: words })">
    <!-- tank and what is in it -->
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
      <g v-if="f.tank_vacuum_kpa > 0.05">
        <path
          v-for="i in Math.min(6, Math.ceil(f.tank_vacuum_kpa * 2))"
          :key="i"
          :d="`M${tank.x + 20 + i * 24} ${tank.y + 12}v16m-5-6l5 6l5-6`"
          class="pull"
        />
      </g>
      <text :x="tank.x + tank.w / 2" :y="below ? tank.y + tank.h / 2 + 6 : tank.y - 22">
        {{
          f.tank_vacuum_kpa > 0.05
            ? text('inside.tank-below', { kpa: f.tank_vacuum_kpa.toFixed(2) })
            : text('inside.tank-level')
        }}
      </text>
    </g>
    <!-- the line to the carburettor -->
    <path :d="line" class="pipe" />
    <path
      v-if="f.flow_ml_min > 0.2"
      :d="line"
      class="stream"
      :style="{ strokeWidth: `${2 + 6 * Math.min(1, f.flow_ml_min / 40)}px` }"
    />
    <!-- the pump, where there is one -->
    <g v-if="twoStroke || below">
      <circle cx="200" cy="270" r="30" class="metal" />
      <path :d="`M172 270q28 ${sag} 56 0`" class="skin" :class="{ works: running && f.pump_kpa > 0.5 }" />
      <text :x="below ? 122 : 200" :y="below ? 275 : 316">
        {{ text('inside.pump', { kpa: f.pump_kpa.toFixed(1) }) }}
      </text>
    </g>
    <!-- bowl or chamber -->
    <rect x="262" y="250" width="96" height="76" rx="10" class="metal" />
    <rect x="269" :y="bowlTop" width="82" :height="Math.max(0, 319 - bowlTop)" rx="4" class="fuel" />
    <circle v-if="!twoStroke && !below" cx="310" :cy="Math.min(312, bowlTop + 5)" r="11" class="float" />
    <path v-if="twoStroke" d="M266 256q44 14 88 0" class="skin" />
    <text x="310" y="346">{{ twoStroke || below ? 'chamber' : 'bowl' }} {{ Math.round(f.bowl_share * 100) }} %</text>
    <!-- the bore: choke, throat, throttle -->
    <path d="M250 150H470V230H250Z" class="metal" />
    <path
      d="M250 160H330Q360 178 390 160H470V220H390Q360 202 330 220H250Z"
      :fill="running ? '#eaf4f4' : 'var(--panel)'"
    />
    <ellipse cx="282" cy="190" :rx="3 + 27 * f.choke" ry="29" class="plate" />
    <ellipse cx="436" cy="190" :rx="3 + 27 * (1 - Math.min(1, f.throttle))" ry="29" class="plate" />
    <path d="M360 250V204" class="pipe thin" />
    <path
      v-if="running && flow > 0"
      d="M360 250V204"
      class="stream thin"
      :style="{ strokeWidth: `${1.5 + 5 * flow}px` }"
    />
    <g v-if="running && flow > 0">
      <circle
        v-for="i in 9"
        :key="i"
        :cx="366 + ((i * 37) % 90)"
        :cy="176 + ((i * 23) % 30)"
        :r="1.5 + 3 * flow"
        class="mist"
      />
    </g>
    <text x="282" y="140">{{ text('inside.choke') }}</text>
    <text x="436" y="140">{{ text('inside.throttle') }}</text>
    <text :x="below ? 430 : 372" :y="below ? 290 : 376">
      {{ text('inside.drawn', { ml: f.use_ml_min.toFixed(1) }) }}
    </text>
    <!-- manifold -->
    <path d="M470 165H566V215H470Z" :fill="mixture" :opacity="running ? 0.35 + 0.5 * depression : 0.25" class="edge" />
    <path v-if="f.false_air > 0.01" d="M500 140v22m-5-7l5 7l5-7M524 140v22m-5-7l5 7l5-7" class="pull" />
    <text x="518" y="236">{{ running ? `−${places(f.manifold_kpa, 0)} kPa` : text('inside.still') }}</text>
    <text v-if="f.false_air > 0.01" x="512" y="132">{{ text('inside.false-air') }}</text>
    <!-- cylinder -->
    <path d="M566 110H700V350H566Z" class="metal" />
    <rect
      x="580"
      y="124"
      width="106"
      height="226"
      :fill="mixture"
      :opacity="running ? 0.25 + 0.5 * Math.min(1, f.charge) : 0.15"
    />
    <g :class="{ piston: running }" :style="{ animationDuration: `${pace}s` }">
      <rect x="580" y="200" width="106" height="62" rx="6" class="crown" />
      <path d="M582 212h102M582 226h102" class="ring" />
      <path d="M633 262V400" class="rod" />
    </g>
    <circle cx="633" cy="384" r="44" class="metal" />
    <circle cx="633" cy="384" r="9" fill="var(--ink)" />
    <g v-if="leak > 0.05 && running">
      <path v-for="i in Math.ceil(leak * 5)" :key="i" :d="`M${694 + i * 5} ${250 + i * 14}q10 8 4 18`" class="leak" />
    </g>
    <text x="760" y="286">{{ running ? `${Math.round(f.leak_share * 100)} % leaks by` : '' }}</text>
    <!-- valves overhead, or ports in the wall -->
    <template v-if="!twoStroke">
      <path d="M588 96v26M580 124h16M678 96v26M670 124h16" class="valve" />
    </template>
    <template v-else>
      <path d="M566 286h16M566 300h16M684 250h16M684 264h16" class="port" />
      <text x="740" y="256" class="start">{{ text('inside.port') }}</text>
    </template>
    <!-- plug -->
    <path d="M618 70h30v36h-30zM626 106h14v14h-14z" class="plug" />
    <path
      v-if="running && f.spark_kv > 1"
      d="M633 120l-6 8 10 3-7 9"
      class="spark"
      :style="{ strokeWidth: `${Math.min(5, f.spark_kv / 4)}px` }"
    />
    <text x="664" y="92" class="start">
      {{ running ? text('inside.spark', { kv: places(f.spark_kv, 1) }) : text('inside.no-spark') }}
    </text>
    <text x="760" y="168">{{ running ? `λ ${places(f.lambda, 2)}` : '' }}</text>
    <text x="760" y="192">{{ running ? `${Math.round(f.charge * 100)} % of its charge` : '' }}</text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
}
.metal {
  fill: var(--line-soft);
  stroke: var(--ink);
  stroke-width: 2.5;
}
.edge {
  stroke: var(--ink);
  stroke-width: 2;
}
.fuel {
  fill: #d9a441;
  fill-opacity: 0.75;
}
.float {
  fill: #b98b3f;
  stroke: var(--ink);
  stroke-width: 2;
}
.pipe {
  fill: none;
  stroke: var(--ink);
  stroke-width: 13;
}
.pipe.thin {
  stroke-width: 9;
}
.stream {
  fill: none;
  stroke: #d9a441;
}
.skin {
  fill: none;
  stroke: var(--condemned);
  stroke-width: 4;
}
.works {
  animation: beat 0.5s infinite alternate;
}
.plate {
  fill: #b98b3f;
  stroke: #5b4317;
  stroke-width: 1.5;
}
.mist {
  fill: #d9a441;
}
.pull,
.leak {
  fill: none;
  stroke: var(--condemned);
  stroke-width: 2.5;
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
  stroke-width: 13;
}
.valve {
  stroke: var(--ink);
  stroke-width: 5;
  fill: none;
}
.port {
  stroke: var(--panel);
  stroke-width: 9;
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
.piston {
  animation: stroke infinite alternate ease-in-out;
}
text {
  font: 600 15px var(--label);
  fill: var(--ink);
  text-anchor: middle;
}
.start {
  text-anchor: start;
}
@keyframes stroke {
  from {
    transform: translateY(-64px);
  }
  to {
    transform: translateY(26px);
  }
}
@keyframes beat {
  from {
    transform: translateY(-3px);
  }
  to {
    transform: translateY(3px);
  }
}
</style>
