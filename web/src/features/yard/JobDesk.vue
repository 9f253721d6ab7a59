<script setup lang="ts">
import '@/words/yard'
import WhyBtn from '@/controls/WhyBtn.vue'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { watchDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, Refusal, type Schema } from '@/api/client'
import LateralBoard from '@/board/LateralBoard.vue'
import { useFamily } from '@/features/bench/useFamily'
import { useLocalStorage } from '@/session/useLocalStorage'
import { useSession } from '@/session/session'
import ProblemText from '@/words/ProblemText.vue'
import { sentence, text } from '@/words/words'

const session = useSession()
const router = useRouter()
const queries = useQueryClient()
const machines = useQuery({ queryKey: ['machines'], queryFn: () => ask(api.GET('/api/machines')) })
const apprentices = useQuery({ queryKey: ['apprentices'], queryFn: () => ask(api.GET('/api/apprentices')) })

type Draft = Required<Omit<Schema['JobSpec'], 'faults' | 'procedure'>> & {
  procedure?: Schema['RevisionRef']
  faults: { id: string; severity: number; mode?: string; cause?: string }[]
}
const blank = (): Draft => ({
  // The job has its id before it is set, so that setting it twice sets it once.
  id: crypto.randomUUID(),
  machine_id: '',
  faults: [],
  words: '',
  history: '',
  claim: '',
  limit_minutes: 60,
  limit_money: 40,
  temperature_c: 20,
  altitude_m: 0,
  mode: 'open',
  proper_only: false,
  page_in_exam: false,
  apprentices: [],
})
// A job being written outlives a reload; it is this instructor's and this device's.
const draft = useLocalStorage<Draft>(`job-desk.${session.me?.id}`, blank())
draft.value = { ...blank(), ...draft.value } // one kept by an earlier page may lack a member
watch(
  () => machines.data.value,
  (ms) => ms?.length && !ms.some((m) => m.id === draft.value.machine_id) && (draft.value.machine_id = ms[0].id),
  { immediate: true },
)
/** What has been typed is kept on this device; beginning anew can be taken back. */
const begun = computed(
  () =>
    JSON.stringify(draft.value) !==
    JSON.stringify({ ...blank(), id: draft.value.id, machine_id: draft.value.machine_id }),
)
const before = ref<Draft>()
function anew() {
  before.value = draft.value
  draft.value = { ...blank(), machine_id: draft.value.machine_id }
}
const machine = computed(() => machines.data.value?.find((m) => m.id === draft.value.machine_id))
const family = useFamily(() => machine.value?.family)
const fam = computed(() => family.data.value)
const at = ref('jets')
const marks = computed(() => {
  const out: Record<string, string> = {}
  for (const f of draft.value.faults) {
    const reach = fam.value?.faults.find((x) => x.id === f.id)?.reach
    if (reach) out[reach] = 'condemned'
  }
  return out
})
const faultsHere = computed(
  () => fam.value?.faults.filter((f) => f.reach === at.value && !machine.value?.lacks.includes(f.id)) ?? [],
)
// What has been given out for this kind of engine can be followed in the job.
const procedures = useQuery({ queryKey: ['procedures'], queryFn: () => ask(api.GET('/api/procedures')) })
const pages = computed(() =>
  (procedures.data.value ?? [])
    .filter((p) => !p.archived && p.family === machine.value?.family && p.given_out.length > 0)
    .map((p) => ({
      title: text('page.revision-of', { title: p.title, n: p.given_out.length }),
      value: { id: p.id, revision: p.given_out.length },
    })),
)
watch(pages, (all) => {
  const mine = draft.value.procedure
  if (mine && procedures.isSuccess.value && !all.some((p) => p.value.id === mine.id)) draft.value.procedure = undefined
})
const kind = (id: string) => fam.value?.faults.find((f) => f.id === id)
const hidden = (id: string) => draft.value.faults.find((f) => f.id === id)
function hide(id: string) {
  draft.value.faults = hidden(id)
    ? draft.value.faults.filter((f) => f.id !== id)
    : [...draft.value.faults, { id, severity: kind(id)?.graded ? 0.6 : 1, mode: kind(id)?.modes[0] }]
}
const causeName = (id: string) =>
  (fam.value?.causes.find((c) => c.id === id) ?? kind(id))?.name.toLowerCase() ?? id.replaceAll('-', ' ')
const withFaults = computed(() => new Set(fam.value?.faults.map((f) => f.reach)))

const spec = computed<Schema['JobSpec']>(() => {
  const rest = draft.value
  const number = (v: unknown, otherwise: number) => (typeof v === 'number' && Number.isFinite(v) ? v : otherwise)
  return {
    ...rest,
    limit_minutes: number(rest.limit_minutes, 0),
    limit_money: number(rest.limit_money, -1),
    temperature_c: number(rest.temperature_c, 999),
    altitude_m: number(rest.altitude_m, -9999),
  }
})
const preview = ref<Schema['Preview'] | null>(null)
const trouble = ref<Refusal | null>(null)
const working = ref(false)
let turn = 0
watchDebounced(
  [spec, () => session.ended],
  async () => {
    if (!spec.value.machine_id || session.ended) return
    const mine = ++turn
    working.value = true
    try {
      const p = await ask(api.POST('/api/preview', { body: spec.value }))
      if (mine === turn) {
        preview.value = p
        trouble.value = null
      }
    } catch (e) {
      if (mine === turn && !session.noticed(e)) trouble.value = e as Refusal
    } finally {
      if (mine === turn) working.value = false
    }
  },
  { debounce: 350, immediate: true, deep: true },
)
const truth = computed(() => {
  const p = preview.value?.complaint_true
  if (p === undefined) return { cls: 'none', text: text('job.no-claim') }
  if (p > 0.75) return { cls: 'ok', text: text('job.true', { p: Math.round(p * 100) }) }
  if (p > 0.25)
    return {
      cls: 'mid',
      text: text('job.half-true', { p: Math.round(p * 100) }),
    }
  return {
    cls: 'no',
    text: text('job.untrue', { p: Math.round(p * 100) }),
  }
})
const problem = (path: string) => preview.value?.problems.find((p) => p.path === path || p.path.startsWith(`${path}[`))
const can = computed(() => preview.value?.problems.length === 0 && !working.value)
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
const only = ref(true)
const modes = [
  { value: 'open', title: text('job.open') },
  { value: 'guided', title: text('job.guided') },
  { value: 'exam', title: text('job.exam') },
]
const rows = computed(() => (preview.value?.rows ?? []).filter((r) => !only.value || r.differs))
</script>

<template>
  <div class="page stack">
    <div class="row wrap">
      <h1 class="grow">{{ text('yard.set') }}</h1>
      <span class="muted small" role="status">{{ begun ? text('job.kept-here') : '' }}</span>
      <v-btn v-if="before && !begun" @click="draft = before">{{ text('job.put-back') }}</v-btn>
      <WhyBtn :not="begun ? '' : text('job.nothing-begun')" @click="anew">{{ text('job.anew') }}</WhyBtn>
    </div>
    <div v-if="fam && machine" class="cols">
      <div class="stack">
        <section class="panel stack">
          <div class="row wrap">
            <h2 class="grow">{{ text('job.hide') }}</h2>
            <v-select
              v-model="draft.machine_id"
              class="which"
              :label="text('job.machine')"
              :items="(machines.data.value ?? []).map((m) => ({ title: `${m.name} ${m.code}`, value: m.id }))"
            />
          </div>
          <LateralBoard
            class="board"
            dry
            :laterals="fam.laterals"
            :reaches="fam.reaches"
            :marks="marks"
            :at="at"
            :label="text('job.where')"
            @at="at = $event"
            @mark="() => undefined"
          />
          <div class="here">
            <b class="figure">{{ fam.reaches.find((r) => r.id === at)?.name }}</b>
            <v-btn v-for="f in faultsHere" :key="f.id" :aria-pressed="!!hidden(f.id)" @click="hide(f.id)">
              {{ f.name }}
            </v-btn>
            <span v-if="faultsHere.length === 0" class="muted">{{
              text('job.nothing-here', {
                reaches: fam.reaches
                  .filter((r) => withFaults.has(r.id))
                  .map((r) => r.name.toLowerCase())
                  .join(', '),
              })
            }}</span>
          </div>
          <div v-for="f in draft.faults" :key="f.id" class="fault">
            <b>{{ kind(f.id)?.name }}</b>
            <template v-if="kind(f.id)?.graded">
              <v-slider
                v-model="f.severity"
                class="gone"
                color="error"
                :min="0.05"
                :max="1"
                :step="0.05"
                :name="text('job.gone', { item: kind(f.id)?.name })"
                :value-format="({ value }) => `${Math.round(value * 100)} %`"
              />
              <span class="figure">{{ Math.round(f.severity * 100) }} %</span>
            </template>
            <span v-else class="muted">{{ text('job.there') }}</span>
            <v-select
              v-if="kind(f.id)?.modes.length"
              v-model="f.mode"
              class="mode"
              density="compact"
              :aria-label="text('job.way', { item: kind(f.id)?.name })"
              :items="kind(f.id)?.modes.map((m) => ({ title: m.replaceAll('-', ' '), value: m }))"
            />
            <v-select
              v-if="kind(f.id)?.causes.length"
              :model-value="f.cause ?? ''"
              class="mode"
              density="compact"
              :aria-label="text('job.led', { item: kind(f.id)?.name })"
              :items="[
                { title: text('job.cause-open'), value: '' },
                ...(kind(f.id)?.causes ?? []).map((c) => ({ title: causeName(c), value: c })),
              ]"
              @update:model-value="f.cause = $event || undefined"
            />
            <v-btn @click="hide(f.id)">{{ text('job.take-out') }}</v-btn>
          </div>
          <p v-if="problem('faults')" class="hint"><ProblemText :of="problem('faults')!" /></p>
        </section>
        <section class="panel stack">
          <h2>{{ text('job.card') }}</h2>
          <v-textarea v-model="draft.words" :label="text('job.words')" maxlength="600" />
          <v-select
            :model-value="draft.claim || null"
            :label="text('job.claim')"
            :placeholder="text('job.choose')"
            :items="fam.complaints.map((c) => ({ title: c.name, value: c.id }))"
            @update:model-value="draft.claim = $event ?? ''"
          />
          <v-textarea v-model="draft.history" :label="text('job.history')" maxlength="2000" />
          <div class="four">
            <v-number-input v-model="draft.limit_minutes" :label="text('job.minutes')" :min="10" :max="600" />
            <v-number-input v-model="draft.limit_money" :label="text('job.money')" :min="0" :precision="2" />
            <v-number-input v-model="draft.temperature_c" :label="text('job.air')" :min="-40" :max="55" />
            <v-number-input
              v-model="draft.altitude_m"
              :label="text('job.altitude')"
              :min="-430"
              :max="5000"
              :step="50"
            />
          </div>
          <div class="row wrap">
            <v-select v-model="draft.mode" class="grow" :label="text('job.given')" :items="modes" />
            <v-checkbox v-model="draft.proper_only" :label="text('job.proper')" />
          </div>
          <div class="row">
            <v-select
              class="grow"
              :label="text('page.give')"
              :items="[{ title: text(pages.length ? 'page.give-none' : 'page.none-for'), value: null }, ...pages]"
              :model-value="draft.procedure ?? null"
              :value-comparator="(a, b) => a?.id === b?.id"
              @update:model-value="draft.procedure = $event ?? undefined"
            />
            <v-checkbox
              v-if="draft.mode === 'exam' && draft.procedure"
              v-model="draft.page_in_exam"
              :label="text('page.in-exam')"
            />
          </div>
        </section>
      </div>
      <div class="stack">
        <section class="panel stack">
          <div class="row">
            <h2 class="grow">{{ text('job.finds') }}</h2>
            <v-checkbox v-model="only" :label="text('job.only')" />
          </div>
          <p v-if="preview?.does" class="does">
            {{ text('job.does') }} <b>{{ preview.does }}</b>.
          </p>
          <p class="truth" :class="truth.cls" role="status">{{ truth.text }}</p>
          <p v-if="trouble" class="hint" role="alert"><ProblemText :of="trouble" /></p>
          <v-table density="compact">
            <thead>
              <tr>
                <th v-for="h in ['test', 'shows', 'sound', 'min']" :key="h" scope="col">{{ text(`job.${h}`) }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="r in rows" :key="r.test" :class="{ differs: r.differs }">
                <td>{{ r.title }}</td>
                <td class="figure">{{ r.shows }}</td>
                <td class="figure sound">{{ r.healthy }}</td>
                <td class="figure sound">{{ r.minutes || '–' }}</td>
              </tr>
              <tr v-if="rows.length === 0">
                <td colspan="4" class="muted">
                  {{ draft.faults.length ? text('job.no-test') : text('job.hide-one') }}
                </td>
              </tr>
            </tbody>
          </v-table>
          <p class="small muted">{{ text('job.fresh') }}</p>
        </section>
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
          <p
            v-for="p in preview?.problems.filter((x) => !x.path.startsWith('faults')) ?? []"
            :key="p.path"
            class="hint"
          >
            <ProblemText :of="p" />
          </p>
          <div v-if="refusal" class="refusal" role="alert">
            <p v-for="(p, i) in refusal.all.length ? refusal.all : [refusal]" :key="i">
              <ProblemText :of="p" />
            </p>
          </div>
          <WhyBtn main class="big" :busy="busy" :not="can ? '' : text('job.not-yet')" @click="set">
            {{ text(draft.apprentices.length ? 'job.set-give' : 'job.set') }}
          </WhyBtn>
        </section>
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
  grid-template-columns: minmax(0, 1.8fr) minmax(0, 1fr);
  gap: 14px;
}
.which {
  flex: 0 0 260px;
}
.board {
  height: 300px;
}
.here,
.fault {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
  min-height: 48px;
}
.here > b {
  font-size: 18px;
}
.fault {
  background: var(--condemned-bg);
  color: var(--condemned-ink);
  border-radius: 10px;
  padding: 4px 6px 4px 14px;
}
.fault b {
  flex: 1 1 180px;
}
.gone {
  flex: 1 1 160px;
}
.mode {
  flex: 0 0 170px;
}
.fault .muted {
  color: inherit;
}
.fault .figure {
  min-width: 52px;
  font-size: 19px;
}
.four {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 10px;
}
.truth {
  padding: 9px 12px;
  border-radius: 10px;
  background: var(--line-soft);
  min-height: 44px;
}
.truth.ok {
  background: var(--good-bg);
  color: var(--good);
}
.truth.mid,
.hint {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.truth.no,
.refusal {
  background: var(--condemned-bg);
  color: var(--condemned-ink);
}
.hint,
.refusal {
  border-radius: 10px;
  padding: 8px 12px;
}
.hint::first-letter {
  text-transform: uppercase;
}
.does {
  font-size: 16.5px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font: 500 15px/1 var(--label);
  color: var(--muted);
}
th,
td {
  padding: 6px 8px 6px 0;
}
td {
  border-top: 1px solid var(--line-soft);
  font-size: 14.5px;
  line-height: 1.2;
}
td.figure {
  font-size: 16px;
}
.sound {
  color: var(--muted);
}
.differs td:nth-child(2) {
  color: var(--condemned-ink);
}
.big {
  min-height: 52px;
  font-size: 18px;
}
@media (max-width: 1000px) {
  .cols {
    grid-template-columns: minmax(0, 1fr);
  }
  .four {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
