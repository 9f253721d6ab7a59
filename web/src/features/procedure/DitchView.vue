<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { nameOf, text } from '@/words/words'
import { flowOf, lanes, ofHundred, type Jump, type Row, type Turnout } from './flow'

/**
 * A procedure as a ditch: all machines that come with the complaint flow in at the top,
 * as wide as they are likely. Each step is a check across it, where some turn out: right
 * as water, on the right path hatched, wrong barred, left open as a dry pool. Widths are
 * to scale.
 */
const props = defineProps<{
  of: Schema['Evaluation']
  /** Height of a row, which is that of the step's line beside it, px. */
  row: number
  /** Faults whose way is lit. */
  lit?: string[]
}>()

const WIDE = 118 // px for all machines
const BANK = 344 // the right bank
const POOL = 214 // where what turns out ends
const LABEL = 166 // where names end
const LETTERS = 25 // that a name has room for
const width = (share: number) => share * WIDE
const flow = computed(() => flowOf(props.of))
const thread = computed(() => (props.lit?.length ? flowOf(props.of, props.lit) : undefined))
const rows = computed(() => [...flow.value.rows, flow.value.end])
const height = computed(() => rows.value.length * props.row)
const out = computed(() => lanes(flow.value.jumps, width, 9))
const reach = computed(() =>
  flow.value.jumps.reduce((far, j, i) => Math.max(far, BANK + out.value[i] + width(j.share) + 6), BANK + 20),
)
const middle = (k: number) => k * props.row + props.row / 2

/** What turns out lies at the left of what comes, one kind above the other. */
function turnouts(r: Row, k: number) {
  const all = r.turnouts.reduce((sum, o) => sum + Math.max(width(o.share), 1.4), 0)
  let y = middle(k) - all / 2
  return r.turnouts.map((o) => {
    const tall = Math.max(width(o.share), 1.4)
    const at = { o, y, tall, x: BANK - width(r.comes) }
    y += tall
    return at
  })
}
const named = (o?: Turnout) =>
  (o?.faults ?? []).slice(0, 3).map((f) => (f.id ? nameOf('fault', f.id) : text('desk.sound')))
function label(r: Row, k: number) {
  if (k === flow.value.rows.length) return r.turnouts.length ? text('desk.ran-out') : ''
  const most = r.turnouts.toSorted((a, b) => b.share - a.share)[0]
  if (!most) return ''
  if (most.kind === 'open' || most.kind === 'wrong') return text(`desk.kind-${most.kind}`)
  const name = named(most)[0]
  if (name.length > LETTERS) return `${name.slice(0, LETTERS).trimEnd()} …`
  return name + (most.faults.length > 1 ? ' …' : '')
}
const told = computed(() =>
  rows.value.map((r) =>
    r.turnouts
      .map((o) => {
        const who = named(o).join(', ') + (o.faults.length > 3 ? ' …' : '')
        return `${ofHundred(o.share)} ${text(`desk.kind-${o.kind}`)}: ${who}`
      })
      .join('\n'),
  ),
)
const leaves = (r: Row) => r.turnouts.reduce((sum, o) => sum + o.share, 0)

/** How far from a check's line a way past leaves or comes in, so that those of one step lie beside each other: the longest next to the line. */
const offsets = computed(() => {
  const all = flow.value.jumps
  const off = (side: 'from' | 'to') =>
    all.map((j) =>
      all
        .filter((o) => o !== j && o[side] === j[side] && Math.abs(o.to - o.from) > Math.abs(j.to - j.from))
        .reduce((sum, o) => sum + wide(o.share), 3),
    )
  return { out: off('from'), into: off('to') }
})
const wide = (share: number) => Math.max(width(share), 1.4)
/** A way past some steps: out from the bank, along its lane, and back in; drawn along its middle. */
function ribbon(j: Jump, i: number) {
  const w = wide(j.share)
  const down = j.to > j.from ? 1 : -1
  const y0 = middle(j.from) + down * (offsets.value.out[i] + w / 2)
  const y1 = middle(j.to) - down * (offsets.value.into[i] + w / 2)
  const far = BANK + out.value[i] + w / 2
  const r = Math.max(Math.min(w / 2 + 7, Math.abs(y1 - y0) / 2, far - BANK), 1)
  return `M${BANK} ${y0}H${far - r}Q${far} ${y0} ${far} ${y0 + down * r}V${y1 - down * r}Q${far} ${y1} ${far - r} ${y1}H${BANK}`
}
const jumpIn = (j: Jump) => thread.value?.jumps.find((x) => x.from === j.from && x.to === j.to)
</script>

<template>
  <svg class="ditch" :viewBox="`0 0 ${reach} ${height}`" :width="reach" :height="height" aria-hidden="true">
    <defs>
      <pattern id="ditch-path" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="7" height="7" class="hatch-bed" />
        <rect width="3" height="7" class="hatch" />
      </pattern>
      <pattern id="ditch-wrong" width="6" height="6" patternUnits="userSpaceOnUse">
        <rect width="6" height="6" class="bar-bed" />
        <rect width="3" height="6" class="bar" />
      </pattern>
      <pattern id="ditch-open" width="6" height="6" patternUnits="userSpaceOnUse">
        <rect width="6" height="6" class="dry" />
        <circle cx="2" cy="2" r="0.9" class="dot" />
      </pattern>
    </defs>
    <g class="past">
      <path v-for="(j, i) in flow.jumps" :key="`${j.from} ${j.to}`" :d="ribbon(j, i)" :stroke-width="wide(j.share)" />
    </g>
    <g v-for="(r, k) in rows" :key="r.id">
      <!-- What comes, what goes on, and the check between. -->
      <rect class="water" :x="BANK - width(r.comes)" :y="k * row" :width="width(r.comes)" :height="row / 2" />
      <rect
        v-if="k < flow.rows.length"
        class="water"
        :x="BANK - width(r.goesOn)"
        :y="middle(k)"
        :width="width(r.goesOn)"
        :height="row / 2"
      />
      <rect
        v-for="t in turnouts(r, k)"
        :key="t.o.kind"
        :class="t.o.kind"
        :x="POOL"
        :y="t.y"
        :width="Math.max(t.x - POOL, 12)"
        :height="t.tall"
        :fill="t.o.kind === 'right' ? undefined : `url(#ditch-${t.o.kind})`"
      >
        <title>{{ told[k] }}</title>
      </rect>
      <path v-if="k < flow.rows.length" class="check" :d="`M${BANK - WIDE - 5} ${middle(k)}H${BANK + 5}`" />
      <template v-if="r.turnouts.length && leaves(r) >= 0.0005">
        <text class="name" :x="LABEL" :y="middle(k) + 5" text-anchor="end">
          {{ label(r, k) }}
          <title>{{ told[k] }}</title>
        </text>
        <text class="share" :x="POOL - 8" :y="middle(k) + 5" text-anchor="end">{{ ofHundred(leaves(r)) }}</text>
      </template>
    </g>
    <g v-if="thread" class="lit">
      <template v-for="(j, i) in flow.jumps" :key="i">
        <path v-if="jumpIn(j)" class="way" :d="ribbon(j, i)" :stroke-width="Math.max(width(jumpIn(j)!.share), 3)" />
      </template>
      <g v-for="(r, k) in [...thread.rows, thread.end]" :key="r.id">
        <rect
          v-if="r.comes > 0"
          :x="BANK - Math.max(width(r.comes), 3)"
          :y="k * row"
          :width="Math.max(width(r.comes), 3)"
          :height="row / 2"
        />
        <rect
          v-if="r.goesOn > 0"
          :x="BANK - Math.max(width(r.goesOn), 3)"
          :y="middle(k)"
          :width="Math.max(width(r.goesOn), 3)"
          :height="row / 2"
        />
        <rect
          v-if="leaves(r) > 1e-9"
          :x="POOL"
          :y="middle(k) - Math.max(width(leaves(r)), 3) / 2"
          :width="BANK - POOL"
          :height="Math.max(width(leaves(r)), 3)"
        />
      </g>
    </g>
  </svg>
</template>

<style scoped>
.ditch {
  display: block;
}
.water,
.right {
  fill: var(--water-2);
}
.past {
  fill: none;
  stroke: var(--water-1);
}
.hatch-bed {
  fill: var(--suspect-bg);
}
.hatch {
  fill: var(--suspect);
}
.bar-bed {
  fill: var(--condemned-bg);
}
.bar {
  fill: var(--condemned);
}
.dry {
  fill: var(--dry);
}
.dot {
  fill: var(--gate);
}
.open {
  stroke: var(--gate);
  stroke-width: 1;
  stroke-dasharray: 3 2;
}
.check {
  stroke: var(--deep);
  stroke-width: 3.5;
  stroke-linecap: round;
  fill: none;
}
.lit {
  fill: var(--ink);
}
.way {
  fill: none;
  stroke: var(--ink);
}
.name {
  font: 500 15px/1 var(--label);
  fill: var(--ink);
}
.share {
  font: 600 16px/1 var(--label);
  font-variant-numeric: tabular-nums;
  fill: var(--ink);
}
</style>
