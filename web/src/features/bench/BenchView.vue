<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { Schema } from '@/api/client'
import LateralBoard from '@/board/LateralBoard.vue'
import MarkBar from '@/board/MarkBar.vue'
import { upTo, type Mark } from '@/board/marks'
import { useLocalStorage } from '@/session/useLocalStorage'
import { useSession } from '@/session/session'
import BenchHead from './BenchHead.vue'
import MachineDrawing from '@/machine/MachineDrawing.vue'
import ControlsStrip from './ControlsStrip.vue'
import InstrumentPanel from './InstrumentPanel.vue'
import LedgerList from './LedgerList.vue'
import PagePanel from './PagePanel.vue'
import ShortcutSheet from './ShortcutSheet.vue'
import TestTray from './TestTray.vue'
import ThumbBar from './ThumbBar.vue'
import { inWords } from './acts'
import { useBench } from './useBench'
import { useFamily } from './useFamily'
import ProblemText from '@/words/ProblemText.vue'
import { sentence, text } from '@/words/words'

const AidsPanel = defineAsyncComponent(() => import('@/features/aids/AidsPanel.vue'))
// For whoever tries a job of their own; its words come with it.
const LookBehind = defineAsyncComponent(() => import('./LookBehind.vue'))
// First steps are for a few, and come once the bench stands.
const FirstSteps = defineAsyncComponent(() => import('@/features/first/FirstSteps.vue'))
// What is said with who teaches comes once the bench stands.
const BenchTalk = defineAsyncComponent(() => import('./BenchTalk.vue'))
// A real engine has no instrument of ours on it: what a hand reads is typed in.
const HandPanel = defineAsyncComponent(() => import('@/features/shop/HandPanel.vue'))
const attempt = String(useRoute().params.attempt)
const session = useSession()
const { bench, busy, slow, offline, refusal, aside, notice, queue, load, act } = useBench(attempt)
const family = useFamily(() => bench.value?.family)
const at = useLocalStorage(`focus.${attempt}`, 'tank')
const chosen = ref<string>()
const sheet = ref(false)
const aids = ref(false)
const fam = computed(() => family.data.value)
// Parts of the bench that an act leaves as they were keep their identity, so that what
// shows them is not drawn anew.
const ledger = computed(() => bench.value?.ledger ?? [])
// What waits in line is shown as if it were done, where the server could not answer otherwise.
const shownControls = computed(() => {
  const moved = queue.value.flatMap(({ event: e }) => (e.kind === 'control' ? [e.control] : []))
  const at = bench.value?.controls ?? {}
  return moved.length ? Object.assign({}, at, ...moved) : at
})
const shownMarks = computed<Record<string, Mark>>(() => {
  const made = queue.value.flatMap(({ event: e }) => (e.kind === 'mark' && e.reach ? [[e.reach, e.mark ?? '']] : []))
  const marks = bench.value?.board ?? {}
  return made.length ? { ...marks, ...Object.fromEntries(made) } : marks
})
const waiting = computed(() =>
  slow.value || offline.value ? queue.value.map((q) => ({ id: q.client_id, text: inWords(q.event, fam.value) })) : [],
)
// The controls that this machine has; drawn anew when one comes or goes, not at every act.
const has = computed(() => bench.value?.has)
const controls = computed(() => fam.value?.controls.filter((c) => has.value?.includes(c.id)) ?? [])
// Who looks over a shoulder does nothing; a first job, or one that its author tries, is one's own, whoever one is.
const open = computed(() => ['new', 'in-hand'].includes(bench.value?.state ?? ''))
const mine = computed(
  () =>
    (session.me?.role === 'apprentice' || !!bench.value?.first || !!bench.value?.trial || typing.value) && open.value,
)
// What somebody wrote on paper at a real engine is typed in by who teaches too.
const typing = ref(false)
const mayType = computed(() => !!bench.value?.iron && session.me?.role === 'instructor' && open.value)
const paused = ref(false)
const still = computed(() => slow.value || !mine.value || paused.value)

function send(...events: Schema['Event'][]) {
  if (!mine.value || paused.value) return
  // What is chosen stays so while hands go to a control, a cover or a precaution.
  if (events.some((e) => ['take', 'repair', 'wait', 'by-hand'].includes(e.kind))) chosen.value = undefined
  return act(...(bench.value?.iron ? events.map(timed) : events))
}
// On a real engine the clock on the wall says how long it took, also while the connection is lost.
const began = useLocalStorage(`began.${attempt}`, 0)
function timed(e: Schema['Event']): Schema['Event'] {
  const minutes = bench.value!.minutes
  began.value ||= Date.now() - minutes * 60_000
  const now = typing.value ? 0 : Math.round((Date.now() - began.value) / 600) / 100
  return { ...e, clock_min: e.clock_min ?? Math.max(now, minutes + 0.06) }
}
// Marks can be taken back, the last first.
const undo = ref<[reach: string, was: string][][]>([])
function setMarks(marks: [reach: string, to: string][]) {
  undo.value.push(marks.map(([reach]) => [reach, shownMarks.value[reach] ?? '']))
  return send(...marks.map(([reach, to]) => ({ kind: 'mark' as const, reach, mark: to })))
}
function takeBack() {
  const last = undo.value.pop()
  if (last) void send(...last.map(([reach, was]) => ({ kind: 'mark' as const, reach, mark: was })))
}
const mark = (reach: string, m: Mark) => setMarks([[reach, m]])
function through(reach: string) {
  if (!fam.value || !bench.value) return
  const all = upTo(fam.value.reaches, reach, shownMarks.value)
  if (all.length) void setMarks(all.map((r) => [r, 'clear']))
}

// A line of the ledger and the reaches that it bears on point at each other.
const pointed = ref<number>()
const bears = (id?: string) => fam.value?.tests.find((t) => t.id === id)?.reaches ?? []
const lit = computed(() => bears(ledger.value.find((l) => l.seq === pointed.value)?.test))
const bearing = computed(() => ledger.value.filter((l) => l.test && bears(l.test).includes(at.value)).map((l) => l.seq))

/** The last thing written down on each lateral, in a few words. */
const notes = computed(() => {
  const out: Record<string, string> = {}
  for (const l of ledger.value) {
    const t = fam.value?.tests.find((x) => x.id === l.test)
    if (t?.lateral && !l.waiting) out[t.lateral] = l.result
  }
  return out
})

// In one column the thing in hand may lie below what is in sight.
watch(
  [chosen, () => bench.value?.instrument?.test, () => bench.value?.look?.test],
  async ([test, tool, look], [t0, i0, l0]) => {
    if (window.innerWidth >= 1100 || (test === t0 && tool === i0 && look === l0) || !(test || tool || look)) return
    await nextTick()
    const calm = window.matchMedia('(prefers-reduced-motion: reduce)').matches
    document.querySelector('.hand')?.scrollIntoView({ block: 'nearest', behavior: calm ? 'auto' : 'smooth' })
  },
)

const everPointed = ref(false)
watch(pointed, (p) => (everPointed.value ||= p !== undefined))
/** What somebody new does first, and what of it is done. */
const first = computed(() => {
  const b = bench.value
  const took = (b?.ledger ?? []).map((l) => fam.value?.tests.find((t) => t.id === l.test)?.kind)
  if (b?.first) {
    const worked = b.ledger.findIndex((l) => l.kind === 'repair')
    return [
      { id: 'start', done: took.includes('run') },
      { id: 'fit', done: !!b.instrument || took.includes('number') },
      { id: 'read', done: b.ledger.some((l) => l.judged) },
      { id: 'point', done: everPointed.value },
      { id: 'mark', done: Object.values(b.board).some(Boolean) },
      { id: 'mend', done: worked >= 0 },
      { id: 'prove', done: worked >= 0 && took.slice(worked).includes('run') },
      { id: 'hand', done: false },
    ]
  }
  return [
    { id: 'start', done: took.includes('run') },
    { id: 'fit', done: !!b?.instrument || took.includes('number') },
    { id: 'read', done: !!b?.ledger.some((l) => l.judged) },
    { id: 'mark', done: Object.values(b?.board ?? {}).some(Boolean) },
    { id: 'point', done: everPointed.value },
    { id: 'hand', done: false },
  ]
})
// Board, ledger and instrument are shown first; the rest of the bench a moment later, so
// that a slow device shows something soon and hears a press in between.
const whole = ref(false)
watch(
  () => !!bench.value && !!fam.value,
  async (there) => there && (await nextTick(), setTimeout(() => (whole.value = true), 0)),
)
/** Hands go to a control. */
const toControl = (id: string) =>
  document
    .querySelector<HTMLElement>(`.strip [data-control="${id}"] :is([role=slider], button, [role=combobox])`)
    ?.focus()

function key(e: KeyboardEvent) {
  const typing = /INPUT|TEXTAREA|SELECT/.test((e.target as HTMLElement).tagName)
  if (typing || e.ctrlKey || e.metaKey || e.altKey) return
  const go = (selector: string) => {
    const el = document.querySelector<HTMLElement>(selector)
    if (el) {
      e.preventDefault()
      el.focus()
    }
  }
  switch (e.key) {
    case '?':
      sheet.value = true
      break
    case 'b':
      go(`[data-reach="${at.value}"]`)
      break
    case 't':
      go('#find-test')
      break
    case 'c':
      go('.strip [role=slider], .strip button, .strip [role=combobox]')
      break
    case 'i':
      go(document.querySelector('.hand .bg-secondary') ? '.hand .bg-secondary' : '.hand .v-btn')
      break
    case 'r':
      go('#reading')
      break
    case 'l':
      go('.ledger ol')
      break
    case 'a':
      aids.value = true
      break
    case 'Escape':
      // A dialog hears Escape only once it is the topmost; a press before that counts too.
      sheet.value = false
      aids.value = false
      break
    case 'z':
      takeBack()
      break
  }
}
useEventListener('keydown', key)
onMounted(load)
</script>

<template>
  <div v-if="bench && fam" class="bench">
    <BenchHead
      :bench="bench"
      :home="session.home"
      :offline="offline"
      :kept="queue.length"
      :busy="busy"
      @aids="aids = true"
      @sheet="sheet = true"
    />

    <section class="card" :aria-label="text('bench.card')">
      <div class="which">
        <h2>{{ bench.machine_name }} {{ bench.machine_code }}</h2>
        <span class="muted small">{{ fam.name }}</span>
      </div>
      <div class="words">
        <p>“{{ bench.words }}”</p>
        <p v-if="bench.history" class="muted small">{{ bench.history }}</p>
      </div>
      <span v-if="bench.spilt" class="spilt" role="status">{{ text('bench.spilt') }}</span>
      <LookBehind v-if="bench.trial" :attempt="attempt" />
      <span id="ask"></span>
      <div class="row ways">
        <v-btn v-if="mayType && !typing" @click="typing = true">{{ text('bench.type-in') }}</v-btn>
        <v-btn v-if="bench.iron" :to="`/bench/${attempt}/paper`">{{ text('bench.on-paper') }}</v-btn>
        <main-btn v-if="mine" :to="`/bench/${attempt}/hand-over`">{{ text('bench.hand-over') }}</main-btn>
        <main-btn v-else :to="`/debrief/${attempt}`">{{ text('bench.debrief') }}</main-btn>
      </div>
    </section>

    <div class="left">
      <section class="panel board-panel">
        <LateralBoard
          :laterals="fam.laterals"
          :reaches="fam.reaches"
          :marks="shownMarks"
          :at="at"
          :notes="notes"
          :lit="lit"
          @at="at = $event"
          @mark="mark"
          @through="through"
        />
        <MarkBar
          :reaches="fam.reaches"
          :marks="shownMarks"
          :at="at"
          :busy="still"
          :undo="undo.length > 0"
          @mark="mark"
          @through="through"
          @undo="takeBack"
        />
      </section>
      <PagePanel
        v-if="bench.page"
        :page="bench.page"
        :family="fam"
        :in-hand="chosen ?? bench.instrument?.test ?? bench.look?.test"
        :taken="bench.taken"
        :busy="still"
        @choose="chosen = $event"
        @event="send"
      />
      <TestTray
        v-if="whole"
        :family="fam"
        :bench="bench"
        :at="at"
        :chosen="chosen"
        :busy="still"
        @choose="chosen = $event"
        @event="send"
      />
    </div>
    <div class="right">
      <div class="said">
        <div v-if="refusal || notice" class="refusal" role="alert">
          <span v-if="refusal">
            <template v-if="aside"
              >{{ sentence({ code: 'page.act-set-aside', params: { act: inWords(aside, fam) } }) }}
            </template>
            <ProblemText :of="refusal" />
          </span>
          <template v-else>{{ notice }}</template>
          <v-btn @click="((refusal = aside = null), (notice = ''))">{{ text('bench.right') }}</v-btn>
        </div>
        <BenchTalk
          v-if="!bench.first && !bench.trial && ['new', 'in-hand'].includes(bench.state)"
          :attempt="attempt"
          :mine="mine"
          @paused="paused = $event"
          @changed="load"
        />
      </div>
      <HandPanel
        v-if="bench.iron"
        :family="fam"
        :bench="bench"
        :chosen="chosen"
        :busy="still"
        :refused="!!refusal"
        @event="send"
        @drop="chosen = undefined"
      />
      <InstrumentPanel
        v-else
        :family="fam"
        :bench="bench"
        :chosen="chosen"
        :busy="still"
        @event="send"
        @drop="chosen = undefined"
      />
      <ControlsStrip
        v-if="whole && !bench.iron"
        class="controls"
        :controls="controls"
        :at="shownControls"
        :busy="still"
        @set="(id, p) => send({ kind: 'control', control: { [id]: p } })"
      />
    </div>
    <div class="record">
      <LedgerList
        :lines="ledger"
        :waiting="waiting"
        :bearing="bearing"
        :pointed="pointed"
        @point="pointed = pointed === $event ? undefined : $event"
      />
      <FirstSteps
        v-if="mine && !bench.iron"
        :of="bench.first ? 'lesson' : 'bench'"
        :once="bench.first ? attempt : undefined"
        :steps="first"
      />
      <MachineDrawing
        v-if="whole && !bench.iron"
        :bench="bench"
        :controls="shownControls"
        :at="at"
        @reach="at = $event"
        @control="toControl"
      />
    </div>
    <ThumbBar />
    <ShortcutSheet v-model="sheet" />
    <v-dialog v-model="aids" max-width="1080" scrollable :aria-label="text('bench.aids')">
      <div class="aids" @keydown.esc="aids = false">
        <div class="row">
          <h2 class="grow">{{ text('bench.aids') }}</h2>
          <v-btn @click="aids = false">{{ text('bench.close') }}</v-btn>
        </div>
        <AidsPanel :family="bench.family" />
      </div>
    </v-dialog>
  </div>
  <div v-else class="page">
    <div v-if="refusal" class="panel">
      <h1>{{ refusal.what }}</h1>
      <p>{{ refusal.mend }}.</p>
      <router-link :to="session.home">{{ text('state.to-start') }}</router-link>
    </div>
    <p v-else role="status" class="muted">
      {{ text(offline ? 'bench.away' : 'bench.laying-out') }}
    </p>
  </div>
</template>

<style scoped>
/* What was done, what is known, what is in the hands: from left to right. */
.bench {
  height: 100vh;
  display: grid;
  grid-template: 46px auto minmax(0, 1fr) / 212px minmax(0, 1fr) 376px;
  gap: 8px 10px;
  padding: 4px 14px 12px;
}
.record {
  grid-column: 1;
  grid-row: 3;
  display: grid;
  grid-template-rows: minmax(0, 1fr);
  grid-auto-rows: auto;
  gap: 8px;
  min-height: 0;
}
.left {
  grid-column: 2;
  grid-row: 3;
}
.right {
  grid-column: 3;
  grid-row: 3;
}
.machine {
  height: 138px;
}
/* While somebody is shown round, that takes the drawing's place: the ledger keeps its own. */
@media (min-width: 1100px) {
  .record:has(.first) .machine {
    display: none;
  }
}
.top {
  grid-column: 1 / -1;
}
.card {
  grid-column: 1 / -1;
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto auto auto;
  gap: 8px 14px;
  align-items: center;
  background: var(--panel);
  border-left: 7px solid var(--suspect);
  border-radius: 4px 14px 14px 4px;
  padding: 8px 14px 8px 16px;
}
.words p:first-child {
  font-size: 16.5px;
  line-height: 1.25;
}
.aids {
  background: var(--plaster);
  border-radius: 14px;
  padding: 14px 16px;
  overflow-y: auto;
  display: grid;
  gap: 12px;
}
.spilt {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 10px;
  padding: 8px 12px;
  font: 600 16px/1 var(--label);
}
.words {
  grid-column: 2;
}
.card .ways {
  grid-column: -2;
}
.left {
  display: grid;
  grid-template-rows: minmax(0, 1fr) 258px;
  gap: 8px;
  min-width: 0;
  min-height: 0;
}
/* A page at hand says what comes next: fewer tests need to be in sight. */
.left:has(.follow) {
  grid-template-rows: minmax(0, 1fr) auto 200px;
}
.board-panel {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  gap: 10px;
  min-height: 0;
}
.right {
  display: grid;
  grid-auto-flow: row;
  grid-template-rows: minmax(0, 1fr) auto;
  gap: 8px;
  min-height: 0;
}
.right:has(> .said > :not(.quiet)) {
  grid-template-rows: auto minmax(0, 1fr) auto;
}
.said {
  display: grid;
  gap: 8px;
}
.said:not(:has(> :not(.quiet))) {
  display: none;
}
.refusal {
  background: var(--condemned-bg);
  color: var(--condemned-ink);
  border-radius: 12px;
  padding: 10px 12px;
  display: flex;
  gap: 10px;
  align-items: center;
  justify-content: space-between;
}
@media (max-width: 1099px), (max-height: 699px) {
  .bench {
    height: auto;
    grid-template-rows: auto auto auto auto;
  }
}
@media (max-width: 1099px) {
  .left,
  .right,
  .record {
    display: contents;
  }
}
/* Two columns under the board: what is known beside what is in hand. A tablet that
   stands upright shows all of it at once. */
@media (min-width: 641px) and (max-width: 1099px) {
  .bench {
    grid-template:
      'head head' 46px 'card card' auto 'said said' auto 'first first' auto 'follow follow' auto
      'board board' auto 'tests hand' minmax(0, 1fr) 'ledger hand' minmax(0, 1fr)
      'ledger controls' auto 'machine controls' 142px 'thumb thumb' auto / minmax(0, 1fr) 376px;
    gap: 8px 10px;
    height: max(100vh, 1150px);
  }
  .bench:has(.first) {
    height: max(100vh, 1210px);
  }
  /* With a page at hand there is a row more: board, ledger and drawing make room for it. */
  .bench:has(.follow) {
    grid-template-rows: 46px auto auto auto auto auto minmax(0, 2fr) minmax(0, 1fr) auto 100px auto;
  }
  .bench:has(.follow) .board-panel :deep(.lane) {
    min-height: 50px;
  }
  .bench:has(.follow) .board-panel :deep(.note) {
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .bench > .top {
    grid-area: head;
  }
  .card {
    grid-area: card;
  }
  .said {
    grid-area: said;
  }
  .first {
    grid-area: first;
  }
  .board-panel {
    grid-area: board;
    gap: 8px;
  }
  .board-panel :deep(.lane) {
    min-height: 56px;
  }
  .tray {
    grid-area: tests;
  }
  .follow {
    grid-area: follow;
  }
  .hand {
    grid-area: hand;
    min-height: 0;
  }
  .ledger {
    grid-area: ledger;
    min-height: 0;
  }
  .machine {
    grid-area: machine;
    height: auto;
  }
  .controls {
    grid-area: controls;
    align-self: start;
  }
  .thumb {
    grid-area: thumb;
  }
}
@media (min-width: 641px) and (max-width: 1099px) and (min-height: 1080px) {
  .thumb {
    display: none;
  }
}
/* One column: what is in hand follows what it was chosen from, and the controls follow that. */
@media (max-width: 640px) {
  .bench {
    display: flex;
    flex-direction: column;
  }
  .machine {
    order: 3;
    height: 220px;
  }
  .first {
    order: 0;
  }
  .bench > *,
  .left > *,
  .right > * {
    scroll-margin-top: 8px;
  }
  .top,
  .card {
    order: -2;
  }
  .follow {
    order: -1;
  }
  .refusal {
    order: 1;
  }
  .hand {
    order: 2;
    overflow: visible;
  }
  .controls {
    order: 3;
  }
  .ledger {
    order: 4;
    max-height: 420px;
  }
}
@media (max-width: 640px) {
  .bench {
    padding-inline: 8px;
  }
  .card {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .words {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
