<script setup lang="ts">
import '@/words/office'
import '@/words/debrief'
import '@/words/shop'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import SensedList from './SensedList.vue'
import { capital, moment, nameOf, places, sentence, text } from '@/words/words'

/** What somebody has shown: skills by path, each square with the jobs behind it. */
const { person } = defineProps<{ person: string }>()
type Square = Schema['RecordSquare']
const SKILLS = ['readings', 'conclusion', 'economy', 'order', 'safety', 'proof'] as const
const LATERALS = ['fuel', 'air', 'spark', 'compression']
const TREND = 0.05 // under which it is level

const record = useQuery({
  queryKey: ['record', person],
  queryFn: () => ask(api.GET('/api/people/{person}/record', { params: { path: { person } } })),
})
const d = computed(() => record.data.value)
const squares = computed(() => new Map(d.value?.record.squares.map((q) => [`${q.skill}/${q.lateral}`, q])))
const attempts = computed(() => new Map(d.value?.record.attempts.map((a) => [a.id, a])))
const chosen = ref('')
const at = computed(() => squares.value.get(chosen.value))
const behind = computed(() =>
  (at.value?.evidence ?? [])
    .flatMap((e) => {
      const a = attempts.value.get(e.attempt)
      return a ? [{ ...a, score: e.score }] : []
    })
    .reverse(),
)
const percent = (x: number) => Math.round(100 * x)
const trend = (q: Square) => (q.trend > TREND ? 'up' : q.trend < -TREND ? 'down' : 'level')
const ARROW = { up: '↗', down: '↘', level: '→' }
const named = (skill: string, lateral: string) => ({
  skill: text(`section.${skill}`),
  lateral: nameOf('lateral', lateral).toLowerCase(),
})
function says(skill: string, lateral: string) {
  const q = squares.value.get(`${skill}/${lateral}`)
  if (!q) return text('record.square-empty', named(skill, lateral))
  return text('record.square', {
    ...named(skill, lateral),
    score: percent(q.score),
    shown: text(q.shown ? 'record.shown' : 'record.not-shown'),
    trend: text(`record.${trend(q)}`),
    n: q.evidence.length,
  })
}
const hours = computed(() => places((d.value?.record.minutes ?? 0) / 60, 1))
const print = () => window.print()
</script>

<template>
  <div class="page stack">
    <WaitingFor v-if="record.isPending.value" :what="text('record.fetching')" as="heading, image, table-tbody" />
    <p v-else-if="!d" class="panel" role="alert">{{ sentence(record.error.value as Refusal) }}</p>
    <template v-else>
      <div class="row wrap">
        <h1>{{ text('record.of', { name: d.person.display_name }) }}</h1>
        <span class="muted">{{ d.classes.join(', ') }}</span>
        <span class="grow"></span>
        <v-btn class="no-print" :href="`/api/people/${person}/record.csv`" download="record.csv">{{
          text('record.csv')
        }}</v-btn>
        <v-btn class="no-print" @click="print">{{ text('record.print') }}</v-btn>
      </div>
      <ul class="sums">
        <li class="panel">
          <b>{{ d.record.attempts.length }}</b> {{ text('record.sums-jobs') }}
        </li>
        <li class="panel">
          <b>{{ d.record.competent }}</b> {{ text('record.sums-competent') }}
        </li>
        <li class="panel">
          <b>{{ hours }}</b> {{ text('record.sums-hours') }}
        </li>
      </ul>
      <div class="two">
        <section class="panel stack" :aria-label="text('record.squares')">
          <h2>{{ text('record.squares') }}</h2>
          <p v-if="d.record.squares.length === 0">{{ text('record.none') }}</p>
          <div class="squares" role="grid" :aria-label="text('record.squares')">
            <div role="row" class="head">
              <span role="columnheader"
                ><span class="sr-only">{{ text('record.skill') }}</span></span
              >
              <b v-for="l in LATERALS" :key="l" role="columnheader">{{ nameOf('lateral', l) }}</b>
            </div>
            <div v-for="s in SKILLS" :key="s" role="row">
              <b role="rowheader">{{ text(`section.${s}`) }}</b>
              <span v-for="l in LATERALS" :key="l" role="gridcell">
                <v-btn
                  v-if="squares.get(`${s}/${l}`)"
                  class="square"
                  variant="flat"
                  :class="{ shown: squares.get(`${s}/${l}`)!.shown, at: chosen === `${s}/${l}` }"
                  :aria-label="says(s, l)"
                  :aria-pressed="chosen === `${s}/${l}`"
                  @click="chosen = `${s}/${l}`"
                >
                  <span
                    class="water"
                    aria-hidden="true"
                    :style="{ width: `${percent(squares.get(`${s}/${l}`)!.score)}%` }"
                  ></span>
                  <span class="figure">{{ percent(squares.get(`${s}/${l}`)!.score) }}</span>
                  <span aria-hidden="true">{{ ARROW[trend(squares.get(`${s}/${l}`)!)] }}</span>
                  <span v-if="squares.get(`${s}/${l}`)!.shown" class="tick" aria-hidden="true">✓</span>
                </v-btn>
                <span v-else class="dry" :aria-label="says(s, l)" role="img">–</span>
              </span>
            </div>
          </div>
          <p class="small muted">{{ text('record.rule') }}</p>
        </section>
        <section class="panel stack no-print">
          <h2>{{ at ? text('record.behind', named(at.skill, at.lateral)) : text('record.jobs') }}</h2>
          <p v-if="!at && d.record.attempts.length" class="muted small">{{ text('record.choose') }}</p>
          <ul class="behind">
            <li v-for="a in behind" :key="a.id">
              <router-link :to="`/debrief/${a.id}`"
                >{{ text('jobs.number', { number: a.job }) }}, {{ a.machine }}</router-link
              >
              <span class="muted small">{{ moment(a.at) }}</span>
              <span v-if="a.practice" class="purpose">{{ text('jobs.practice') }}</span>
              <span v-if="a.untested" class="purpose">{{ text('record.untested') }}</span>
              <b class="figure">{{ percent(a.score) }}</b>
            </li>
          </ul>
        </section>
      </div>
      <section v-if="d.standard" class="panel stack" :aria-label="d.standard">
        <h2>{{ d.standard }}</h2>
        <ul class="lines">
          <li v-for="m in d.stands" :key="m.code" :class="{ met: m.of > 0 && m.shown === m.of }">
            <span class="sign" aria-hidden="true">{{ m.of > 0 && m.shown === m.of ? '✓' : '○' }}</span>
            <b>{{ m.code }}</b>
            <span class="grow">{{ m.text }}</span>
            <span class="figure">{{ text('record.stands', { shown: m.shown, of: m.of }) }}</span>
          </li>
        </ul>
      </section>
      <SensedList :sensed="d.sensed" />
      <section v-if="d.observed.length" class="panel stack" :aria-label="text('record.observed')">
        <h2>{{ text('record.observed') }}</h2>
        <ul class="lines">
          <li v-for="o in d.observed" :key="`${o.attempt}/${o.kind}/${o.item}`">
            <span class="grow">{{ text(`shop.${o.kind}.${o.item}`) }}</span>
            <span class="muted">{{
              text('record.observed-by', { initials: o.initials, by: o.by, at: moment(o.at!) })
            }}</span>
          </li>
        </ul>
      </section>
      <section v-if="d.record.attempts.length" class="panel" :aria-label="text('record.jobs')">
        <v-table density="compact" class="jobs">
          <thead>
            <tr>
              <th v-for="h in ['job', 'when', 'outcome', 'mark', 'minutes']" :key="h" scope="col">
                {{ text(`record.h-${h}`) }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="a in d.record.attempts" :key="a.id">
              <th scope="row">
                <router-link :to="`/debrief/${a.id}`"
                  >{{ text('jobs.number', { number: a.job }) }}, {{ a.machine }}</router-link
                >
                <span v-if="a.practice" class="purpose">{{ text('jobs.practice') }}</span>
                <span v-if="a.untested" class="purpose">{{ text('record.untested') }}</span>
                <span v-for="(c, i) in a.comments" :key="i" class="said">{{ c }}</span>
              </th>
              <td>{{ moment(a.at) }}</td>
              <td>
                {{ capital(text(`outcome.${a.outcome}`)) }}
                <span v-if="a.signed" class="good">✓ {{ text('record.signed') }}</span>
              </td>
              <td class="figure">{{ text('state.mark', { mark: a.mark, of: a.of }) }}</td>
              <td class="figure">{{ Math.round(a.minutes) }}</td>
            </tr>
          </tbody>
        </v-table>
      </section>
    </template>
  </div>
</template>

<style scoped>
.sums b {
  font: 600 26px/1 var(--label);
  margin-right: 6px;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1.9fr) minmax(0, 1fr);
  gap: 12px;
  align-items: start;
}
.squares {
  display: grid;
  gap: 6px;
  overflow-x: auto;
}
.squares > div {
  display: grid;
  grid-template-columns: 150px repeat(4, minmax(88px, 1fr));
  gap: 6px;
  align-items: center;
}
.head b {
  color: var(--muted);
}
.square.square {
  position: relative;
  width: 100%;
  min-height: 48px;
  overflow: hidden;
  background: var(--dry);
  color: var(--ink);
  border: 2px solid transparent;
}
.square .water {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--water-2);
  opacity: 0.35;
}
.square :deep(.v-btn__content) {
  gap: 8px;
}
.square .figure,
.square .tick,
.square :deep(.v-btn__content) > span:not(.water) {
  position: relative;
}
.square.at {
  border-color: var(--ink);
}
.square.shown {
  border-bottom: 5px solid var(--good);
}
.tick {
  color: var(--good);
  font-weight: 700;
  margin-left: 6px;
}
.dry {
  display: grid;
  place-items: center;
  min-height: 48px;
  border: 1.5px dashed var(--line);
  border-radius: 10px;
  color: var(--muted);
}
.behind,
.lines {
  list-style: none;
  margin: 0;
  padding: 0;
}
.behind li,
.lines li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: baseline;
  padding: 8px 0;
  border-top: 1px solid var(--line-soft);
}
.behind b {
  margin-left: auto;
}
.met .sign,
.good {
  color: var(--good);
}
.good {
  display: block;
}
.said {
  display: block;
  font-weight: 400;
  font-size: 14px;
  color: var(--muted);
}
.jobs {
  background: transparent;
}
.jobs th[scope='row'] {
  font-weight: 500;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media print {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
