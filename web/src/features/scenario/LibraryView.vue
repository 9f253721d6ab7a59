<script setup lang="ts">
import '@/words/yard'
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, Refusal, type Schema } from '@/api/client'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useSession } from '@/session/session'
import { save } from '@/session/save'
import ProblemText from '@/words/ProblemText.vue'
import { nameOf, sentence, text } from '@/words/words'

type Line = Schema['ScenarioLine']

/** The library of scenarios: found by path, level, machine and words, opened, copied, carried elsewhere. */
const session = useSession()
const router = useRouter()
const queries = useQueryClient()
/** Asked again while a level is being worked out anew. */
const AGAIN_MS = 2000
const list = useQuery({
  queryKey: ['scenarios'],
  queryFn: () => ask(api.GET('/api/scenarios')),
  refetchInterval: (q) => (q.state.data?.some((l) => l.working_out) ? AGAIN_MS : false),
})
const anew = computed(() => all.value.filter((l) => l.working_out).length)
const refusal = ref<Refusal | null>(null)
const failed = (e: unknown) => !session.noticed(e) && (refusal.value = e as Refusal)

const sought = ref('')
const level = ref(0)
const lateral = ref('')
const machine = ref('')
const away = ref(false)
const levels = [{ value: 0, title: text('scene.any') }, ...[1, 2, 3, 4, 5].map((n) => ({ value: n, title: String(n) }))]
const all = computed(() => list.data.value ?? [])
const machines = computed(() => [
  { title: text('scene.any-machine'), value: '' },
  ...[...new Map(all.value.map((l) => [l.machine_id, `${l.machine_name} ${l.machine_code}`]))].map(
    ([value, title]) => ({
      value,
      title,
    }),
  ),
])
const paths = computed(() => [
  { title: text('scene.any-path'), value: '' },
  ...[...new Set(all.value.flatMap((l) => l.laterals))].map((id) => ({ title: nameOf('lateral', id), value: id })),
])
const shown = computed(() => {
  const words = sought.value.trim().toLowerCase()
  return all.value.filter(
    (l) =>
      l.archived === away.value &&
      (!level.value || l.level === level.value) &&
      (!lateral.value || l.laterals.includes(lateral.value)) &&
      (!machine.value || l.machine_id === machine.value) &&
      `${l.title} ${nameOf('complaint', l.complaint)}`.toLowerCase().includes(words),
  )
})
/** What it came to is far from what was computed: more than half as long again, or hardly any marks. */
const LONG = 1.5
const FEW = 0.4
function odd(l: Line) {
  if (!l.marked || !l.minutes) return ''
  if ((l.share ?? 1) < FEW) return text('scene.harder')
  return (l.took ?? 0) > 2 * LONG * l.minutes ? text('scene.longer') : ''
}

const copy = useMutation({
  mutationFn: async (l: Line) => {
    const id = crypto.randomUUID()
    const f = await ask(api.GET('/api/scenarios/{scenario}', { params: { path: { scenario: l.id } } }))
    const draft = { ...f.draft, title: text('scene.copy-of', { title: l.title }).slice(0, 120) }
    await ask(api.POST('/api/scenarios', { body: { id, machine_id: l.machine_id, draft } }))
    await queries.invalidateQueries({ queryKey: ['scenarios'] })
    await router.push(`/yard/scenarios/${id}`)
  },
  onError: failed,
})
const archive = useMutation({
  mutationFn: (l: Line) =>
    ask(
      api.PUT('/api/scenarios/{scenario}/archive', {
        params: { path: { scenario: l.id } },
        body: { archived: !l.archived },
      }),
    ),
  onSuccess: () => queries.invalidateQueries({ queryKey: ['scenarios'] }),
  onError: failed,
})
const carry = useMutation({
  mutationFn: async () => {
    const id = shown.value.map((l) => l.id)
    const pack = await ask(api.GET('/api/scenario-packs', { params: { query: { id } } }))
    save('scenarios.json', JSON.stringify(pack, null, 2))
  },
  onError: failed,
})
const came = ref('')
const bring = useMutation({
  mutationFn: async (file: File) => {
    let pack: Record<string, never>
    try {
      pack = JSON.parse(await file.text())
    } catch (e) {
      throw new Refusal(400, { code: 'page.not-json', params: { file: file.name, detail: (e as Error).message } })
    }
    const lines = await ask(api.POST('/api/scenario-packs', { body: pack }))
    came.value = text('desk.came', { n: lines.length, file: file.name })
    refusal.value = null
    await queries.invalidateQueries({ queryKey: ['scenarios'] })
  },
  onError: failed,
})
const file = ref<File[]>([])
function chosen(f: File | File[] | undefined | null) {
  const one = Array.isArray(f) ? f[0] : f
  came.value = ''
  if (one) bring.mutate(one)
  file.value = []
}
const percent = (n?: number) => Math.round(100 * (n ?? 0))
</script>

<template>
  <div class="page stack">
    <div class="row wrap">
      <h1 class="grow">{{ text('scene.library') }}</h1>
      <v-btn to="/yard/new-job" variant="flat" color="secondary">{{ text('scene.new') }}</v-btn>
    </div>
    <section class="panel stack" :aria-label="text('scene.library')">
      <div class="row wrap bar">
        <v-text-field v-model="sought" class="find" density="compact" :label="text('scene.find')" maxlength="60" />
        <ChoiceRow v-model="level" class="signs" :items="levels" :label="text('scene.level-of')" />
        <v-select v-model="lateral" class="which" density="compact" :label="text('scene.path')" :items="paths" />
        <v-select v-model="machine" class="which" density="compact" :label="text('job.machine')" :items="machines" />
        <v-btn @click="away = !away">{{ text(away ? 'desk.show-kept' : 'desk.show-archived') }}</v-btn>
      </div>
      <p v-if="refusal" class="hint" role="alert"><ProblemText :of="refusal" /></p>
      <p v-else-if="came" class="good" role="status">{{ came }}</p>
      <WaitingFor v-if="list.isPending.value" :what="text('desk.fetching')" as="table-tbody" />
      <p v-else-if="list.isError.value" role="alert">{{ sentence(list.error.value as Refusal) }}</p>
      <v-table v-else-if="shown.length" density="compact" class="lines">
        <thead>
          <tr>
            <th v-for="h in ['title', 'machine', 'symptom', 'level', 'takes', 'given']" :key="h" scope="col">
              {{ text(`scene.h-${h}`) }}
            </th>
            <th scope="col">
              <span class="sr-only">{{ text('scene.h-acts') }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in shown" :key="l.id">
            <th scope="row">
              <RouterLink :to="`/yard/scenarios/${l.id}`">{{ l.title || text('desk.no-title') }}</RouterLink>
            </th>
            <td>{{ l.machine_name }}</td>
            <td>{{ l.complaint ? nameOf('complaint', l.complaint) : '–' }}</td>
            <td class="figure" :class="{ muted: l.working_out }">{{ l.level ?? '–' }}</td>
            <td class="figure" :class="{ muted: l.working_out }">
              {{ l.minutes ? text('scene.min', { n: Math.round(l.minutes) }) : '–' }}
            </td>
            <td>
              <template v-if="l.given">
                {{ text('scene.given', { n: l.given }) }}
                <template v-if="l.marked">{{
                  text('scene.came', { share: percent(l.share), minutes: Math.round(l.took ?? 0) })
                }}</template>
                <b v-if="odd(l)" class="odd">{{ odd(l) }}</b>
              </template>
              <span v-else class="muted">{{ text('scene.never-given') }}</span>
            </td>
            <td class="acts">
              <v-btn
                density="compact"
                variant="text"
                :aria-label="text('scene.copy-it', { title: l.title })"
                @click="copy.mutate(l)"
                >{{ text('scene.copy') }}</v-btn
              >
              <v-btn
                density="compact"
                variant="text"
                :aria-label="text(l.archived ? 'scene.fetch-it' : 'scene.archive-it', { title: l.title })"
                @click="archive.mutate(l)"
                >{{ text(l.archived ? 'desk.fetch-back' : 'desk.archive') }}</v-btn
              >
            </td>
          </tr>
        </tbody>
      </v-table>
      <p v-else class="muted">{{ text('scene.none-such') }}</p>
      <div class="row wrap">
        <span class="grow muted" role="status">
          {{ text('scene.of-all', { n: shown.length, all: all.length }) }}
          <template v-if="anew">{{ text('scene.working-out', { n: anew }) }}</template>
        </span>
        <v-file-input
          class="bring"
          density="compact"
          accept="application/json,.json"
          :label="text('desk.bring')"
          :model-value="file"
          :loading="bring.isPending.value"
          @update:model-value="chosen"
        />
        <v-btn :disabled="!shown.length" @click="carry.mutate()">{{ text('scene.carry') }}</v-btn>
      </div>
    </section>
  </div>
</template>

<style scoped>
.find {
  flex: 1 1 180px;
}
.which {
  flex: 0 1 210px;
}
.bring {
  flex: 0 1 280px;
}
.lines {
  background: transparent;
}
.lines th[scope='row'] {
  font-weight: 600;
  border-top: 1px solid var(--line-soft);
}
.lines td,
.lines th {
  line-height: 1.25;
  padding-block: 4px;
}
.acts {
  white-space: nowrap;
  text-align: right;
}
.odd {
  color: var(--condemned-ink);
}
.hint {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 10px;
  padding: 8px 12px;
}
@media (max-width: 760px) {
  .lines :is(td, th):is(:nth-child(2), :nth-child(5), :nth-child(6)) {
    display: none;
  }
  .acts {
    white-space: normal;
  }
}
</style>
