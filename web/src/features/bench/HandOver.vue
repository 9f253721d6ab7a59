<script setup lang="ts">
import '@/words/handing'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useTimeoutFn } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, Refusal, type Schema } from '@/api/client'
import LateralBoard from '@/board/LateralBoard.vue'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import { useSession } from '@/session/session'
import { useBench } from './useBench'
import { useFamily } from './useFamily'
import WalkRound from './WalkRound.vue'
import ProblemText from '@/words/ProblemText.vue'
import { capital, sentence, text } from '@/words/words'

const attempt = String(useRoute().params.attempt)
const router = useRouter()
const session = useSession()
const queries = useQueryClient()
const { bench, busy: acting, offline, refusal: refused, notice, load, act } = useBench(attempt)
const family = useFamily(() => bench.value?.family)
const fam = computed(() => family.data.value)
const refusal = ref<Refusal | null>(null)
const busy = ref(false)
// What is handed over or stopped is closed to further acts.
const open = computed(() => ['new', 'in-hand'].includes(bench.value?.state ?? ''))
const saved = ref('')

type Hand = Required<Pick<Schema['HandOver'], 'cause' | 'advice' | 'note'>> &
  Pick<Schema['HandOver'], 'findings' | 'verdict' | 'proof_seq'>
const blank = (): Hand => ({ findings: [], cause: '', advice: '', verdict: '', proof_seq: -1, note: '' })
// Kept on the device at every keystroke, and on the server soon after.
const hand = useLocalStorage<Hand>(`hand-over.${attempt}`, blank())
const filings = [
  { value: 'root', title: capital(text('filing.root')) },
  { value: 'contributing', title: capital(text('filing.contributing')) },
  { value: 'incidental', title: capital(text('filing.incidental')) },
  { value: 'not-a-fault', title: capital(text('filing.not-a-fault')) },
]
const verdicts = [
  { value: 'repaired', title: text('hand-over.repaired') },
  { value: 'not-worth-it', title: text('hand-over.not-worth-it') },
  { value: 'refer-on', title: text('hand-over.refer-on') },
]

const stop = watch(bench, (b) => {
  if (!b) return
  stop()
  if (b.draft && hand.value.findings.length === 0 && !hand.value.verdict) hand.value = { ...blank(), ...b.draft }
  if (hand.value.findings.length === 0) {
    // Begin from the board: what was condemned is offered as the root cause.
    const reach = Object.entries(b.board).find(([, m]) => m === 'condemned')?.[0]
    hand.value.findings = [{ reach: reach ?? '', filing: 'root', fault: '', evidence: [] }]
  }
})
onMounted(load)

const soon = useTimeoutFn(() => keep(), 700, { immediate: false })
const again = useTimeoutFn(() => keep(), 3000, { immediate: false })
async function keep() {
  try {
    await ask(api.PUT('/api/attempts/{attempt}/draft', { params: { path: { attempt } }, body: hand.value }))
    saved.value = text('hand-over.kept')
  } catch (e) {
    if (session.noticed(e)) return
    saved.value = text('hand-over.kept-here')
    again.start()
  }
}
watch(
  hand,
  () => {
    again.stop()
    saved.value = ''
    if (bench.value && open.value) soon.start()
  },
  { deep: true },
)

const entries = computed(
  () => bench.value?.ledger.filter((l) => !l.waiting && (l.kind === 'take' || l.kind === 'repair')) ?? [],
)
const runs = computed(() => entries.value.filter((l) => fam.value?.tests.find((t) => t.id === l.test)?.kind === 'run'))
const listed = (things: { id: string; name: string }[] = []) => things.map((x) => ({ title: x.name, value: x.id }))
const faultsAt = (reach: string) => listed(fam.value?.faults.filter((f) => f.reach === reach))
// Faults that can lead to others: how far up the chain of causes a claim may reach.
const leading = computed(
  () => fam.value?.faults.filter((f) => fam.value!.faults.some((o) => o.causes.includes(f.id))) ?? [],
)
const reachesIn = computed(
  () =>
    fam.value?.laterals.flatMap((l) => [
      { type: 'subheader', title: l.name },
      ...listed(fam.value!.reaches.filter((r) => r.lateral === l.id)),
    ]) ?? [],
)
const causes = computed(() => [
  { title: text('hand-over.not-known'), value: '' },
  { type: 'subheader', title: text('hand-over.befell') },
  ...listed(fam.value?.causes),
  { type: 'subheader', title: text('hand-over.led') },
  ...listed(leading.value),
])
const proofs = computed(() => [
  { title: text('hand-over.no-proof'), value: -1 },
  ...runs.value.map((r) => ({
    title: text('hand-over.run', { minutes: r.at_min, title: r.title, result: r.result }),
    value: r.seq,
  })),
])
const add = () => hand.value.findings.push({ reach: '', filing: 'incidental', fault: '', evidence: [] })
function toggle(f: Schema['Finding'], seq: number) {
  f.evidence = f.evidence?.includes(seq)
    ? f.evidence.filter((s) => s !== seq)
    : [...(f.evidence ?? []), seq].sort((a, b) => a - b)
}

async function handOver() {
  soon.stop()
  again.stop()
  busy.value = true
  refusal.value = null
  const body = {
    ...hand.value,
    findings: hand.value.findings.filter((f) => f.reach).map((f) => ({ ...f, fault: f.fault || undefined })),
    cause: hand.value.cause || undefined,
    advice: hand.value.advice || undefined,
  }
  try {
    await ask(api.POST('/api/attempts/{attempt}/hand-over', { params: { path: { attempt } }, body }))
    await queries.invalidateQueries()
    await router.push(`/debrief/${attempt}`)
    localStorage.removeItem(`zanjero.hand-over.${attempt}`)
  } catch (e) {
    if (!session.noticed(e)) refusal.value = e as Refusal
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div v-if="bench && fam" class="page stack">
    <div class="row wrap title">
      <h1>{{ text('hand-over.title', { machine: bench.machine_name, code: bench.machine_code }) }}</h1>
      <span class="grow"></span>
      <span class="muted small" role="status">{{ saved }}</span>
      <v-btn :to="`/bench/${attempt}`">{{ text('hand-over.back') }}</v-btn>
    </div>
    <p class="muted">“{{ bench.words }}”</p>
    <div class="cols">
      <div class="stack">
        <section
          v-for="(f, i) in hand.findings"
          :key="i"
          class="panel finding"
          :class="f.filing"
          :aria-label="text('hand-over.finding', { n: i + 1 })"
        >
          <div class="line">
            <v-select v-model="f.filing" :label="text('hand-over.what')" :items="filings" />
            <v-autocomplete
              :model-value="f.reach || null"
              :label="text('hand-over.part')"
              :placeholder="text('hand-over.choose-reach')"
              :items="reachesIn"
              @update:model-value="((f.reach = $event ?? ''), (f.fault = ''))"
            />
            <v-select
              v-model="f.fault"
              :label="text('hand-over.wrong')"
              :disabled="!f.reach"
              :hint="f.reach ? '' : text('hand-over.part-first')"
              persistent-hint
              :items="[{ title: text('hand-over.left-open'), value: '' }, ...faultsAt(f.reach)]"
            />
            <v-btn
              v-if="hand.findings.length > 1"
              :aria-label="text('hand-over.take-away')"
              @click="hand.findings.splice(i, 1)"
            >
              ✕
            </v-btn>
          </div>
          <fieldset>
            <legend class="figure">{{ text('hand-over.evidence') }}</legend>
            <div class="row wrap">
              <v-btn
                v-for="e in entries"
                :key="e.seq"
                class="chip"
                :aria-pressed="!!f.evidence?.includes(e.seq)"
                @click="toggle(f, e.seq)"
              >
                {{ e.title }}: {{ e.result }}
              </v-btn>
              <p v-if="entries.length === 0" class="muted">{{ text('hand-over.no-evidence') }}</p>
            </div>
          </fieldset>
        </section>
        <v-btn @click="add">{{ text('hand-over.add') }}</v-btn>
        <WalkRound :family="fam" :bench="bench" :busy="acting || !open" @event="act" />
        <p v-if="refused || notice || offline" class="refusal" role="alert">
          {{ refused ? sentence(refused) : notice || text('hand-over.lost') }}
        </p>
        <section class="panel">
          <h2>{{ text('hand-over.board') }}</h2>
          <LateralBoard
            class="mini"
            small
            still
            :laterals="fam.laterals"
            :reaches="fam.reaches"
            :marks="bench.board"
            :label="text('hand-over.board')"
          />
        </section>
      </div>
      <div class="stack">
        <section class="panel stack">
          <v-autocomplete v-model="hand.cause" :label="text('hand-over.cause')" :items="causes" />
          <fieldset>
            <legend class="figure">{{ text('hand-over.becomes') }}</legend>
            <ChoiceRow v-model="hand.verdict" :label="text('hand-over.becomes')" :items="verdicts" />
          </fieldset>
          <v-select v-model="hand.proof_seq" :label="text('hand-over.proof')" :items="proofs" />
          <v-select
            v-model="hand.advice"
            :label="text('hand-over.advice')"
            :items="[{ title: text('hand-over.none'), value: '' }, ...listed(fam.advice)]"
          />
          <v-textarea v-model="hand.note" :label="text('hand-over.note')" maxlength="2000" />
          <div v-if="refusal" class="refusal" role="alert">
            <p><ProblemText :of="refusal" /></p>
            <p v-for="p in refusal.all.slice(1)" :key="p.path"><ProblemText :of="p" /></p>
          </div>
          <main-btn class="big" :disabled="busy" @click="handOver">
            {{ text(busy ? 'hand-over.busy' : 'hand-over.do') }}
          </main-btn>
          <p class="small muted">
            {{ text('hand-over.closes') }}
          </p>
        </section>
      </div>
    </div>
  </div>
  <div v-else class="page">
    <p v-if="refused" role="alert">{{ sentence(refused) }}</p>
    <WaitingFor v-else :what="text('hand-over.fetching')" as="heading, article, article" />
  </div>
</template>

<style scoped>
.cols {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 452px;
  gap: 14px;
}
.finding {
  display: grid;
  gap: 12px;
  border-left: 7px solid var(--gate);
}
.finding.root {
  border-color: var(--condemned);
}
.line {
  display: grid;
  grid-template-columns: 190px 1fr 1fr auto;
  gap: 10px;
  align-items: center;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
}
legend {
  margin-bottom: 6px;
}
.chip {
  font-weight: 500;
  text-align: left;
}
.mini {
  margin-top: 12px;
  height: 300px;
}
.big {
  min-height: 52px;
  font-size: 18px;
}
@media (max-width: 1000px) {
  .cols,
  .line {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
