<script setup lang="ts">
import '@/words/yard'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { until } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, Refusal, type Schema } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useFamily } from '@/features/bench/useFamily'
import { useSession } from '@/session/session'
import ProblemText from '@/words/ProblemText.vue'
import { sentence, text } from '@/words/words'
import BenchPanel from './BenchPanel.vue'
import GivePanel from './GivePanel.vue'
import { deal } from './deal'
import ComesOut from './ComesOut.vue'
import FindsTable from './FindsTable.vue'
import HidePanel from './HidePanel.vue'
import OwnerPanel from './OwnerPanel.vue'
import ProposalsPanel from './ProposalsPanel.vue'
import { useChecks } from './useChecks'
import { blank, useScenario } from './useScenario'
import { useShelf } from './useShelf'

/** Symptoms made on purpose: what is hidden and told on the left, what it comes to on the right. */
const props = defineProps<{ /** One of the library; what is not there yet is kept on this device. */ id?: string }>()
const session = useSession()
const router = useRouter()
const queries = useQueryClient()
const machines = useQuery({ queryKey: ['machines'], queryFn: () => ask(api.GET('/api/machines')) })
const classes = useQuery({ queryKey: ['classes'], queryFn: () => ask(api.GET('/api/classes')) })
const apprentices = useQuery({ queryKey: ['apprentices'], queryFn: () => ask(api.GET('/api/apprentices')) })

const desk = useScenario(props.id)
const { draft, begun, before } = desk
const shelf = props.id ? useShelf(props.id, desk) : undefined
const spec = computed(() => ({ ...desk.spec.value, scenario: props.id }))
watch(
  () => machines.data.value,
  (ms) => ms?.length && !ms.some((m) => m.id === draft.value.machine_id) && (draft.value.machine_id = ms[0].id),
  { immediate: true },
)
const machine = computed(() => machines.data.value?.find((m) => m.id === draft.value.machine_id))
const family = useFamily(() => machine.value?.family)
const fam = computed(() => family.data.value)
const { preview, check, trouble, working, checking } = useChecks(spec)
const problems = computed(() => preview.value?.problems ?? [])
const can = computed(() => !!preview.value && problems.value.length === 0)

/** What is kept in the library is there before it can be written on. */
const ready = computed(() => !shelf || !!shelf.line.value)
/** Two reaches of a lesson, while they are being touched on the board. */
const lesson = ref<string[]>()
const touch = (reach: string) => (lesson.value = [...(lesson.value ?? []).filter((x) => x !== reach), reach].slice(-2))

/** Others that are as hard, dealt to those who have it so that neighbours differ. */
const variants = ref<Schema['ScenarioForm'][]>([])
watch(
  [() => draft.value.claim, () => draft.value.machine_id, () => draft.value.faults.length],
  () => (variants.value = []),
)

const refusal = ref<Refusal | null>(null)
const busy = ref(false)
/** Does something with what stands here once it is known that it can be set, and once at a time. */
async function once(what: () => Promise<unknown>) {
  busy.value = true
  refusal.value = null
  try {
    await until(working).toBe(false)
    if (can.value) await what()
  } catch (e) {
    if (!session.noticed(e)) refusal.value = e as Refusal
  } finally {
    busy.value = false
  }
}
const set = () =>
  once(async () => {
    const given = spec.value.class_id
    for (const body of deal(spec.value, variants.value)) await ask(api.POST('/api/jobs', { body }))
    // The next one that is given out is another job.
    if (props.id) Object.assign(draft.value, { id: crypto.randomUUID(), apprentices: [], class_id: undefined })
    else draft.value = { ...blank(), machine_id: draft.value.machine_id }
    await Promise.all(['jobs', 'progress'].map((k) => queries.invalidateQueries({ queryKey: [k] })))
    await router.push(given ? `/classes/${given}` : '/yard')
  })
/** The author works it at the bench, off the record. */
const tryIt = () =>
  once(async () => {
    const { attempt } = await ask(api.POST('/api/trials', { body: spec.value }))
    await router.push(`/bench/${attempt}`)
  })
/** Puts what stands here into the library, and goes on there. */
async function shelve() {
  const id = crypto.randomUUID()
  refusal.value = null
  try {
    const title = draft.value.title || fam.value?.complaints.find((c) => c.id === draft.value.claim)?.name
    const form = { ...desk.form.value, title: title ?? text('scene.untitled') }
    await ask(api.POST('/api/scenarios', { body: { id, machine_id: draft.value.machine_id, draft: form } }))
    draft.value = { ...blank(), machine_id: draft.value.machine_id }
    await queries.invalidateQueries({ queryKey: ['scenarios'] })
    await router.push(`/yard/scenarios/${id}`)
  } catch (e) {
    if (!session.noticed(e)) refusal.value = e as Refusal
  }
}
</script>

<template>
  <div class="page stack">
    <div class="row wrap">
      <h1 v-if="!shelf" class="grow whole">{{ text('yard.set') }}</h1>
      <template v-else>
        <h1>{{ text('scene.scenario') }}</h1>
        <v-text-field
          v-model="draft.title"
          :disabled="!ready"
          class="grow title"
          density="compact"
          maxlength="120"
          :label="text('scene.title')"
        />
      </template>
      <span v-if="shelf" class="muted small kept" role="status">{{
        text(shelf.saved.value ? 'scene.saved' : 'scene.unsaved')
      }}</span>
      <span v-else class="muted small" role="status">{{ begun ? text('job.kept-here') : '' }}</span>
      <WhyBtn :not="desk.canUndo.value ? '' : text('scene.nothing-undone')" @click="desk.undo()">{{
        text('desk.undo')
      }}</WhyBtn>
      <WhyBtn :not="desk.canRedo.value ? '' : text('scene.nothing-redone')" @click="desk.redo()">{{
        text('desk.redo')
      }}</WhyBtn>
      <template v-if="!shelf">
        <v-btn v-if="before && !begun" @click="draft = before">{{ text('job.put-back') }}</v-btn>
        <WhyBtn :not="begun ? '' : text('job.nothing-begun')" @click="desk.anew()">{{ text('job.anew') }}</WhyBtn>
        <WhyBtn :not="begun ? '' : text('job.nothing-begun')" @click="shelve">{{ text('scene.shelve') }}</WhyBtn>
      </template>
      <v-btn v-else to="/yard/scenarios" variant="text">{{ text('scene.to-library') }}</v-btn>
    </div>
    <p v-if="shelf?.moved.value" class="refusal row wrap" role="alert">
      <span class="grow">{{ text('scene.moved', { owner: shelf.moved.value.line.owner }) }}</span>
      <v-btn @click="shelf.theirs()">{{ text('scene.theirs') }}</v-btn>
      <v-btn @click="shelf.mine()">{{ text('scene.mine') }}</v-btn>
    </p>
    <p v-if="shelf?.refusal.value" class="refusal" role="alert"><ProblemText :of="shelf.refusal.value" /></p>
    <div v-if="fam && machine && ready" class="cols">
      <div class="stack">
        <HidePanel
          v-model="draft"
          :fam="fam"
          :lacks="machine.lacks"
          :machines="(machines.data.value ?? []).map((m) => ({ title: `${m.name} ${m.code}`, value: m.id }))"
          :problems="problems"
          :lesson="lesson"
          @touch="touch"
        />
        <OwnerPanel v-model="draft" :fam="fam" :spec="spec" :problems="problems" />
        <BenchPanel v-model="draft" :fam="fam" :family="machine.family" :problems="problems" />
        <ProposalsPanel
          v-model:lesson="lesson"
          :fam="fam"
          :spec="spec"
          :check="check"
          @keep="desk.put"
          @deal="variants = $event"
        />
      </div>
      <div class="stack">
        <GivePanel
          v-model="draft"
          :apprentices="apprentices.data.value ?? []"
          :classes="classes.data.value ?? []"
          :variants="variants.length"
          :refusal="refusal"
          :busy="busy"
          :not="can || working ? '' : text('job.not-yet')"
          @set="set"
          @try="tryIt"
        />
        <ComesOut :preview="preview" :check="check" :trouble="trouble" :checking="checking || working" />
        <FindsTable :rows="preview?.rows ?? []" :hidden="draft.faults.length > 0" />
      </div>
    </div>
    <p v-else-if="machines.isError.value" role="alert">
      {{ sentence(machines.error.value as Refusal) }}
    </p>
    <WaitingFor v-else :what="text('job.fetching')" as="heading, article, article" />
  </div>
</template>

<style scoped>
.whole {
  min-width: max-content;
}
.cols {
  display: grid;
  grid-template-columns: minmax(0, 1.35fr) minmax(0, 1fr);
  gap: 14px;
}
.refusal {
  background: var(--condemned-bg);
  color: var(--condemned-ink);
  border-radius: 10px;
  padding: 8px 12px;
}
.title {
  min-width: 200px;
}
@media (max-width: 1000px) {
  .cols {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
