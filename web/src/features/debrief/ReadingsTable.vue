<script setup lang="ts">
import type { Schema } from '@/api/client'
import { nameOf, text, told } from '@/words/words'

/**
 * Each reading: what it showed, what a master's would have shown, what was written, and what it was worth;
 * blind without what it was worth.
 */
defineProps<{ readings: Schema['Reading'][]; blind?: boolean }>()
const emit = defineEmits<{ point: [seq: number] }>()

/** What was written down, as it was typed. */
function typed(r: Schema['Reading']) {
  if (r.over) return text('word.over-limit')
  return r.word ? text(`word.${r.word}`) : `${r.typed} ${r.unit ?? ''}`.trim()
}
const heads = ['test', 'showed', 'masters', 'wrote', 'set-up', 'judged']
</script>

<template>
  <p v-if="readings.length === 0" class="muted">{{ text('debrief.no-readings') }}</p>
  <div v-else class="scroll" tabindex="0" role="region" :aria-label="text('debrief.readings')">
    <v-table>
      <thead>
        <tr>
          <th v-for="h in heads" :key="h" scope="col">{{ text(`debrief.${h}`) }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in readings" :key="`${r.seq}${r.part ?? ''}`">
          <td>
            <v-btn variant="text" class="to" @click="emit('point', r.taken_at)">
              {{ nameOf('test', r.test, 'title') }}{{ r.part ? `, ${nameOf('part', r.part).toLowerCase()}` : '' }}
            </v-btn>
          </td>
          <td class="figure">{{ told(r.shown) }}</td>
          <td class="figure">{{ told(r.would_have) }}</td>
          <td class="figure" :class="{ bad: !r.read_right && !blind }">
            {{ typed(r) }}<span v-if="r.slip" class="why">{{ text(`slip.${r.slip}`) }}</span>
          </td>
          <td>
            <span v-if="!blind" class="tag" :class="r.valid ? 'ok' : 'no'">{{
              text(r.valid ? 'debrief.valid' : 'debrief.not-valid')
            }}</span><span v-if="blind && r.missed.length === 0" class="why">{{ text('debrief.as-taught') }}</span
            ><span v-for="m in r.missed" :key="m" class="why">{{ nameOf('condition', m, 'missed') }}</span>
          </td>
          <td>
            <span v-if="blind">{{ r.judged ? text(`band.${r.judged}`) : '' }}</span>
            <span v-else class="tag" :class="r.judged_right ? 'ok' : 'no'">{{
              r.judged ? text(`band.${r.judged}`) : text(r.judged_right ? 'debrief.right' : 'debrief.wrong')
            }}</span>
          </td>
        </tr>
      </tbody>
    </v-table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
td {
  vertical-align: top;
  font-size: 14.5px;
}
td.figure {
  font-size: 17px;
  white-space: nowrap;
}
td.bad {
  color: var(--condemned-ink);
}
.why {
  display: block;
  font: 400 13.5px/1.25 var(--text);
  color: var(--muted);
  white-space: normal;
}
.tag {
  display: inline-block;
  padding: 3px 9px;
  border-radius: 7px;
  font: 600 15px/1.1 var(--label);
}
.tag.ok {
  background: var(--good-bg);
  color: var(--good);
}
.tag.no {
  background: var(--condemned-bg);
  color: var(--condemned-ink);
}
</style>
