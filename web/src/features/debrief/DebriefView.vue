<script setup lang="ts">
import '@/words/debrief'
import WhyBtn from '@/controls/WhyBtn.vue'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, Refusal, type Schema } from '@/api/client'
import LateralBoard from '@/board/LateralBoard.vue'
import { said } from '@/board/marks'
import { useFamily } from '@/features/bench/useFamily'
import { useSession } from '@/session/session'
import { capital, figure, nameOf, reason, text } from '@/words/words'
import DebriefStory from './DebriefStory.vue'
import EvidenceCurve from './EvidenceCurve.vue'
import LineMarks from './LineMarks.vue'
import OrderTable from './OrderTable.vue'
import ReadingsTable from './ReadingsTable.vue'
import ReviewPanel from './ReviewPanel.vue'
import SaidAtBench from './SaidAtBench.vue'
import SuspectTable from './SuspectTable.vue'
import TwoWays from './TwoWays.vue'
import { useReview, type NewAct } from './useReview'
import ProblemText from '@/words/ProblemText.vue'

const SeenPhotos = defineAsyncComponent(() => import('@/features/shop/SeenPhotos.vue'))
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
const mine = computed(() => session.me?.role === 'apprentice')
const blind = computed(() => d.value?.review.blind)
const router = useRouter()
const practice = useMutation({
  mutationFn: () => ask(api.POST('/api/attempts/{attempt}/practice', { params: { path: { attempt } } })),
  onSuccess: (v) => router.push(`/bench/${v.attempt}`),
})
const review = useReview(attempt, d)
/** The line whose marks are being changed, as "section/line". */
const changing = ref('')
function change(act: NewAct, kept: () => void) {
  review.act.mutate(act, {
    onSuccess: () => {
      kept()
      changing.value = ''
    },
  })
}
/** What a line gave before a person changed it. */
const was = (section: string, line: number) =>
  d.value?.review.changed.find((c) => c.section === section && c.line === line)?.was
/** The lines of a section with their places; what stands in a table above is not said again. */
const linesOf = (s: Schema['Section']) => [...s.reasons.entries()].filter(([, r]) => r.code !== 'order.costly')
/** Precautions that no section says anything of. */
const skipped = computed(() => (a.value?.sections.some((s) => s.id === 'safety') ? [] : (a.value?.skipped ?? [])))
const commentsAt = computed(
  () =>
    d.value?.review.acts.filter(
      (x) => x.kind === 'comment' && here.value && here.value.seq >= 0 && x.place === here.value.seq,
    ) ?? [],
)
const stepAt = (seq: number) => {
  const p = a.value?.points.findLast((x) => x.seq <= seq)
  return p && seq >= 0 ? stepText(p) : text('step.card')
}
const family = useFamily(() => d.value?.family)
const fam = computed(() => family.data.value)
const at = ref(0)
watch(a, (v) => v && (at.value = v.points.length - 1), { immediate: true })
const here = computed(() => a.value?.points[at.value])
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
const left = (h: Schema['Left']) => text('left.one', { left: `@left.${h.kind}.${h.item}`, item: h.item })
/** Where the two boards differ at this step, in words: reaches that differ alike are one line. */
const differences = computed(() => {
  const p = here.value
  const alike: Record<string, string[]> = {}
  for (const r of fam.value?.reaches ?? []) {
    const [yours, evidence] = [p?.theirs[r.id] ?? '', p?.evidence[r.id] ?? '']
    if (yours !== evidence) (alike[`${yours}/${evidence}`] ??= []).push(r.name)
  }
  return Object.entries(alike).map(([how, reaches]) => {
    const [yours, evidence] = how.split('/')
    return text('debrief.differs', { reaches: reaches.join(', '), yours: said(yours), evidence: said(evidence) })
  })
})
/** A reason points at a ledger entry: go to the step that stood there. */
function point(seq: number) {
  if (seq < 0 || !a.value) return
  const i = a.value.points.findLastIndex((p) => p.seq <= seq)
  if (i >= 0) at.value = i
}
const print = () => window.print()
const lower = (s: string) => s.toLowerCase()
// What is folded: open is where the most marks were lost; on paper everything is.
const parts = computed(() => [...(a.value?.sections.map((s) => s.id) ?? []), 'suspects', 'boards', 'back', 'care'])
const unfolded = ref<string[]>([])
const lost = (s: Schema['Section']) => s.of - s.mark
watch(
  a,
  (v) => {
    const worst = v?.sections.toSorted((p, q) => lost(q) - lost(p))[0]
    unfolded.value = worst && lost(worst) > 0 ? [worst.id] : []
  },
  { immediate: true },
)
const all = () => (unfolded.value = unfolded.value.length < parts.value.length ? parts.value : [])
useEventListener(window, 'beforeprint', () => (unfolded.value = parts.value))
</script>

<template>
  <div v-if="d && a && fam" class="page stack">
    <div class="row wrap">
      <h1>{{ text('debrief.title') }}</h1>
      <span class="muted">{{
        text('debrief.job', { number: d.job_number, machine: d.machine_name, code: d.machine_code, who: d.apprentice })
      }}</span>
      <span class="grow"></span>
      <v-btn class="no-print" @click="all">{{
        text(unfolded.length < parts.length ? 'debrief.unfold' : 'debrief.fold')
      }}</v-btn>
      <v-btn class="no-print" :to="`/debrief/${attempt}/inside`">{{ text('debrief.inside') }}</v-btn>
      <v-btn class="no-print" @click="print">{{ text('debrief.print') }}</v-btn>
      <v-btn class="no-print" :to="session.home">{{ text('debrief.done') }}</v-btn>
    </div>

    <DebriefStory
      v-if="!blind"
      :of="a"
      :practise="d.practise"
      :mine="mine"
      :busy="practice.isPending.value"
      @practise="practice.mutate()"
    />
    <p v-if="practice.isError.value" role="alert"><ProblemText :of="practice.error.value as Refusal" /></p>
    <ReviewPanel v-if="blind" :of="d" :at="at" :step-at="stepAt" @point="point" />

    <SaidAtBench :attempt="attempt" />
    <div class="two">
      <section class="panel">
        <div class="row">
          <h2 class="grow">{{ text('debrief.your-board') }}</h2>
          <span class="muted small">{{ text('debrief.after', { step: stepText(here) }) }}</span>
        </div>
        <LateralBoard
          small
          still
          :laterals="fam.laterals"
          :reaches="fam.reaches"
          :marks="here?.theirs ?? {}"
          :label="text('debrief.your-board')"
        />
      </section>
      <section class="panel">
        <div class="row">
          <h2 class="grow">{{ text('debrief.evidence-board') }}</h2>
          <span class="muted small">{{ text('debrief.same-step') }}</span>
        </div>
        <LateralBoard
          small
          still
          :laterals="fam.laterals"
          :reaches="fam.reaches"
          :marks="here?.evidence ?? {}"
          :label="text('debrief.evidence-board')"
        />
      </section>
    </div>
    <SeenPhotos :attempt="attempt" />
    <section class="panel">
      <div class="row">
        <h2 class="grow">{{ text('debrief.minutes-taught') }}</h2>
        <span class="muted small">{{ text('debrief.bits') }}</span>
      </div>
      <EvidenceCurve :points="a.points" :at="at" :step="stepText" @at="at = $event" />
      <div class="row wrap scrub no-print">
        <WhyBtn :not="at === 0 ? text('state.first-step') : ''" :aria-label="text('state.step-back')" @click="at--"
          >←</WhyBtn
        >
        <v-slider
          v-model="at"
          class="grow"
          :name="text('debrief.step')"
          :min="0"
          :max="a.points.length - 1"
          :step="1"
          :value-format="() => stepText(here)"
        />
        <WhyBtn
          :not="at === a.points.length - 1 ? text('state.last-step') : ''"
          :aria-label="text('state.step-on')"
          @click="at++"
          >→</WhyBtn
        >
        <span class="figure step">{{
          text('debrief.here', { minutes: here?.minutes ?? 0, step: stepText(here) })
        }}</span>
        <span class="figure">{{
          text('debrief.left', { n: here?.candidates ?? 0, bits: here?.bits.toFixed(1) ?? '' })
        }}</span>
      </div>
      <TwoWays v-if="a.economy.reference.length && !blind" :of="a" :at="at" :step="stepText" @at="at = $event" />
      <p v-for="x in commentsAt" :key="x.seq" class="comment">
        <b>{{ x.by }}</b> {{ x.text }}
      </p>
    </section>

    <div class="cols">
      <section v-if="blind" class="panel"><ReadingsTable blind :readings="a.readings" @point="point" /></section>
      <v-expansion-panels v-else v-model="unfolded" multiple>
        <v-expansion-panel v-for="s in a.sections" :key="s.id" :value="s.id">
          <v-expansion-panel-title>
            <h2 class="grow">{{ text(`section.${s.id}`) }}</h2>
            <b class="figure">{{ text('state.mark', { mark: s.mark, of: s.of }) }}</b>
          </v-expansion-panel-title>
          <v-expansion-panel-text eager>
            <ReadingsTable v-if="s.id === 'readings'" :readings="a.readings" @point="point" />
            <OrderTable v-if="s.id === 'order'" :order="a.order" @point="point" />
            <ul class="reasons" :class="{ 'no-print': s.id === 'readings' && a.readings.length }">
              <li v-for="[i, r] in linesOf(s)" :key="i" :class="r.good ? 'ok' : 'no'">
                <span class="sign" aria-hidden="true">{{ r.good ? '✓' : '✕' }}</span>
                <span class="sr-only">{{ text(r.good ? 'debrief.good' : 'debrief.short') }}</span>
                <span class="grow">
                  {{ reason(r) }}
                  <span v-if="was(s.id, i) !== undefined" class="changed">{{
                    text('review.was', { was: was(s.id, i), now: r.marks })
                  }}</span>
                </span>
                <b v-if="r.of || r.marks" class="figure">{{
                  r.of ? text('state.mark', { mark: r.marks, of: r.of }) : `−${figure(-r.marks)}`
                }}</b>
                <v-btn
                  v-if="d.review.may.includes('line') && (r.of || r.marks)"
                  variant="text"
                  class="to no-print"
                  :aria-label="text('review.change-line', { line: reason(r) })"
                  @click="changing = `${s.id}/${i}`"
                  >{{ text('review.change') }}</v-btn
                >
                <v-btn v-if="r.seq >= 0" variant="text" class="to no-print" @click="point(r.seq)">{{
                  text('debrief.see-step')
                }}</v-btn>
                <LineMarks
                  v-if="changing === `${s.id}/${i}`"
                  :attempt="attempt"
                  :section="s.id"
                  :line="i"
                  :of="r"
                  :busy="review.act.isPending.value"
                  @gave="change"
                  @away="changing = ''"
                />
                <p v-if="changing === `${s.id}/${i}` && review.refusal.value" role="alert" class="refused">
                  <ProblemText :of="review.refusal.value" />
                </p>
              </li>
            </ul>
          </v-expansion-panel-text>
        </v-expansion-panel>
      </v-expansion-panels>
      <div class="stack">
        <ReviewPanel v-if="!blind" :of="d" :at="at" :step-at="stepAt" @point="point" />
        <v-expansion-panels v-model="unfolded" multiple>
          <v-expansion-panel value="suspects">
            <v-expansion-panel-title>
              <h2>{{ text('debrief.suspects') }}</h2>
            </v-expansion-panel-title>
            <v-expansion-panel-text eager><SuspectTable :of="a" /></v-expansion-panel-text>
          </v-expansion-panel>
          <v-expansion-panel value="boards">
            <v-expansion-panel-title>
              <h2>{{ text('debrief.differ') }}</h2>
            </v-expansion-panel-title>
            <v-expansion-panel-text eager>
              <ul class="plain-list">
                <li v-for="x in differences" :key="x">{{ x }}</li>
                <li v-if="differences.length === 0">{{ text('debrief.agree') }}</li>
              </ul>
            </v-expansion-panel-text>
          </v-expansion-panel>
          <v-expansion-panel value="back">
            <v-expansion-panel-title>
              <h2>{{ text('debrief.handed-back') }}</h2>
            </v-expansion-panel-title>
            <v-expansion-panel-text eager>
              <ul class="plain-list">
                <li v-for="h in a.handed_back" :key="h.kind + h.item">{{ left(h) }}</li>
                <li v-if="a.handed_back.length === 0">{{ text('debrief.all-in-place') }}</li>
              </ul>
              <p class="small muted">
                {{
                  text(a.worth.repair ? 'debrief.worth' : 'debrief.not-worth', {
                    parts: a.worth.parts.toFixed(0),
                    minutes: a.worth.minutes.toFixed(0),
                    cost: a.worth.cost.toFixed(0),
                    value: a.worth.value.toFixed(0),
                  })
                }}
              </p>
            </v-expansion-panel-text>
          </v-expansion-panel>
          <v-expansion-panel v-if="a.makeshifts.length || skipped.length" value="care">
            <v-expansion-panel-title>
              <h2 class="grow">{{ text('debrief.makeshifts') }}</h2>
              <b class="figure">{{ a.makeshifts.length + skipped.length }}</b>
            </v-expansion-panel-title>
            <v-expansion-panel-text eager>
              <ul class="plain-list">
                <li v-for="m in a.makeshifts" :key="m.act + m.reach">
                  {{
                    text('debrief.makeshift', {
                      work: nameOf('repair', m.act),
                      where: lower(nameOf('reach', m.reach)),
                      left: m.left.length
                        ? text('debrief.left-behind', { what: lower(m.left.map((f) => nameOf('fault', f)).join(', ')) })
                        : '',
                      verdict: nameOf('repair', m.act, 'verdict'),
                    })
                  }}
                </li>
                <li v-for="s in skipped" :key="s.precaution">
                  {{
                    text('debrief.skipped', {
                      test: lower(nameOf('test', s.test, 'title')),
                      what: lower(nameOf('action', s.precaution)),
                    })
                  }}
                </li>
              </ul>
            </v-expansion-panel-text>
          </v-expansion-panel>
        </v-expansion-panels>
      </div>
    </div>
  </div>
  <div v-else class="page">
    <div v-if="debrief.isError.value" class="panel" role="alert">
      <h1>{{ capital((debrief.error.value as Refusal).what) }}</h1>
      <p>{{ capital((debrief.error.value as Refusal).mend) }}.</p>
      <router-link :to="session.home">{{ text('state.to-start') }}</router-link>
    </div>
    <div v-else-if="marking" class="panel stack" role="status">
      <h1>{{ capital(text('state.marking')) }} …</h1>
      <p>{{ text('debrief.marking') }}</p>
      <v-progress-linear indeterminate color="primary" :aria-label="text('state.marking')" />
    </div>
    <WaitingFor v-else :what="text('debrief.fetching')" as="heading, article, image, article" />
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
.cols {
  display: grid;
  grid-template-columns: minmax(0, 1.75fr) minmax(0, 1fr);
  gap: 12px;
  align-items: start;
}
.scrub .grow {
  min-width: 120px;
}
.step {
  min-width: 210px;
  font-size: 17px;
}
.page :deep(.to) {
  min-height: 24px;
  padding: 2px 0;
  color: var(--link);
  font: inherit;
  text-align: left;
  text-decoration: underline;
}
.ok .sign {
  background: var(--good-bg);
  color: var(--good);
}
.no .sign {
  background: var(--condemned-bg);
  color: var(--condemned-ink);
}
.reasons,
.plain-list {
  list-style: none;
  padding: 0;
  margin: 0;
}
.changed {
  color: var(--suspect-ink);
  background: var(--suspect-bg);
  border-radius: 6px;
  padding: 0 6px;
}
.comment {
  margin: 8px 0 0;
  padding: 6px 12px;
  border-left: 4px solid var(--water-2);
}
.refused {
  flex-basis: 100%;
  color: var(--condemned-ink);
}
.reasons li {
  display: flex;
  flex-wrap: wrap;
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
.cols :deep(.v-expansion-panel-title) {
  min-height: 44px;
  padding-block: 4px;
}
.cols :deep(.v-expansion-panels) {
  gap: 6px;
}
.plain-list li::first-letter {
  text-transform: uppercase;
}
@media (max-width: 1000px) {
  .two,
  .cols {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media print {
  .two {
    grid-template-columns: 1fr 1fr;
  }
  /* Two sides of paper, with room for a job that was less tidy. */
  .page {
    font-size: 12px;
    zoom: 0.86;
  }
  .page,
  .cols,
  .two {
    gap: 6px;
  }
  .panel {
    padding-block: 7px;
  }
  .reasons li {
    padding: 3px 0;
  }
  .cols {
    grid-template-columns: minmax(0, 1fr);
  }
  .cols :deep(.v-expansion-panels) {
    display: grid;
    grid-template-columns: 1fr 1fr;
    align-items: start;
    gap: 6px;
  }
  .cols :deep(.v-expansion-panel:first-child) {
    grid-column: 1 / -1;
  }
  .cols :deep(.v-table td) {
    height: 26px;
  }
}
</style>
