<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, Refusal, type Schema } from '@/api/client'
import LateralBoard from '@/board/LateralBoard.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import { useSession } from '@/session/session'
import { useBench } from './useBench'
import { useFamily } from './useFamily'
import WalkRound from './WalkRound.vue'
import ProblemText from '@/words/ProblemText.vue'
import { sentence } from '@/words/words'

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
  ['root', 'Root cause'],
  ['contributing', 'Contributing'],
  ['incidental', 'Incidental'],
  ['not-a-fault', 'Not a fault'],
]
const verdicts = [
  ['repaired', 'Repaired and proved'],
  ['not-worth-it', 'Not worth repairing'],
  ['refer-on', 'Refer on'],
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

let timer: ReturnType<typeof setTimeout> | undefined
async function keep() {
  try {
    await ask(api.PUT('/api/attempts/{attempt}/draft', { params: { path: { attempt } }, body: hand.value }))
    saved.value = 'Draft kept'
  } catch (e) {
    if (session.noticed(e)) return
    saved.value = 'Kept on this device; the server will have it when it can be reached'
    timer = setTimeout(() => void keep(), 3000)
  }
}
watch(
  hand,
  () => {
    clearTimeout(timer)
    saved.value = ''
    if (bench.value && open.value) timer = setTimeout(() => void keep(), 700)
  },
  { deep: true },
)
onBeforeUnmount(() => clearTimeout(timer))

const entries = computed(
  () => bench.value?.ledger.filter((l) => !l.waiting && (l.kind === 'take' || l.kind === 'repair')) ?? [],
)
const runs = computed(() => entries.value.filter((l) => fam.value?.tests.find((t) => t.id === l.test)?.kind === 'run'))
const faultsAt = (reach: string) => fam.value?.faults.filter((f) => f.reach === reach) ?? []
// Faults that can lead to others: how far up the chain of causes a claim may reach.
const leading = computed(
  () => fam.value?.faults.filter((f) => fam.value!.faults.some((o) => o.causes.includes(f.id))) ?? [],
)
const lateralsIn = computed(
  () => fam.value?.laterals.map((l) => ({ ...l, reaches: fam.value!.reaches.filter((r) => r.lateral === l.id) })) ?? [],
)
const add = () => hand.value.findings.push({ reach: '', filing: 'incidental', fault: '', evidence: [] })
function toggle(f: Schema['Finding'], seq: number) {
  f.evidence = f.evidence?.includes(seq)
    ? f.evidence.filter((s) => s !== seq)
    : [...(f.evidence ?? []), seq].sort((a, b) => a - b)
}

async function handOver() {
  clearTimeout(timer)
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
      <h1>Hand over {{ bench.machine_name }} {{ bench.machine_code }}</h1>
      <span class="grow"></span>
      <span class="muted small" role="status">{{ saved }}</span>
      <router-link class="key" :to="`/bench/${attempt}`">Back to the bench</router-link>
    </div>
    <p class="muted">“{{ bench.words }}”</p>
    <div class="cols">
      <div class="stack">
        <section
          v-for="(f, i) in hand.findings"
          :key="i"
          class="panel finding"
          :class="f.filing"
          :aria-label="`Finding ${i + 1}`"
        >
          <div class="line">
            <label class="field"
              >What is it?
              <select v-model="f.filing" class="plain">
                <option v-for="[id, name] in filings" :key="id" :value="id">{{ name }}</option>
              </select>
            </label>
            <label class="field"
              >Part
              <select v-model="f.reach" class="plain" @change="f.fault = ''">
                <option value="" disabled>choose a reach</option>
                <optgroup v-for="l in lateralsIn" :key="l.id" :label="l.name">
                  <option v-for="r in l.reaches" :key="r.id" :value="r.id">{{ r.name }}</option>
                </optgroup>
              </select>
            </label>
            <label class="field"
              >What is wrong with it
              <select v-model="f.fault" class="plain" :disabled="!f.reach">
                <option value="">left open</option>
                <option v-for="x in faultsAt(f.reach)" :key="x.id" :value="x.id">{{ x.name }}</option>
              </select>
            </label>
            <button
              v-if="hand.findings.length > 1"
              type="button"
              class="key"
              aria-label="Take this finding away"
              @click="hand.findings.splice(i, 1)"
            >
              ✕
            </button>
          </div>
          <fieldset>
            <legend class="figure">Ledger entries that bear it out</legend>
            <div class="row wrap">
              <button
                v-for="e in entries"
                :key="e.seq"
                type="button"
                class="key chip"
                :aria-pressed="!!f.evidence?.includes(e.seq)"
                @click="toggle(f, e.seq)"
              >
                {{ e.title }}: {{ e.result }}
              </button>
              <p v-if="entries.length === 0" class="muted">The ledger is empty. A claim without evidence is a guess.</p>
            </div>
          </fieldset>
        </section>
        <button type="button" class="key" @click="add">Add a finding</button>
        <WalkRound :family="fam" :bench="bench" :busy="acting || !open" @event="act" />
        <p v-if="refused || notice || offline" class="refusal" role="alert">
          {{ refused ? sentence(refused) : notice || 'Connection lost. What you did is kept and will be sent.' }}
        </p>
        <section class="panel">
          <h2>The board as you leave it</h2>
          <LateralBoard
            class="mini"
            small
            still
            :laterals="fam.laterals"
            :reaches="fam.reaches"
            :marks="bench.board"
            label="The board as you leave it"
          />
        </section>
      </div>
      <div class="stack">
        <section class="panel stack">
          <label class="field"
            >How did it come about?
            <select v-model="hand.cause" class="plain">
              <option value="">not known</option>
              <optgroup label="What befell it">
                <option v-for="c in fam.causes" :key="c.id" :value="c.id">{{ c.name }}</option>
              </optgroup>
              <optgroup label="Another fault that led to it">
                <option v-for="f in leading" :key="f.id" :value="f.id">{{ f.name }}</option>
              </optgroup>
            </select>
          </label>
          <fieldset>
            <legend class="figure">What becomes of the machine?</legend>
            <div class="row wrap" role="radiogroup" aria-label="What becomes of the machine?">
              <button
                v-for="[id, name] in verdicts"
                :key="id"
                type="button"
                class="key"
                role="radio"
                :aria-checked="hand.verdict === id"
                @click="hand.verdict = id"
              >
                {{ name }}
              </button>
            </div>
          </fieldset>
          <label class="field"
            >Proof run
            <select v-model.number="hand.proof_seq" class="plain">
              <option :value="-1">none was made</option>
              <option v-for="r in runs" :key="r.seq" :value="r.seq">
                {{ r.at_min }} min · {{ r.title }}: {{ r.result }}
              </option>
            </select>
          </label>
          <label class="field"
            >Advice to the owner
            <select v-model="hand.advice" class="plain">
              <option value="">none</option>
              <option v-for="a in fam.advice" :key="a.id" :value="a.id">{{ a.name }}</option>
            </select>
          </label>
          <label class="field"
            >Note <textarea v-model="hand.note" class="plain" rows="2" maxlength="2000"></textarea>
          </label>
          <div v-if="refusal" class="refusal" role="alert">
            <p><ProblemText :of="refusal" /></p>
            <p v-for="p in refusal.all.slice(1)" :key="p.path"><ProblemText :of="p" /></p>
          </div>
          <button type="button" class="key main big" :disabled="busy" @click="handOver">
            {{ busy ? 'Handing over …' : 'Hand over and read the debrief' }}
          </button>
          <p class="small muted">
            After this the ledger is closed. It says what was checked; it does not say that the machine is safe to
            return to service.
          </p>
        </section>
      </div>
    </div>
  </div>
  <div v-else class="page">
    <p :role="refused ? 'alert' : 'status'" class="muted">
      {{ refused ? sentence(refused) : 'Fetching the job …' }}
    </p>
  </div>
</template>

<style scoped>
.title .key {
  text-decoration: none;
  display: grid;
  place-items: center;
}
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
  grid-template-columns: 150px 1fr 1fr auto;
  gap: 10px;
  align-items: end;
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
