<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { nameOf, text } from '@/words/words'

/** Where the suspects stood at the end, by three beliefs; those that hold next to nothing are one line. */
const props = defineProps<{ of: Schema['Assessment'] }>()

const pct = (p: number) =>
  p > 0.995 ? text('percent.over-99') : p < 0.005 ? text('percent.under-1') : `${Math.round(p * 100)} %`
const all = computed(() => {
  const s = props.of.standings
  return Object.keys(s?.recorded ?? {})
    .map((id) => ({
      id,
      shown: s!.shown[id],
      recorded: s!.recorded[id],
      valid: s!.as_if_valid[id],
      true: props.of.truth.some((t) => t.id === id),
    }))
    .sort((x, y) => y.recorded - x.recorded)
})
const listed = computed(() => all.value.filter((s) => s.true || Math.max(s.shown, s.recorded, s.valid) >= 0.01))
</script>

<template>
  <v-table class="stand">
    <thead>
      <tr>
        <th v-for="h in ['fault', 'as-shown', 'as-written', 'as-if-right']" :key="h" scope="col">
          {{ text(`debrief.${h}`) }}
        </th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="s in listed" :key="s.id" :class="{ truth: s.true }">
        <td>
          {{ nameOf('fault', s.id) }}<span v-if="s.true" class="why">{{ text('debrief.this-was-it') }}</span>
        </td>
        <td class="figure">{{ pct(s.shown) }}</td>
        <td class="figure">{{ pct(s.recorded) }}</td>
        <td class="figure">{{ pct(s.valid) }}</td>
      </tr>
      <tr v-if="all.length > listed.length">
        <td colspan="4" class="muted">{{ text('debrief.others', { count: all.length - listed.length }) }}</td>
      </tr>
    </tbody>
  </v-table>
  <p class="small muted">{{ text('debrief.three-beliefs') }}</p>
</template>

<style scoped>
td.figure {
  font-size: 17px;
  white-space: nowrap;
}
.truth td {
  background: var(--good-bg);
}
.why {
  display: block;
  font: 400 13.5px/1.25 var(--text);
  color: var(--good);
}
</style>
