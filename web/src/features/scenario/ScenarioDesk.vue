<script setup lang="ts">
import '@/words/yard'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, Refusal } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useFamily } from '@/features/bench/useFamily'
import { useSession } from '@/session/session'
import ProblemText from '@/words/ProblemText.vue'
import { sentence, text } from '@/words/words'
import BenchPanel from './BenchPanel.vue'
import ComesOut from './ComesOut.vue'
import FindsTable from './FindsTable.vue'
import HidePanel from './HidePanel.vue'
import OwnerPanel from './OwnerPanel.vue'
import ProposalsPanel from './ProposalsPanel.vue'
import { blank, useScenario } from './useScenario'
import { useChecks } from './useChecks'

/** Symptoms made on purpose: what is hidden and told on the left, what it comes to on the right. */
const session = useSession()
const router = useRouter()
const queries = useQueryClient()
const machines = useQuery({ queryKey: ['machines'], queryFn: () => ask(api.GET('/api/machines')) })
const apprentices = useQuery({ queryKey: ['apprentices'], queryFn: () => ask(api.GET('/api/apprentices')) })

const desk = useScenario()
const { draft, spec, begun, before } = desk
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
const can = computed(() => !!preview.value && problems.value.length === 0 && !working.value)

/** Two reaches of a lesson, while they are being touched on the board. */
const lesson = ref<string[]>()
const touch = (reach: string) => (lesson.value = [...(lesson.value ?? []).filter((x) => x !== reach), reach].slice(-2))

const refusal = ref<Refusal | null>(null)
const busy = ref(false)
async function set() {
  busy.value = true
  refusal.value = null
  try {
    await ask(api.POST('/api/jobs', { body: spec.value }))
    draft.value = { ...blank(), machine_id: draft.value.machine_id }
    await queries.invalidateQueries({ queryKey: ['jobs'] })
    await router.push('/yard')
  } catch (e) {
    if (!session.noticed(e)) refusal.value = e as Refusal
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="page stack">
    <div class="row wrap">
      <h1 class="grow">{{ text('yard.set') }}</h1>
      <span class="muted small" role="status">{{ begun ? text('job.kept-here') : '' }}</span>
      <WhyBtn :not="desk.canUndo.value ? '' : text('scene.nothing-undone')" @click="desk.undo()">{{
        text('desk.undo')
      }}</WhyBtn>
      <WhyBtn :not="desk.canRedo.value ? '' : text('scene.nothing-redone')" @click="desk.redo()">{{
        text('desk.redo')
      }}</WhyBtn>
      <v-btn v-if="before && !begun" @click="draft = before">{{ text('job.put-back') }}</v-btn>
      <WhyBtn :not="begun ? '' : text('job.nothing-begun')" @click="desk.anew()">{{ text('job.anew') }}</WhyBtn>
    </div>
    <div v-if="fam && machine" class="cols">
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
        <ProposalsPanel v-model:lesson="lesson" :fam="fam" :spec="spec" :check="check" @keep="desk.put" />
      </div>
      <div class="stack">
        <section class="panel stack">
          <h2>{{ text('job.give') }}</h2>
          <div class="row wrap">
            <v-checkbox
              v-for="p in apprentices.data.value"
              :key="p.id"
              v-model="draft.apprentices"
              :value="p.id"
              :label="p.display_name"
            />
          </div>
          <div v-if="refusal" class="refusal" role="alert">
            <p v-for="(p, i) in refusal.all.length ? refusal.all : [refusal]" :key="i">
              <ProblemText :of="p" />
            </p>
          </div>
          <WhyBtn main class="big" :busy="busy" :not="can ? '' : text('job.not-yet')" @click="set">
            {{ text(draft.apprentices.length ? 'job.set-give' : 'job.set') }}
          </WhyBtn>
        </section>
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
.big {
  min-height: 52px;
  font-size: 18px;
}
@media (max-width: 1000px) {
  .cols {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
