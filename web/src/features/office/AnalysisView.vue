<script setup lang="ts">
import '@/words/office'
import '@/words/debrief'
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import SensedList from './SensedList.vue'
import { capital, nameOf, places, sentence, text } from '@/words/words'

/** What a class gets wrong together, and what to teach next. */
const { id } = defineProps<{ id: string }>()
type Lesson = Schema['Analysis']['teach'][number]
const analysis = useQuery({
  queryKey: ['analysis', id],
  queryFn: () => ask(api.GET('/api/classes/{class}/analysis', { params: { path: { class: id } } })),
})
const d = computed(() => analysis.data.value)
const a = computed(() => d.value?.analysis)

const reach = (r: string) => (r ? nameOf('reach', r) : capital(text('office.nothing-named')))
const test = (t: string) => nameOf('test', t, 'title')
/** What something is called, in words. */
function lesson(l: Lesson) {
  if (l.kind === 'apart') return text('office.lesson-apart', { reach: reach(l.a), other: reach(l.b) })
  if (l.kind === 'order') return text('office.lesson-order', { better: test(l.b), test: test(l.a) })
  return text('office.lesson-set-up', { test: test(l.a), condition: nameOf('condition', l.b, 'missed') })
}
const dearest = computed(() => Math.max(...(a.value?.teach ?? []).map((l) => l.minutes), 1))

// The matrix: those reaches that were hidden down, what was named across, in the same order.
const rows = computed(() => [...new Set(a.value?.confused.map((c) => c.true))].sort())
const cols = computed(() => [
  ...new Set([...rows.value, ...(a.value?.confused.map((c) => c.named).filter((n) => n) ?? [])]),
  ...(a.value?.confused.some((c) => !c.named) ? [''] : []),
])
const times = computed(() => new Map(a.value?.confused.map((c) => [`${c.true}/${c.named}`, c.times])))
const most = computed(() => Math.max(...times.value.values(), 1))
const shade = (n: number) => `${Math.round(15 + (75 * n) / most.value)}%`
/** Three times best and less than half taken: said of tests that are worth a word. */
const LEAST_BEST = 3
const distrusted = computed(
  () => a.value?.trust.filter((t) => t.best >= LEAST_BEST && 2 * t.taken < t.best).slice(0, 8) ?? [],
)
const setUps = computed(() => a.value?.set_ups.slice(0, 8) ?? [])
const per = (n: number, of: number) => `${Math.round((100 * n) / Math.max(of, 1))}%`
const two = (x: number) => places(x, 2)
</script>

<template>
  <div class="page stack">
    <WaitingFor v-if="analysis.isPending.value" :what="text('office.analysis-fetching')" as="image, table-tbody" />
    <p v-else-if="!d || !a" class="panel" role="alert">{{ sentence(analysis.error.value as Refusal) }}</p>
    <template v-else>
      <div class="row wrap">
        <h1>{{ text('office.analysis-of', { title: d.title }) }}</h1>
        <span class="muted">{{ text('office.analysis-from', { n: a.attempts }) }}</span>
        <span class="grow"></span>
        <v-btn :to="`/classes/${id}`">{{ text('office.work-of') }}</v-btn>
      </div>
      <SensedList :sensed="d.sensed" />
      <p v-if="a.attempts === 0" class="panel">{{ text('office.analysis-none') }}</p>
      <template v-else>
        <section class="panel stack" :aria-label="text('office.teach')">
          <h2>{{ text('office.teach') }}</h2>
          <p class="muted small">{{ text(a.teach.length ? 'office.teach-lead' : 'office.teach-none') }}</p>
          <ol class="bars">
            <li v-for="(l, i) in a.teach" :key="i">
              <span class="grow">{{ lesson(l) }}</span>
              <span class="figure">{{ text('office.cost', { minutes: Math.round(l.minutes), times: l.times }) }}</span>
              <span class="bar" aria-hidden="true" :style="{ width: per(l.minutes, dearest) }"></span>
            </li>
          </ol>
        </section>
        <section class="panel stack scroll" tabindex="0" role="region" :aria-label="text('office.matrix')">
          <h2>{{ text('office.matrix') }}</h2>
          <p class="muted small">{{ text('office.matrix-lead') }}</p>
          <table class="matrix">
            <thead>
              <tr>
                <th scope="col">{{ text('office.true-down') }}</th>
                <th v-for="c in cols" :key="c" scope="col">{{ reach(c) }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="r in rows" :key="r">
                <th scope="row">{{ reach(r) }}</th>
                <td
                  v-for="c in cols"
                  :key="c"
                  :class="{ right: r === c, wrong: r !== c && times.get(`${r}/${c}`) }"
                  :style="{ '--much': shade(times.get(`${r}/${c}`) ?? 0) }"
                  :aria-label="
                    text('office.matrix-cell', { reach: reach(r), other: reach(c), times: times.get(`${r}/${c}`) ?? 0 })
                  "
                >
                  {{ times.get(`${r}/${c}`) ?? '' }}
                </td>
              </tr>
            </tbody>
          </table>
        </section>
        <div class="two">
          <section class="panel stack">
            <h2>{{ text('office.turns') }}</h2>
            <p v-if="a.turns.length === 0" class="muted">{{ text('office.no-turns') }}</p>
            <v-table v-else density="compact" class="plain">
              <thead>
                <tr>
                  <th v-for="h in ['made', 'better', 'times', 'cost']" :key="h" scope="col">
                    {{ text(`office.h-${h}`) }}
                  </th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="t in a.turns" :key="t.test + t.better">
                  <td>{{ test(t.test) }}</td>
                  <td>{{ test(t.better) }}</td>
                  <td class="figure">{{ t.times }}</td>
                  <td class="figure">{{ Math.round(t.minutes) }}</td>
                </tr>
              </tbody>
            </v-table>
          </section>
          <section class="panel stack">
            <h2>{{ text('office.difficulty') }}</h2>
            <v-table density="compact" class="plain">
              <thead>
                <tr>
                  <th v-for="h in ['row-job', 'level', 'competent', 'ratio', 'looks']" :key="h" scope="col">
                    {{ h === 'row-job' ? text('record.h-job') : text(`office.h-${h}`) }}
                  </th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="j in a.jobs" :key="j.giving">
                  <td>{{ text('office.job', { number: d.numbers[j.giving] }) }}</td>
                  <td class="figure">{{ j.level || '–' }}</td>
                  <td class="figure">{{ text('office.of-best', { taken: j.competent, best: j.attempts }) }}</td>
                  <td class="figure">{{ two(j.ratio) }}</td>
                  <td :class="{ warn: j.looks !== 'fair' }">{{ text(`office.looks.${j.looks}`) }}</td>
                </tr>
              </tbody>
            </v-table>
          </section>
          <section class="panel stack">
            <h2>{{ text('office.trust') }}</h2>
            <p class="muted small">{{ text('office.trust-lead') }}</p>
            <p v-if="distrusted.length === 0" class="muted">{{ text('office.all-trusted') }}</p>
            <ul class="bars">
              <li v-for="t in distrusted" :key="t.test">
                <span class="grow">{{ test(t.test) }}</span>
                <span class="figure">{{ text('office.of-best', { taken: t.taken, best: t.best }) }}</span>
                <span class="bar" aria-hidden="true" :style="{ width: per(t.taken, t.best) }"></span>
              </li>
            </ul>
          </section>
          <section class="panel stack">
            <h2>{{ text('office.setups') }}</h2>
            <p v-if="setUps.length === 0" class="muted">{{ text('office.all-set-up') }}</p>
            <ul class="bars">
              <li v-for="s in setUps" :key="s.test + s.condition">
                <span class="grow">{{ test(s.test) }}: {{ nameOf('condition', s.condition, 'missed') }}</span>
                <span class="figure">{{ text('office.missed-of', { missed: s.missed, made: s.made }) }}</span>
                <span class="bar bad" aria-hidden="true" :style="{ width: per(s.missed, s.made) }"></span>
              </li>
            </ul>
            <h2>{{ text('office.markers') }}</h2>
            <p>
              {{
                a.markers.n
                  ? text('office.markers-kappa', {
                      kappa: two(a.markers.kappa),
                      low: two(a.markers.low),
                      high: two(a.markers.high),
                      n: a.markers.n,
                    })
                  : text('office.markers-none')
              }}
            </p>
          </section>
        </div>
      </template>
    </template>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  align-items: start;
}
.plain {
  background: transparent;
}
.bars {
  margin: 0;
  padding: 0;
  list-style-position: inside;
}
ul.bars {
  list-style: none;
}
.bars li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  padding: 7px 0;
  border-top: 1px solid var(--line-soft);
}
.bar {
  flex-basis: auto;
  height: 6px;
  border-radius: 3px;
  background: var(--water-2);
}
.bars li .bar {
  margin-right: auto;
}
.bars li::after {
  content: '';
  flex-basis: 100%;
  height: 0;
  order: 1;
}
.bar {
  order: 2;
}
.bar.bad {
  background: var(--condemned);
}
.scroll {
  overflow-x: auto;
}
.matrix {
  width: max-content;
  border-collapse: separate;
  border-spacing: 4px;
}
.matrix th {
  font: 600 14px/1.2 var(--label);
  color: var(--muted);
  text-align: start;
  vertical-align: bottom;
  max-width: 92px;
}
.matrix th[scope='row'] {
  color: var(--ink);
  max-width: none;
  white-space: nowrap;
  vertical-align: middle;
  padding-right: 8px;
}
.matrix td {
  width: 56px;
  height: 40px;
  text-align: center;
  border-radius: 6px;
  background: var(--dry);
  font: 600 17px/1 var(--label);
}
.matrix td.right {
  border: 2px solid var(--good);
  background: color-mix(in srgb, var(--water-2) calc(var(--much) * 0.6), var(--dry));
}
.matrix td.wrong {
  background: color-mix(in srgb, var(--condemned) calc(var(--much) * 0.6), var(--dry));
}
.warn {
  color: var(--suspect-ink);
  font-weight: 600;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
