<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, Refusal, type Schema } from '@/api/client'
import LateralBoard from '@/board/LateralBoard.vue'
import { said } from '@/board/marks'
import { useFamily } from '@/features/bench/useFamily'
import { useSession } from '@/session/session'
import TermedText from '@/words/TermedText.vue'
import { capital, nameOf, reason, text, told } from '@/words/words'
import EvidenceCurve from './EvidenceCurve.vue'

const attempt = String(useRoute().params.attempt)
const session = useSession()
const queries = useQueryClient()
const MARKING_MS = 500
const debrief = useQuery({
  queryKey: ['debrief', attempt],
  queryFn: () => ask(api.GET('/api/attempts/{attempt}/debrief', { params: { path: { attempt } } })),
  retry: (n, e) => (e as Refusal).away && n < 30,
  // It is marked when its turn comes; until then it is asked for again.
  refetchInterval: (q) => (q.state.data && !('assessment' in q.state.data) ? MARKING_MS : false),
})
const d = computed(() => {
  const v = debrief.data.value
  return v && 'assessment' in v ? v : undefined
})
const marking = computed(() => debrief.data.value && !d.value)
watch(d, (v) => v && void queries.invalidateQueries({ queryKey: ['attempts'] }))
const a = computed(() => d.value?.assessment)
const family = useFamily(() => d.value?.family)
const fam = computed(() => family.data.value)
const at = ref(0)
watch(a, (v) => v && (at.value = v.points.length - 1), { immediate: true })
const here = computed(() => a.value?.points[at.value])
const total = computed(() => a.value?.sections.reduce((s, x) => [s[0] + x.mark, s[1] + x.of], [0, 0]) ?? [0, 0])
const good = computed(() => ['proven', 'supported'].includes(a.value?.class ?? ''))
const pct = (p: number) =>
  p > 0.995 ? text('percent.over-99') : p < 0.005 ? text('percent.under-1') : `${Math.round(p * 100)} %`
/** What was done at a point of the time line, in words. */
function stepText(p?: Schema['Point']) {
  const s = p?.step
  switch (s?.kind) {
    case undefined:
      return ''
    case '':
      return text('step.card')
    case 'take':
      return nameOf('test', s.test!, 'title')
    case 'repair':
      return text('line.repair', { repair: s.repair, reach: s.reach })
    case 'do':
      return nameOf('action', s.do!)
  }
  return text(`step.${s!.kind}`)
}
/** What was written down, as it was typed. */
function typed(r: Schema['Reading']) {
  if (r.over) return text('word.over-limit')
  return r.word ? text(`word.${r.word}`) : `${r.typed} ${r.unit ?? ''}`.trim()
}
const left = (h: Schema['Left']) => text('left.one', { left: `@left.${h.kind}.${h.item}`, item: h.item })
const standings = computed(() => {
  const s = a.value?.standings
  if (!s) return []
  return Object.keys(s.recorded)
    .map((id) => ({
      id,
      shown: s.shown[id],
      recorded: s.recorded[id],
      valid: s.as_if_valid[id],
      true: a.value!.truth.some((t) => t.id === id),
    }))
    .sort((x, y) => y.recorded - x.recorded)
})
/** Where the two boards differ at this step, in words. */
const differences = computed(() => {
  const p = here.value
  if (!p || !fam.value) return []
  return fam.value.reaches
    .filter((r) => (p.theirs[r.id] ?? '') !== (p.evidence[r.id] ?? ''))
    .map((r) => `${r.name}: yours ${said(p.theirs[r.id])}, the evidence ${said(p.evidence[r.id])}`)
})
/** A reason points at a ledger entry: go to the step that stood there. */
function point(seq: number) {
  if (seq < 0 || !a.value) return
  const i = a.value.points.findLastIndex((p) => p.seq <= seq)
  if (i >= 0) at.value = i
}
const print = () => window.print()
</script>

<template>
  <div v-if="d && a && fam" class="page stack">
    <div class="row wrap">
      <h1>Debrief</h1>
      <span class="muted">job {{ d.job_number }} · {{ d.machine_name }} {{ d.machine_code }} · {{ d.apprentice }}</span>
      <span class="grow"></span>
      <v-btn class="no-print" :to="`/debrief/${attempt}/inside`">Look inside</v-btn>
      <v-btn class="no-print" @click="print">Print</v-btn>
      <v-btn class="no-print" :to="session.home">Done</v-btn>
    </div>

    <section class="verdict panel" :class="{ good }" aria-label="Verdict">
      <div>
        <p class="muted">Conclusion</p>
        <p class="class">{{ text(`class.${a.class}`) }}</p>
        <p class="figure">{{ Math.round(total[0] * 10) / 10 }} of {{ total[1] }}</p>
      </div>
      <div class="said">
        <p v-for="(r, i) in a.verdict" :key="i" class="big">{{ reason(r) }}</p>
        <p v-for="t in a.truth" :key="t.id" class="muted">
          <b>{{ nameOf('fault', t.id) }}</b> at {{ nameOf('reach', t.reach).toLowerCase()
          }}<template v-if="t.severity">, {{ Math.round(t.severity * 100) }} % gone</template>.
          <TermedText :text="nameOf('fault', t.id, 'account')" />
          {{ t.mended ? 'It was put right.' : 'It is still there.' }}
        </p>
        <p class="muted">
          {{ a.minutes }} of {{ a.limit_minutes }} min · {{ a.money.toFixed(2) }} of {{ a.limit_money.toFixed(2) }} in
          parts<template v-for="w in a.wasted" :key="w.reach + w.act">
            · {{ nameOf('repair', w.act) }} at {{ nameOf('reach', w.reach).toLowerCase() }} mended nothing ({{
              w.cost.toFixed(2)
            }})</template
          >
        </p>
      </div>
      <ul class="bars">
        <li v-for="s in a.sections" :key="s.id">
          <span>{{ text(`section.${s.id}`) }}</span>
          <span class="bar" aria-hidden="true"><i :style="{ width: `${(100 * s.mark) / s.of}%` }"></i></span>
          <b class="figure">{{ s.mark }}/{{ s.of }}</b>
        </li>
      </ul>
    </section>

    <div class="cols">
      <div class="stack">
        <section class="panel">
          <div class="row">
            <h2 class="grow">What each minute taught</h2>
            <span class="muted small">bits left to know, by your own record</span>
          </div>
          <EvidenceCurve :points="a.points" :at="at" @at="at = $event" />
          <div class="row scrub no-print">
            <v-btn :disabled="at === 0" aria-label="Step back" @click="at--">←</v-btn>
            <v-slider
              v-model="at"
              class="grow"
              name="Step"
              :min="0"
              :max="a.points.length - 1"
              :step="1"
              :value-format="() => stepText(here)"
            />
            <v-btn :disabled="at === a.points.length - 1" aria-label="Step on" @click="at++"> → </v-btn>
            <span class="figure step">{{ here?.minutes }} min · {{ stepText(here) }}</span>
          </div>
        </section>
        <section class="panel">
          <h2>Readings</h2>
          <p v-if="a.readings.length === 0" class="muted">None was written down.</p>
          <div v-else class="scroll" tabindex="0" role="region" aria-label="Readings">
            <v-table>
              <thead>
                <tr>
                  <th>Test</th>
                  <th>Showed</th>
                  <th>A master's</th>
                  <th>You wrote</th>
                  <th>Set-up</th>
                  <th>Judged</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="r in a.readings" :key="`${r.seq}${r.part ?? ''}`">
                  <td>
                    <v-btn variant="text" class="to" @click="point(r.taken_at)">
                      {{ nameOf('test', r.test, 'title')
                      }}{{ r.part ? `, ${nameOf('part', r.part).toLowerCase()}` : '' }}
                    </v-btn>
                  </td>
                  <td class="figure">{{ told(r.shown) }}</td>
                  <td class="figure">{{ told(r.would_have) }}</td>
                  <td class="figure" :class="{ bad: !r.read_right }">
                    {{ typed(r) }}<span v-if="r.slip" class="why">{{ text(`slip.${r.slip}`) }}</span>
                  </td>
                  <td>
                    <span class="tag" :class="r.valid ? 'ok' : 'no'">{{ r.valid ? 'valid' : 'not valid' }}</span><span
                      v-for="m in r.missed"
                      :key="m"
                      class="why"
                      >{{ nameOf('condition', m, 'missed') }}</span
                    >
                  </td>
                  <td>
                    <span class="tag" :class="r.judged_right ? 'ok' : 'no'">{{
                      r.judged ? text(`band.${r.judged}`) : r.judged_right ? 'right' : 'wrong'
                    }}</span>
                  </td>
                </tr>
              </tbody>
            </v-table>
          </div>
        </section>
        <section v-for="s in a.sections" :key="s.id" class="panel">
          <div class="row">
            <h2 class="grow">{{ text(`section.${s.id}`) }}</h2>
            <b class="figure mark">{{ s.mark }} of {{ s.of }}</b>
          </div>
          <ul class="reasons">
            <li v-for="(r, i) in s.reasons" :key="i" :class="r.good ? 'ok' : 'no'">
              <span class="sign" aria-hidden="true">{{ r.good ? '✓' : '✕' }}</span>
              <span class="sr-only">{{ r.good ? 'Good: ' : 'Short: ' }}</span>
              <span class="grow">{{ reason(r) }}</span>
              <v-btn v-if="r.seq >= 0" variant="text" class="to no-print" @click="point(r.seq)">see the step</v-btn>
            </li>
          </ul>
        </section>
      </div>
      <div class="stack">
        <section class="panel">
          <div class="row">
            <h2 class="grow">Your board</h2>
            <span class="muted small">after {{ stepText(here) }}</span>
          </div>
          <LateralBoard
            small
            still
            :laterals="fam.laterals"
            :reaches="fam.reaches"
            :marks="here?.theirs ?? {}"
            label="Your board"
          />
        </section>
        <section class="panel">
          <div class="row">
            <h2 class="grow">What the evidence showed</h2>
            <span class="muted small">same step</span>
          </div>
          <LateralBoard
            small
            still
            :laterals="fam.laterals"
            :reaches="fam.reaches"
            :marks="here?.evidence ?? {}"
            label="What the evidence showed"
          />
          <ul class="differ small muted" aria-label="Where the two differ">
            <li v-for="x in differences" :key="x">{{ x }}</li>
            <li v-if="differences.length === 0">The two boards agree at this step.</li>
          </ul>
        </section>
        <section class="panel">
          <h2>Where the suspects stood at the end</h2>
          <v-table class="stand">
            <thead>
              <tr>
                <th>Fault</th>
                <th>as shown</th>
                <th>as written</th>
                <th>as if set up right</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="s in standings" :key="s.id" :class="{ truth: s.true }">
                <td>{{ nameOf('fault', s.id) }}<span v-if="s.true" class="why">this was it</span></td>
                <td class="figure">{{ pct(s.shown) }}</td>
                <td class="figure">{{ pct(s.recorded) }}</td>
                <td class="figure">{{ pct(s.valid) }}</td>
              </tr>
            </tbody>
          </v-table>
          <p class="small muted">
            Shown against written is misreading. Written against the last column is a set-up error carried into
            reasoning.
          </p>
        </section>
        <section class="panel">
          <h2>The machine as handed back</h2>
          <ul class="plain-list">
            <li v-for="h in a.handed_back" :key="h.kind + h.item">{{ left(h) }}</li>
            <li v-if="a.handed_back.length === 0">Everything in its place.</li>
          </ul>
          <p class="small muted">
            A proper repair takes {{ a.worth.parts.toFixed(0) }} in parts and {{ a.worth.minutes.toFixed(0) }} min,
            {{ a.worth.cost.toFixed(0) }} in all; a sound one is worth {{ a.worth.value.toFixed(0) }}. By the figures it
            is {{ a.worth.repair ? 'worth repairing' : 'not worth repairing' }}.
          </p>
        </section>
        <section v-if="a.makeshifts.length || a.skipped.length" class="panel">
          <h2>Makeshifts and precautions</h2>
          <ul class="plain-list">
            <li v-for="m in a.makeshifts" :key="m.act + m.reach">
              {{ nameOf('repair', m.act) }}, {{ nameOf('reach', m.reach).toLowerCase() }}.
              <template v-if="m.left.length"
                >It left behind:
                {{
                  m.left
                    .map((f) => nameOf('fault', f))
                    .join(', ')
                    .toLowerCase()
                }}.
              </template>
              {{ nameOf('repair', m.act, 'verdict') }}
            </li>
            <li v-for="s in a.skipped" :key="s.precaution">
              Not taken before “{{ nameOf('test', s.test, 'title').toLowerCase() }}”:
              {{ nameOf('action', s.precaution).toLowerCase() }}.
            </li>
          </ul>
        </section>
      </div>
    </div>
  </div>
  <div v-else class="page">
    <div v-if="debrief.isError.value" class="panel" role="alert">
      <h1>{{ capital((debrief.error.value as Refusal).what) }}</h1>
      <p>{{ capital((debrief.error.value as Refusal).mend) }}.</p>
      <router-link :to="session.home">To the start</router-link>
    </div>
    <div v-else-if="marking" class="panel stack" role="status">
      <h1>{{ capital(text('state.marking')) }} …</h1>
      <p>{{ text('debrief.marking') }}</p>
      <v-progress-linear indeterminate color="primary" :aria-label="text('state.marking')" />
    </div>
    <p v-else class="muted" role="status">{{ text('debrief.fetching') }}</p>
  </div>
</template>

<style scoped>
.verdict {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr) 330px;
  gap: 22px;
  align-items: center;
  border-left: 7px solid var(--condemned);
  border-radius: 4px 14px 14px 4px;
}
.verdict.good {
  border-color: var(--good);
}
.class {
  font: 600 30px/1.05 var(--label);
}
.class::first-letter {
  text-transform: uppercase;
}
.said {
  display: grid;
  gap: 6px;
}
.big {
  font-size: 17.5px;
  line-height: 1.3;
}
.bars {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 8px;
  font: 600 16px/1 var(--label);
}
.bars li {
  display: grid;
  grid-template-columns: 1fr 96px 56px;
  gap: 10px;
  align-items: center;
}
.bars b {
  text-align: right;
}
.bar {
  height: 9px;
  border-radius: 5px;
  background: var(--dry);
  overflow: hidden;
}
.bar i {
  display: block;
  height: 100%;
  background: #1f7885;
}
.cols {
  display: grid;
  grid-template-columns: minmax(0, 1.75fr) minmax(0, 1fr);
  gap: 12px;
}
.step {
  min-width: 210px;
  font-size: 17px;
}
.scroll {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
  margin-top: 6px;
}
th {
  text-align: left;
  font: 500 15px/1.1 var(--label);
  color: var(--muted);
  padding: 4px 10px 4px 0;
}
td {
  padding: 8px 10px 8px 0;
  border-top: 1px solid var(--line-soft);
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
.ok .sign,
.tag.ok {
  background: var(--good-bg);
  color: var(--good);
}
.no .sign,
.tag.no {
  background: var(--condemned-bg);
  color: var(--condemned-ink);
}
.stack .to {
  min-height: 24px;
  padding: 2px 0;
  color: var(--link);
  font: inherit;
  text-align: left;
  text-decoration: underline;
}
.reasons,
.plain-list {
  list-style: none;
  padding: 0;
  margin: 6px 0 0;
}
.reasons li {
  display: flex;
  gap: 10px;
  align-items: baseline;
  padding: 7px 0;
  border-top: 1px solid var(--line-soft);
}
.sign {
  flex: 0 0 24px;
  height: 24px;
  border-radius: 50%;
  display: grid;
  place-items: center;
  font-weight: 600;
  align-self: start;
}
.mark {
  font-size: 18px;
}
.stand td:first-child {
  font-size: 14.5px;
}
.truth td {
  background: var(--good-bg);
}
.truth .why {
  color: var(--good);
}
.differ {
  margin: 10px 0 0;
  padding-left: 18px;
}
.plain-list li::first-letter {
  text-transform: uppercase;
}
@media (max-width: 1000px) {
  .verdict,
  .cols {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
