<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { nameOf, text } from '@/words/words'
import { ofHundred } from './flow'

/** Faults by steps: how likely each is first noticed at a step, and rightly named there. */
const props = defineProps<{ of: Schema['Evaluation']; steps: Schema['ProcedureStep'][]; at: number }>()
const emit = defineEmits<{ at: [place: number] }>()

/** A fault in all its modes is one line; the likeliest first. */
const rows = computed(() => {
  const byFault = new Map<string, { fault: string; prior: number; detected: number[]; isolated: number[] }>()
  for (const h of props.of.hypotheses) {
    if (!h.fault) continue
    const r = byFault.get(h.fault) ?? {
      fault: h.fault,
      prior: 0,
      detected: props.of.steps.map(() => 0),
      isolated: props.of.steps.map(() => 0),
    }
    r.prior += h.prior
    h.detected.forEach((v, k) => (r.detected[k] += h.prior * v))
    h.isolated.forEach((v, k) => (r.isolated[k] += h.prior * v))
    byFault.set(h.fault, r)
  }
  return [...byFault.values()].filter((r) => r.prior >= 0.0005).sort((a, b) => b.prior - a.prior)
})
const share = (v: number, of: number) => (of > 0 ? v / of : 0)
const title = (id: string) => nameOf('test', props.steps.find((s) => s.id === id)?.test ?? '', 'title')
</script>

<template>
  <div class="heat" tabindex="0" role="region" :aria-label="text('desk.heat')">
    <p class="small muted">{{ text('desk.heat-says') }}</p>
    <table>
      <thead>
        <tr>
          <th scope="col">{{ text('desk.fault') }}</th>
          <th scope="col" class="of">{{ text('desk.of-hundred') }}</th>
          <th v-for="(s, k) in of.steps" :key="s.id" scope="col" :class="{ on: k === at }">
            <button type="button" :aria-label="`${k + 1} ${title(s.id)}`" :title="title(s.id)" @click="emit('at', k)">
              {{ k + 1 }}
            </button>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.fault">
          <th scope="row">{{ nameOf('fault', r.fault) }}</th>
          <td class="of figure">{{ ofHundred(r.prior) }}</td>
          <td v-for="(s, k) in of.steps" :key="s.id">
            <span
              v-if="share(r.detected[k], r.prior) >= 0.005 || share(r.isolated[k], r.prior) >= 0.005"
              class="cell"
              :class="{ noticed: share(r.detected[k], r.prior) >= 0.05 }"
              :style="{ '--named': share(r.isolated[k], r.prior) }"
              :title="
                text('desk.cell', {
                  noticed: ofHundred(share(r.detected[k], r.prior)),
                  named: ofHundred(share(r.isolated[k], r.prior)),
                })
              "
              >{{ share(r.isolated[k], r.prior) >= 0.005 ? ofHundred(share(r.isolated[k], r.prior)) : '·' }}</span
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.heat {
  overflow: auto;
  min-height: 0;
  height: 100%;
}
table {
  border-collapse: collapse;
  font: 500 15px/1.1 var(--label);
}
thead th {
  position: sticky;
  top: 0;
  background: var(--panel);
  z-index: 1;
  text-align: left;
}
thead button {
  width: 36px;
  height: 32px;
  border: 0;
  border-radius: 8px;
  background: none;
  color: var(--ink);
  font: inherit;
  cursor: pointer;
}
.on button {
  background: var(--deep);
  color: var(--panel);
}
tbody th {
  text-align: left;
  font-weight: 500;
  padding: 2px 12px 2px 0;
  white-space: nowrap;
}
.of {
  text-align: right;
  padding-right: 12px;
}
td {
  padding: 1px;
}
.cell {
  display: grid;
  place-items: center;
  width: 34px;
  height: 26px;
  border-radius: 6px;
  font-variant-numeric: tabular-nums;
  background: color-mix(in srgb, var(--water-1) calc(var(--named) * 100%), var(--plaster));
  color: var(--ink);
}
.v-theme--night .cell {
  background: color-mix(in srgb, var(--water-2) calc(var(--named) * 100%), var(--plaster));
}
.cell.noticed {
  outline: 2px solid var(--deep);
  outline-offset: -2px;
}
</style>
