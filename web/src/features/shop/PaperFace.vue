<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { measures, text } from '@/words/words'

/** The two sides of a sheet of a real engine, with blanks. */
const props = defineProps<{
  bench: Schema['Bench']
  family: Schema['Family']
  /** Whose sheet it is; a blank without. */ name?: string
}>()
const LINES = 16
const FINDINGS = 3
const b = computed(() => props.bench)
const laterals = computed(() =>
  props.family.laterals.map((l) => ({ ...l, reaches: props.family.reaches.filter((r) => r.lateral === l.id) })),
)
/** Tests that the sheet has a figure for: what they are judged against, and what makes them valid. */
const judged = computed(() =>
  props.family.tests.flatMap((t) => {
    const f = b.value.sheet.find((x) => x.id === t.figure)?.figure
    return f && f.unit ? [{ ...t, band: measures(f.low, f.high, f.unit) }] : []
  }),
)
</script>

<template>
  <section class="side">
    <header>
      <h2>{{ b.machine_name }} {{ b.machine_code }}</h2>
      <span>{{ text('bench.job', { number: b.job_number, how: text(`bench.mode-${b.mode}`) }) }}</span>
      <span class="blank">{{ name ? text('shop.named-date', { name }) : text('shop.name-date') }}</span>
    </header>
    <p class="words">“{{ b.words }}”</p>
    <p class="small">{{ text('shop.cautions') }}</p>
    <table class="holds">
      <tbody>
        <tr>
          <th v-for="h in b.holds" :key="h.item" scope="col">{{ text(`shop.hold.${h.item}`) }}</th>
        </tr>
        <tr>
          <td v-for="h in b.holds" :key="h.item">{{ h.by ? h.initials : '' }}</td>
        </tr>
      </tbody>
    </table>
    <table class="lines">
      <thead>
        <tr>
          <th v-for="h in ['minute', 'test', 'missed', 'reading', 'judged']" :key="h" scope="col">
            {{ text(`shop.paper-${h}`) }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="n in LINES" :key="n">
          <td>{{ n }}</td>
          <td></td>
          <td></td>
          <td></td>
          <td class="bands">{{ text('shop.paper-bands') }}</td>
        </tr>
      </tbody>
    </table>
  </section>
  <section class="side">
    <h3>{{ text('shop.paper-board') }}</h3>
    <table class="board">
      <tbody>
        <tr v-for="l in laterals" :key="l.id">
          <th scope="row">{{ l.name }}</th>
          <td>
            <span v-for="r in l.reaches" :key="r.id" class="reach">☐ {{ r.name }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <h3>{{ text('bench.hand-over') }}</h3>
    <table class="lines">
      <thead>
        <tr>
          <th v-for="h in ['part', 'wrong', 'filed', 'evidence']" :key="h" scope="col">
            {{ text(`shop.paper-${h}`) }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="n in FINDINGS" :key="n">
          <td></td>
          <td></td>
          <td class="bands">{{ text('shop.paper-filings') }}</td>
          <td></td>
        </tr>
      </tbody>
    </table>
    <p class="blanks">{{ text('shop.paper-end') }}</p>
    <h3>{{ text('shop.paper-valid') }}</h3>
    <table class="tests">
      <tbody>
        <tr v-for="t in judged" :key="t.id">
          <th scope="row">{{ t.title }}</th>
          <td class="figure">{{ t.band }}</td>
          <td>{{ t.valid.join('; ') }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.side {
  background: #fff;
  color: #16201e;
  padding: 18px 22px;
  margin-bottom: 14px;
  border-radius: 4px;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: baseline;
}
.words {
  font-size: 17px;
  margin: 6px 0;
}
table {
  width: 100%;
  border-collapse: collapse;
  margin: 8px 0;
}
th,
td {
  border: 1px solid #9aa5a0;
  padding: 3px 6px;
  text-align: left;
  vertical-align: top;
  font-size: 13px;
}
.lines td {
  height: 34px;
}
.lines th:first-child,
.lines td:first-child {
  width: 9%;
}
.holds td {
  height: 34px;
}
.bands {
  white-space: nowrap;
}
.reach {
  display: inline-block;
  margin-right: 14px;
}
.blanks {
  white-space: pre-line;
  line-height: 2.1;
}
.tests td,
.tests th {
  font-size: 11px;
  padding: 1px 5px;
}
@media print {
  .side {
    padding: 0;
    margin: 0;
    break-after: page;
  }
  .side:last-child {
    break-after: auto;
  }
}
</style>
