<script setup lang="ts">
import WhyBtn from '@/controls/WhyBtn.vue'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useEventListener, useMediaQuery } from '@vueuse/core'
import { useQuery } from '@tanstack/vue-query'
import { computed, onMounted, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import { api, ask, type Schema } from '@/api/client'
import { useFamily } from '@/features/bench/useFamily'
import { capital, explain, nameOf, text } from '@/words/words'
import ProblemText from '@/words/ProblemText.vue'
import '@/words/yard'
import { save } from '@/session/save'
import BetterOrders from './BetterOrders.vue'
import ComesTo from './ComesTo.vue'
import DitchView from './DitchView.vue'
import FlowTable from './FlowTable.vue'
import HeatTable from './HeatTable.vue'
import PageFace from './PageFace.vue'
import StepList from './StepList.vue'
import StepPanel from './StepPanel.vue'
import { moveStep, newStep, remarksAt, takeMove } from './edits'
import { useDraft } from './useDraft'
import { useEvaluation } from './useEvaluation'

const id = String(useRoute().params.procedure)
const router = useRouter()
const d = useDraft(id)
const { line, work, refusal, moved, kept, canUndo, canRedo, edit } = d
onMounted(d.load)

const machines = useQuery({ queryKey: ['machines'], queryFn: () => ask(api.GET('/api/machines')) })
const machine = computed(() => machines.data.value?.find((m) => m.id === work.value?.machine_id))
const family = useFamily(() => machine.value?.family)
const fam = computed(() => family.data.value)
const draft = computed(() => work.value?.draft)
const steps = computed(() => draft.value?.steps ?? [])

const at = ref(0)
const here = computed(() => Math.min(at.value, steps.value.length - 1))
const step = computed(() => steps.value[here.value])
const spec = () =>
  work.value && machine.value && fam.value
    ? {
        machine_id: work.value.machine_id,
        complaint: work.value.draft.complaint ?? '',
        procedure: work.value.draft,
        focus: step.value?.id,
      }
    : null
const { evaluated, whole, spread, working, trouble, moves, looking, lookNow, stopLooking } = useEvaluation(spec)
/** It can be followed, as far as is known; the last figures stay until the next are there. */
const followed = computed(() => (evaluated.value?.evaluation ? whole.value : null))
const remarks = computed(() => evaluated.value?.findings ?? [])
const ofWhole = computed(() => remarksAt(remarks.value))
// Of the step in front, or of none: while a page is mended, as it was told last.
const NONE: Schema['Seen'][] = []
const seen = computed(() =>
  spread.value.step === step.value?.id && spread.value.test === step.value?.test ? spread.value.seen : NONE,
)

// The others on the same machines: asked once for a machine and a complaint.
const ground = computed(() => ({ machine_id: work.value?.machine_id ?? '', complaint: draft.value?.complaint ?? '' }))
const beside = useQuery({
  queryKey: ['beside', ground],
  queryFn: ({ signal }) => ask(api.POST('/api/beside', { body: ground.value, signal })),
  enabled: () => !!ground.value.machine_id && !!ground.value.complaint && !!whole.value,
  staleTime: Infinity,
  refetchOnWindowFocus: false,
})
const schools = useQuery({
  queryKey: ['schools', computed(() => fam.value?.id), computed(() => ground.value.complaint)],
  queryFn: () =>
    ask(api.GET('/api/schools', { params: { query: { family: fam.value!.id, complaint: ground.value.complaint } } })),
  enabled: () => !!fam.value && !!ground.value.complaint,
  staleTime: Infinity,
})
const others = computed(() =>
  (beside.data.value ?? []).map((r) => {
    const school = schools.data.value?.find((p) => p.id === r.procedure)?.school
    return {
      id: school ?? 'planned',
      name: text(`desk.school-${school ?? 'planned'}`),
      minutes: r.expected_minutes,
      wrong: r.wrong,
    }
  }),
)

const faces = ['ditch', 'heat', 'page'] as const
const face = ref<(typeof faces)[number]>('ditch')
const lit = ref<string[]>([])
const faults = computed(() =>
  (fam.value?.faults ?? []).map((f) => ({ value: f.id, title: f.name })).sort((x, y) => x.title.localeCompare(y.title)),
)
// Lists are made once and not at every change: a list that is new is laid out anew.
const onWhat = computed(() => (machines.data.value ?? []).map((m) => ({ value: m.id, title: `${m.name} ${m.code}` })))
const tests = computed(() => (fam.value?.tests ?? []).map((t) => ({ value: t.id, title: t.title })))
const faceItems = faces.map((f) => ({ value: f, title: text(`desk.face-${f}`) }))
const flags = computed(() => ({
  all: steps.value.map((_, i) => remarksAt(remarks.value, i).length),
  serious: steps.value.map((_, i) => remarksAt(remarks.value, i).some((r) => r.serious)),
}))
const ofStep = computed(() => remarksAt(remarks.value, here.value))
const complaints = computed(() => [
  { value: '', title: text('desk.any-complaint') },
  ...(fam.value?.complaints ?? []).map((c) => ({ value: c.id, title: c.name })),
])

// What was taken last can be taken back by the same button, until something else is changed.
const taken = ref('')
function change(f: (p: Schema['Procedure']) => void, name?: string) {
  taken.value = ''
  edit((p) => f(p), name)
}
function take(m: Schema['Move'], says: string) {
  change((p) => takeMove(p, m))
  taken.value = says
}
function back() {
  taken.value = ''
  d.undo()
}
function move(from: number, to: number) {
  change((p) => moveStep(p, from, to))
  at.value = to
}
function add(test: string) {
  if (!test) return
  change((p) => p.steps.splice(here.value + 1, 0, newStep(p, test)))
  at.value = here.value + 1
}
function drop() {
  change((p) => p.steps.splice(here.value, 1))
}
const nothing = undefined as unknown as string

const row = 38
const narrow = useMediaQuery('(max-width: 640px)')
useEventListener('keydown', (e: KeyboardEvent) => {
  if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== 'z') return
  // In a field the device's own undo comes first.
  if (/INPUT|TEXTAREA/.test((e.target as HTMLElement).tagName)) return
  e.preventDefault()
  if (e.shiftKey) d.redo()
  else d.undo()
})
watch(steps, (s) => at.value >= s.length && (at.value = Math.max(s.length - 1, 0)))

const said = ref('')
async function giveOut() {
  said.value = ''
  if (await d.giveOut()) said.value = text('desk.given-out', { n: line.value!.given_out.length })
}
const cannot = computed(() => {
  const bad = remarks.value.find((r) => r.serious)
  return bad ? `${capital(explain(bad).what)}: ${explain(bad).mend}.` : ''
})
async function copy() {
  const fresh = await d.keepAsCopy(text('desk.copy-of', { title: draft.value?.title }).slice(0, 120))
  if (fresh) await router.push(`/yard/procedures/${fresh}`)
}
async function download() {
  if (!(await d.save())) return
  const pack = await ask(api.GET('/api/procedures/{procedure}/pack', { params: { path: { procedure: id } } })).catch(
    (e) => {
      refusal.value = e
    },
  )
  if (!pack) return
  const name = (draft.value?.title || 'procedure').toLowerCase().replace(/[^a-z0-9]+/g, '-')
  save(`${name}.json`, JSON.stringify(pack, null, 1))
}
const print = () => window.print()
onBeforeRouteLeave(async () => {
  await d.save()
})
</script>

<template>
  <div class="desk" :class="face">
    <div v-if="refusal && !work" class="panel">
      <p role="alert"><ProblemText :of="refusal" /></p>
      <router-link to="/yard/procedures">{{ text('desk.to-list') }}</router-link>
    </div>
    <WaitingFor
      v-else-if="!work || !fam || !draft || !line"
      :what="text('desk.fetching')"
      as="heading, article, table-tbody"
    />
    <template v-else>
      <h1 class="sr-only no-print">{{ text('desk.name-of') }}: {{ draft.title }}</h1>
      <div class="head no-print">
        <v-text-field
          class="title"
          density="compact"
          :label="text('desk.title')"
          :model-value="draft.title"
          :counter="draft.title.length > 100 ? 120 : undefined"
          :error-messages="draft.title.length > 120 ? text('desk.title-long') : undefined"
          @update:model-value="change((p) => (p.title = $event), 'title')"
        />
        <v-select
          class="on"
          density="compact"
          :label="text('desk.machine')"
          :items="onWhat"
          :model-value="work.machine_id"
          @update:model-value="edit((_, w) => (w.machine_id = $event))"
        />
        <v-select
          class="on"
          density="compact"
          :label="text('desk.complaint')"
          :items="complaints"
          :model-value="draft.complaint ?? ''"
          @update:model-value="change((p) => ($event ? (p.complaint = $event) : delete p.complaint))"
        />
        <span class="muted small kept" role="status">{{ text(`desk.kept-${kept}`) }}</span>
        <WhyBtn :not="canUndo ? '' : text('desk.nothing-to-undo')" @click="d.undo">{{ text('desk.undo') }}</WhyBtn>
        <WhyBtn :not="canRedo ? '' : text('desk.nothing-to-redo')" @click="d.redo">{{ text('desk.redo') }}</WhyBtn>
        <v-menu>
          <template #activator="{ props: on }">
            <v-btn v-bind="on">{{ text('desk.more') }}</v-btn>
          </template>
          <v-list>
            <v-list-item :title="text('desk.copy')" @click="copy" />
            <v-list-item :title="text('desk.export')" @click="download" />
            <v-list-item :title="text('desk.to-list')" to="/yard/procedures" />
          </v-list>
        </v-menu>
        <WhyBtn main :not="cannot" @click="giveOut">{{
          text('desk.give-out', { n: line.given_out.length + 1 })
        }}</WhyBtn>
      </div>
      <div v-if="moved" class="notice no-print" role="alert">
        <span>{{ text('desk.moved-on') }}</span>
        <v-btn @click="copy">{{ text('desk.keep-copy') }}</v-btn>
        <v-btn @click="d.takeTheirs">{{ text('desk.take-theirs') }}</v-btn>
      </div>
      <p v-else-if="refusal || trouble" class="notice no-print" role="alert">
        <ProblemText :of="(refusal ?? trouble)!" />
      </p>
      <p v-else-if="said" class="good no-print" role="status">{{ said }}</p>

      <section class="panel left" :aria-label="text('desk.name-of')">
        <div class="bar no-print">
          <ChoiceRow v-model="face" class="faces" :items="faceItems" :label="text('desk.faces')" />
          <v-autocomplete
            v-if="face === 'ditch'"
            v-model="lit"
            class="light"
            density="compact"
            multiple
            clearable
            clear-on-select
            :label="text('desk.light')"
            :items="faults"
          >
            <template #selection="{ item, index }">
              <span v-if="index === 0" class="lit">{{ item.title }}</span>
              <span v-else-if="index === 1" class="lit">+{{ lit.length - 1 }}</span>
            </template>
          </v-autocomplete>
          <span class="grow"></span>
          <v-autocomplete
            v-if="face !== 'page'"
            class="add"
            density="compact"
            :label="text('desk.add-step')"
            :items="tests"
            :model-value="nothing"
            @update:model-value="add($event)"
          />
          <main-btn v-else @click="print">{{ text('desk.print') }}</main-btn>
        </div>
        <p v-if="steps.length === 0" class="empty">{{ text('desk.empty') }}</p>
        <div v-else-if="face === 'ditch'" class="scroll" tabindex="0" role="group" :aria-label="text('desk.ditch')">
          <div class="both">
            <DitchView v-if="followed && !narrow" :of="followed" :row="row" :lit="lit" />
            <p v-else-if="!narrow" class="muted no-figures">{{ text(working ? 'desk.working' : 'desk.cannot') }}</p>
            <StepList
              :steps="steps"
              :at="here"
              :row="row"
              :remarks="flags.all"
              :serious="flags.serious"
              @at="at = $event"
              @move="move"
            />
          </div>
          <div class="sr-only"><FlowTable v-if="followed" :of="followed" :steps="steps" /></div>
        </div>
        <HeatTable v-else-if="face === 'heat' && followed" :of="followed" :steps="steps" :at="here" @at="at = $event" />
        <div v-else-if="face === 'page'" class="scroll" tabindex="0" role="region" :aria-label="text('desk.face-page')">
          <PageFace :of="draft" :family="fam" :machine="`${machine?.name} ${machine?.code}`" />
        </div>
      </section>

      <div v-if="face !== 'page'" class="right">
        <ul v-if="ofWhole.length" class="whole">
          <li v-for="(r, i) in ofWhole" :key="i">{{ capital(explain(r).what) }}: {{ explain(r).mend }}.</li>
        </ul>
        <StepPanel
          v-if="step"
          :step="step"
          :place="here"
          :steps="steps"
          :family="fam"
          :seen="seen"
          :figure="followed?.steps.find((s) => s.id === step.id)"
          :remarks="ofStep"
          @edit="(f, name) => change((p) => f(p.steps[here]), name && `${step.id} ${name}`)"
          @drop="drop"
        />
      </div>
      <ComesTo
        v-if="whole && face !== 'page'"
        class="foot no-print"
        :totals="whole.totals"
        :complaint="
          draft.complaint
            ? nameOf('complaint', draft.complaint).toLowerCase()
            : text('desk.any-complaint').toLowerCase()
        "
        :others="others"
        :waiting="working || beside.isFetching.value"
      >
        <BetterOrders
          :moves="moves"
          :looking="looking"
          :steps="steps"
          :taken="taken"
          @take="take"
          @back="back"
          @look="lookNow"
          @stop="stopLooking"
        />
      </ComesTo>
    </template>
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template: auto auto minmax(0, 1fr) auto / minmax(0, 1fr) 392px;
  gap: 8px 10px;
  height: calc(100vh - 62px);
  padding: 8px 14px 10px;
}
.head {
  grid-column: 1 / -1;
  grid-row: 1;
  display: flex;
  gap: 8px;
  align-items: center;
  padding-top: 4px;
}
.title {
  flex: 1 1 200px;
  min-width: 0;
}
.on {
  flex: 0 1 190px;
  min-width: 0;
}
.kept {
  min-width: 78px;
}
.notice,
.good {
  grid-column: 1 / -1;
  grid-row: 2;
  display: flex;
  gap: 10px;
  align-items: center;
  border-radius: 12px;
  padding: 8px 12px;
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.notice span {
  flex: 1;
}
.good {
  background: var(--good-bg);
  color: var(--good);
}
.left {
  grid-row: 3;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 8px;
  min-height: 0;
  padding: 8px 12px;
}
.desk.page .left {
  grid-column: 1 / -1;
  grid-row: 3 / -1;
}
.right {
  grid-row: 3;
  display: grid;
  grid-template-rows: minmax(0, 1fr);
  gap: 8px;
  min-height: 0;
}
.right:has(.whole) {
  grid-template-rows: auto minmax(0, 1fr);
}
.whole {
  margin: 0;
  padding: 8px 10px 8px 26px;
  border-radius: 10px;
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  font-size: 14px;
}
.foot {
  grid-column: 1 / -1;
  grid-row: 4;
}
.bar {
  display: flex;
  gap: 8px;
  align-items: center;
  padding-top: 4px;
}
.faces {
  flex: 0 0 auto;
}
.light,
.add {
  flex: 0 1 210px;
  min-width: 0;
}
.light {
  flex-basis: 290px;
}
/* One line, however many. */
.light :deep(.v-field__input) {
  flex-wrap: nowrap;
}
.lit {
  white-space: nowrap;
  margin-right: 6px;
}
.scroll {
  overflow: auto;
  min-height: 0;
  scrollbar-width: thin;
}
.both {
  display: grid;
  grid-template-columns: auto minmax(200px, 1fr);
  gap: 6px;
  align-items: start;
}
.no-figures,
.empty {
  padding: 24px;
  max-width: 46ch;
}
@media (max-width: 900px) {
  .desk {
    display: flex;
    flex-direction: column;
    height: auto;
  }
  .head,
  .bar {
    flex-wrap: wrap;
  }
}
@media (max-width: 640px) {
  .both {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media print {
  .desk,
  .left {
    display: block;
    height: auto;
    padding: 0;
  }
  .left {
    padding: 0;
  }
  .scroll {
    overflow: visible;
  }
}
</style>
