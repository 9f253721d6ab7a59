<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { figure, text } from '@/words/words'
import { kinds, ofHundred, shares } from './flow'

/** What a procedure comes to: a sentence, four figures, and its place among the others by minutes and by what is named wrong. */
const props = defineProps<{
  totals: Schema['Totals']
  complaint: string
  /** Other procedures on the same machines. */
  others: { id: string; name: string; minutes: number; wrong: number }[]
  waiting?: boolean
}>()
const all = computed(() => shares(props.totals))
const minutes = computed(() => Math.round(props.totals.expected_minutes))

const W = 360
const H = 136
const LEFT = 40
const BOTTOM = 24
const NAMES = 118 // px at the right for names
const here = computed(() => ({ minutes: props.totals.expected_minutes, wrong: all.value.wrong }))
const farthest = computed(() => niceUp(Math.max(here.value.minutes, ...props.others.map((o) => o.minutes), 10)))
const worst = computed(() => niceUp(100 * Math.max(here.value.wrong, ...props.others.map((o) => o.wrong), 0.02)) / 100)
function niceUp(v: number) {
  const ten = 10 ** Math.floor(Math.log10(v))
  return [1, 1.5, 2, 3, 4, 5, 6, 8, 10].map((m) => m * ten).find((m) => m >= v - 1e-9)!
}
const x = (m: number) => LEFT + (m / farthest.value) * (W - LEFT - NAMES - 12)
const y = (w: number) => H - BOTTOM - (w / worst.value) * (H - BOTTOM - 12)
/** Names stand beside each other in the order of the dots, each tied to its own. */
const named = computed(() => {
  const all = [{ id: 'here', name: text('desk.this'), ...here.value }, ...props.others].map((o) => ({
    ...o,
    at: { x: x(o.minutes), y: y(o.wrong) },
  }))
  all.sort((a, b) => a.at.y - b.at.y || a.at.x - b.at.x)
  const step = Math.min(17, (H - 12) / all.length)
  const top = Math.min(
    Math.max(all.reduce((sum, o) => sum + o.at.y, 0) / all.length - (step * all.length) / 2, 12),
    H - step * all.length,
  )
  return all.map((o, i) => ({ ...o, ty: top + i * step }))
})
</script>

<template>
  <section class="panel comes" :aria-label="text('desk.comes-to')">
    <div class="told">
      <h2 aria-live="polite">
        {{
          text('desk.sentence', {
            complaint,
            right: ofHundred(all.right),
            path: ofHundred(all.path),
            wrong: ofHundred(all.wrong),
            open: ofHundred(all.open),
          })
        }}
      </h2>
      <p>
        {{
          text('desk.takes', {
            minutes,
            worst: Math.round(totals.worst_minutes),
            money: figure(Math.round(totals.expected_money * 10) / 10),
          })
        }}
      </p>
      <dl class="four">
        <div v-for="k in kinds" :key="k">
          <dd class="figure">{{ ofHundred(all[k]) }}</dd>
          <dt>{{ text(`desk.kind-${k}`) }}</dt>
          <span class="bar" :class="k" :style="{ width: `${Math.max(all[k] * 100, 2)}%` }" aria-hidden="true"></span>
        </div>
      </dl>
    </div>
    <slot></slot>
    <svg class="dots" :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="text('desk.dots')">
      <path class="axis" :d="`M${LEFT} 8V${H - BOTTOM}H${W - NAMES - 8}`" />
      <text :x="LEFT - 6" y="15" text-anchor="end">{{ ofHundred(worst) }}</text>
      <text :x="LEFT - 6" :y="H - BOTTOM" text-anchor="end">0</text>
      <text class="axis-name" :x="LEFT - 6" :y="(H - BOTTOM) / 2 + 12" text-anchor="end">
        {{ text('desk.kind-wrong') }}
      </text>
      <text v-for="m in [0, farthest]" :key="m" :x="x(m)" :y="H - 8" text-anchor="middle">
        {{ figure(m) }}
      </text>
      <text class="axis-name" :x="(x(farthest) + LEFT) / 2 + 34" :y="H - 8" text-anchor="end">
        {{ text('desk.minutes') }}
      </text>
      <g v-for="o in named" :key="o.id" :class="o.id">
        <path class="tie" :d="`M${o.at.x} ${o.at.y}L${W - NAMES - 4} ${o.ty - 4}`" />
        <text :x="W - NAMES" :y="o.ty">{{ o.name }}</text>
        <circle :cx="o.at.x" :cy="o.at.y" :r="o.id === 'here' ? 8 : 5" />
      </g>
    </svg>
    <table class="sr-only">
      <caption>
        {{
          text('desk.dots')
        }}
      </caption>
      <tbody>
        <tr>
          <th scope="row">{{ text('desk.this') }}</th>
          <td>{{ minutes }} {{ text('desk.minutes') }}</td>
          <td>{{ ofHundred(all.wrong) }} {{ text('desk.kind-wrong') }}</td>
        </tr>
        <tr v-for="o in others" :key="o.id">
          <th scope="row">{{ o.name }}</th>
          <td>{{ Math.round(o.minutes) }} {{ text('desk.minutes') }}</td>
          <td>{{ ofHundred(o.wrong) }} {{ text('desk.kind-wrong') }}</td>
        </tr>
      </tbody>
    </table>
    <v-progress-linear
      v-if="waiting"
      class="waiting"
      indeterminate
      color="secondary"
      :aria-label="text('desk.working')"
    />
  </section>
</template>

<style scoped>
.comes {
  position: relative;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 344px 340px;
  gap: 20px;
  padding: 8px 16px;
  height: 164px;
  overflow: hidden;
}
.told {
  display: grid;
  gap: 4px;
  align-content: start;
}
.four {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 12px;
  margin: 2px 0 0;
}
.four div {
  display: grid;
  grid-template-columns: auto 1fr;
  column-gap: 8px;
  align-items: baseline;
}
.four dd {
  margin: 0;
  font-size: 26px;
  line-height: 1.1;
}
.four dt {
  color: var(--muted);
  font: 500 15px/1.1 var(--label);
}
.bar {
  grid-column: 1 / -1;
  height: 7px;
  border-radius: 4px;
}
.bar.right {
  background: var(--water-2);
}
.bar.path {
  background: repeating-linear-gradient(45deg, var(--suspect) 0 3px, var(--suspect-bg) 3px 7px);
}
.bar.wrong {
  background: repeating-linear-gradient(90deg, var(--condemned) 0 3px, var(--condemned-bg) 3px 6px);
}
.bar.open {
  background: var(--dry);
  outline: 1px dashed var(--gate);
  outline-offset: -1px;
}
.dots {
  width: 100%;
  max-width: 460px;
}
.axis {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
}
text {
  font: 500 13.5px/1 var(--label);
  fill: var(--ink);
}
.axis-name {
  fill: var(--muted);
}
circle {
  fill: var(--gate);
}
.planned circle {
  fill: var(--water-2);
}
.here circle,
.here text {
  fill: var(--ink);
  font-weight: 600;
}
.tie {
  stroke: var(--line);
  fill: none;
}
.waiting {
  position: absolute;
  inset: auto 0 0;
}
@media (max-width: 900px) {
  .comes {
    height: auto;
    grid-template-columns: minmax(0, 1fr);
  }
  .four {
    grid-template-columns: repeat(2, 1fr);
  }
}
</style>
