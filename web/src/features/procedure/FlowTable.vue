<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { nameOf, text } from '@/words/words'
import { flowOf, kinds, ofHundred, type Kind, type Row } from './flow'

/** The ditch as a table, for whoever does not see it: what comes to each step, turns out there, and goes on. */
const props = defineProps<{ of: Schema['Evaluation']; steps: Schema['ProcedureStep'][] }>()
const flow = computed(() => flowOf(props.of))
const title = (i: number) => nameOf('test', props.steps[i]?.test ?? '', 'title')
const out = (r: Row, k: Kind) => ofHundred(r.turnouts.find((o) => o.kind === k)?.share ?? 0)
const past = (i: number) =>
  flow.value.jumps
    .filter((j) => j.from === i)
    .map((j) =>
      text('desk.past', {
        n: ofHundred(j.share),
        step: j.to < props.steps.length ? `${j.to + 1} ${title(j.to)}` : text('desk.the-end'),
      }),
    )
    .join(', ')
</script>

<template>
  <table>
    <caption>
      {{
        text('desk.ditch')
      }}
    </caption>
    <thead>
      <tr>
        <th scope="col">{{ text('desk.step') }}</th>
        <th scope="col">{{ text('desk.come') }}</th>
        <th v-for="k in kinds" :key="k" scope="col">{{ text(`desk.kind-${k}`) }}</th>
        <th scope="col">{{ text('desk.goes-on') }}</th>
        <th scope="col">{{ text('desk.goes-past') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(r, i) in flow.rows" :key="r.id">
        <th scope="row">{{ i + 1 }} {{ title(i) }}</th>
        <td>{{ ofHundred(r.comes) }}</td>
        <td v-for="k in kinds" :key="k">{{ out(r, k) }}</td>
        <td>{{ ofHundred(r.goesOn) }}</td>
        <td>{{ past(i) }}</td>
      </tr>
      <tr>
        <th scope="row">{{ text('desk.ran-out') }}</th>
        <td>{{ ofHundred(flow.end.comes) }}</td>
        <td v-for="k in kinds" :key="k">{{ out(flow.end, k) }}</td>
        <td></td>
        <td></td>
      </tr>
    </tbody>
  </table>
</template>
