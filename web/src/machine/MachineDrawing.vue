<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { nameOf, text } from '@/words/words'
import { machines } from './machines'

/**
 * The machine from outside, as it stands: what is off, open, spilt or hot, and how its
 * controls stand. A press on a part takes its reach; one on a control goes to it. By
 * keyboard the same is done at the board and at the controls, so nothing here is a stop.
 */
const props = defineProps<{
  bench: Pick<Schema['Bench'], 'family' | 'open' | 'spilt' | 'hot' | 'has'>
  controls: Record<string, unknown>
  at?: string
}>()
const emit = defineEmits<{ reach: [id: string]; control: [id: string] }>()

const m = computed(() => machines[props.bench.family])
const stands = (id: string) => props.controls[id]
const off = (cover?: string) => !!cover && props.bench.open.includes(cover)
/** The plug's lead: on the plug, hanging free, or earthed on a fin. */
const lead = computed(() => {
  const [x, y] = m.value.coil
  const [px, py] =
    stands('plug_lead') === 'off' ? [x + 16, y - 30] : stands('plug_lead') === 'earthed' ? m.value.fin : m.value.plug
  return { d: `M${x} ${y}Q${(x + px) / 2} ${Math.min(y, py) - 12} ${px} ${py}`, x: px, y: py }
})
const cap = computed(() => {
  const [x, y] = m.value.cap
  const up = { tight: 0, loose: 4, off: 0 }[String(stands('cap') ?? 'tight')] ?? 0
  return stands('cap') === 'off' ? { x: x + 22, y: y - 2, open: true } : { x, y: y - up, open: false }
})
/** A lever is turned by how far it stands. */
const turned = (id: string) => -50 + 100 * Number(stands(id) ?? 0)
const leans = computed(() => ({ 'plug-down': -12, 'filter-down': 9, 'breather-down': -7 })[String(stands('tilt'))] ?? 0)
const looks = computed(() => {
  const said = props.bench.open.map((c) => nameOf('cover', c, 'off'))
  if (props.bench.spilt) said.push(text('machine.spilt'))
  if (props.bench.hot) said.push(text('machine.hot'))
  return said.length ? text('machine.looks', { what: said.join(', ') }) : text('machine.whole')
})
</script>

<template>
  <section v-if="m" class="panel machine" :aria-label="text('machine.name')">
    <svg viewBox="0 0 220 142" role="img" :aria-label="looks" :class="{ heat: bench.hot }">
      <path class="frame" :d="m.frame" />
      <ellipse v-if="bench.spilt" class="spilt" :cx="m.carb[0]" cy="134" rx="30" ry="5" />
      <g :transform="`rotate(${leans} 110 120)`">
        <path
          v-if="m.handle"
          class="bar"
          :d="stands('bar') === 'released' ? m.handle.free : m.handle.held"
          @click="emit('control', 'bar')"
        />
        <path
          v-for="p in m.parts"
          :key="p.id"
          :d="p.d"
          :class="[p.kind, { off: off(p.cover), at: at === p.reach }]"
          @click="emit('reach', p.reach)"
        />
        <g class="lead" @click="emit('control', 'plug_lead')">
          <path :d="lead.d" />
          <circle :cx="lead.x" :cy="lead.y" r="4" />
        </g>
        <g class="hand" @click="emit('control', 'cap')">
          <ellipse v-if="cap.open" class="hole" :cx="m.cap[0]" :cy="m.cap[1]" rx="7" ry="2" />
          <rect :x="cap.x - 9" :y="cap.y - 5" width="18" height="6" rx="2" />
        </g>
        <g v-if="m.valve && bench.has.includes('fuel_valve')" class="hand" @click="emit('control', 'fuel_valve')">
          <circle :cx="m.valve[0]" :cy="m.valve[1]" r="4.5" />
          <path
            v-if="stands('fuel_valve') !== undefined"
            :d="`M${m.valve[0]} ${m.valve[1]}h10`"
            :transform="`rotate(${stands('fuel_valve') === 'shut' ? 0 : 90} ${m.valve[0]} ${m.valve[1]})`"
          />
        </g>
        <g v-if="m.primer && bench.has.includes('primer')" class="hand" @click="emit('control', 'primer')">
          <circle :cx="m.primer[0]" :cy="m.primer[1]" r="5" />
        </g>
        <g v-for="(id, i) in ['choke', 'throttle']" :key="id">
          <path
            v-if="bench.has.includes(id) && !off('carboff')"
            class="lever"
            :d="`M${m.carb[0] - 5 + 10 * i} ${m.carb[1]}v-12`"
            :transform="`rotate(${turned(id)} ${m.carb[0] - 5 + 10 * i} ${m.carb[1]})`"
            @click="emit('control', id)"
          />
        </g>
      </g>
    </svg>
  </section>
</template>

<style scoped>
.machine {
  padding: 6px 10px;
}
svg {
  display: block;
  width: 100%;
  height: 100%;
}
path,
rect,
circle,
ellipse {
  stroke: var(--ink);
  stroke-width: 1.8;
  stroke-linejoin: round;
  stroke-linecap: round;
}
g > path,
.hand,
.lead {
  cursor: pointer;
}
.frame,
.pipe,
.bar,
.lead path,
.lever {
  fill: none;
}
.frame {
  stroke: var(--bank);
  stroke-width: 3;
}
.bar {
  stroke-width: 3;
}
.metal,
.hand rect,
.hand circle {
  fill: var(--dry);
}
.plain {
  fill: var(--panel);
}
.fuel {
  fill: var(--suspect-bg);
}
.hot {
  fill: var(--panel);
}
.heat .hot {
  fill: var(--condemned-bg);
}
.off {
  fill: none;
  stroke: var(--gate);
  stroke-width: 1.3;
  stroke-dasharray: 4 3;
}
.at {
  stroke: var(--link);
  stroke-width: 2.6;
}
.lead path {
  stroke: var(--suspect);
  stroke-width: 2.4;
}
.lead circle {
  fill: var(--ink);
}
.lever {
  stroke-width: 3;
}
.hole {
  fill: var(--ink);
}
.spilt {
  fill: var(--suspect-bg);
  stroke: var(--suspect);
}
</style>
