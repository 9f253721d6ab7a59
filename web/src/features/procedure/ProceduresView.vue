<script setup lang="ts">
import WaitingFor from '@/controls/WaitingFor.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, Refusal, type Schema } from '@/api/client'
import { useFamily } from '@/features/bench/useFamily'
import { nameOf, sentence, text } from '@/words/words'
import ProblemText from '@/words/ProblemText.vue'
import '@/words/yard'
import { usePlan } from './usePlan'

const router = useRouter()
const queries = useQueryClient()
const list = useQuery({ queryKey: ['procedures'], queryFn: () => ask(api.GET('/api/procedures')) })
const machines = useQuery({ queryKey: ['machines'], queryFn: () => ask(api.GET('/api/machines')) })
const away = ref(false)
const shown = computed(() => (list.data.value ?? []).filter((p) => p.archived === away.value))
const refusal = ref<Refusal | null>(null)

// A new one is made for a machine and a complaint, from a school's page or from nothing.
const machineId = ref('')
watch(
  machines.data,
  (ms) => {
    if (ms?.length && !machineId.value) machineId.value = ms[0].id
  },
  { immediate: true },
)
const machine = computed(() => machines.data.value?.find((m) => m.id === machineId.value))
const family = useFamily(() => machine.value?.family)
const complaint = ref('no-start')
const schools = useQuery({
  queryKey: ['schools', computed(() => machine.value?.family), complaint],
  queryFn: () =>
    ask(api.GET('/api/schools', { params: { query: { family: machine.value!.family, complaint: complaint.value } } })),
  enabled: () => !!machine.value,
  staleTime: Infinity,
})
const add = useMutation({
  mutationFn: async (from?: Schema['Procedure']) => {
    const id = crypto.randomUUID()
    const draft: Schema['Procedure'] = {
      ...(from ?? { steps: [], families: [] }),
      id: 'draft',
      revision: 1,
      families: [machine.value!.family],
      complaint: complaint.value,
      title: from?.title ?? text('desk.untitled', { complaint: nameOf('complaint', complaint.value) }),
    }
    delete draft.about
    await ask(api.POST('/api/procedures', { body: { id, machine_id: machineId.value, draft } }))
    await queries.invalidateQueries({ queryKey: ['procedures'] })
    await router.push(`/yard/procedures/${id}`)
  },
  onError: (e) => (refusal.value = e as Refusal),
})
// Or a page is looked for by the server.
const { done, trouble, plan, stop } = usePlan()
const steps = ref(12)
const begin = ref('')
const begins = computed(() => [
  { value: '', title: text('desk.any-first') },
  ...(schools.data.value ?? []).map((p) => ({ value: p.school!, title: text(`desk.school-${p.school}`) })),
])
async function look() {
  const wanted = { machine_id: machineId.value, complaint: complaint.value, steps: steps.value }
  const page = await plan(begin.value ? { ...wanted, school: begin.value } : wanted)
  if (page) add.mutate({ ...page, title: text('desk.planned', { complaint: nameOf('complaint', complaint.value) }) })
}
const archive = useMutation({
  mutationFn: (p: Schema['ProcedureLine']) =>
    ask(
      api.PUT('/api/procedures/{procedure}/archive', {
        params: { path: { procedure: p.id } },
        body: { archived: !p.archived },
      }),
    ),
  onSuccess: () => queries.invalidateQueries({ queryKey: ['procedures'] }),
  onError: (e) => (refusal.value = e as Refusal),
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
    const lines = await ask(api.POST('/api/packs', { params: { query: { machine: machineId.value } }, body: pack }))
    came.value = text('desk.came', { n: lines.length, file: file.name })
    refusal.value = null
    await queries.invalidateQueries({ queryKey: ['procedures'] })
  },
  onError: (e) => {
    came.value = ''
    refusal.value = e as Refusal
  },
})
const file = ref<File[]>([])
function chosen(f: File | File[] | undefined | null) {
  const one = Array.isArray(f) ? f[0] : f
  if (one) bring.mutate(one)
  file.value = []
}
</script>

<template>
  <div class="page">
    <div class="row">
      <h1 class="grow">{{ text('desk.list') }}</h1>
      <v-btn variant="text" to="/yard/figures">{{ text('own.link') }}</v-btn>
    </div>
    <section class="panel new" :aria-label="text('desk.new')">
      <h2>{{ text('desk.new') }}</h2>
      <v-select
        v-model="machineId"
        :label="text('desk.machine')"
        :items="(machines.data.value ?? []).map((m) => ({ value: m.id, title: `${m.name} ${m.code}` }))"
      />
      <v-select
        v-model="complaint"
        :label="text('desk.complaint')"
        :items="(family.data.value?.complaints ?? []).map((c) => ({ value: c.id, title: c.name }))"
      />
      <div class="from" role="group" :aria-label="text('desk.from-what')">
        <span class="muted" aria-hidden="true">{{ text('desk.from-what') }}</span>
        <v-btn v-for="p in schools.data.value ?? []" :key="p.id" :disabled="add.isPending.value" @click="add.mutate(p)">
          {{ text(`desk.school-${p.school}`) }}
        </v-btn>
        <WhyBtn
          :busy="add.isPending.value"
          :not="machine ? '' : text('desk.no-machine')"
          @click="add.mutate(undefined)"
        >
          {{ text('desk.empty-page') }}
        </WhyBtn>
      </div>
      <div class="from plan" role="group" :aria-label="text('desk.plan')">
        <span class="muted" aria-hidden="true">{{ text('desk.plan') }}</span>
        <v-number-input
          v-model="steps"
          class="few"
          density="compact"
          :label="text('desk.most-steps')"
          :min="1"
          :max="14"
        />
        <v-select
          v-model="begin"
          class="first-moves"
          density="compact"
          :label="text('desk.first-moves')"
          :items="begins"
        />
        <template v-if="done">
          <v-progress-linear
            class="far"
            color="secondary"
            height="10"
            rounded
            :model-value="done * 100"
            :aria-label="text('desk.planning')"
          />
          <span class="figure" role="status">{{ text('print.planning', { percent: Math.round(done * 100) }) }}</span>
          <v-btn @click="stop">{{ text('desk.stop-looking') }}</v-btn>
        </template>
        <WhyBtn v-else :busy="add.isPending.value" :not="machine ? '' : text('desk.no-machine')" @click="look">{{
          text('desk.plan-it')
        }}</WhyBtn>
      </div>
      <v-file-input
        class="file"
        density="compact"
        accept="application/json,.json"
        :label="text('desk.bring')"
        :model-value="file"
        :loading="bring.isPending.value"
        @update:model-value="chosen"
      />
    </section>
    <p v-if="came" class="good" role="status">{{ came }}</p>
    <p v-if="trouble" class="notice" role="alert"><ProblemText :of="trouble" /></p>
    <div v-if="refusal" class="notice" role="alert">
      <ProblemText :of="refusal" />
      <ul v-if="refusal.all.length > 1">
        <li v-for="(p, i) in refusal.all.slice(0, 12)" :key="i">
          <b>{{ p.path }}</b> {{ sentence(p) }}
        </li>
      </ul>
    </div>
    <section class="stack" :aria-label="text('desk.list')">
      <div class="row">
        <h2 class="grow">{{ text(away ? 'desk.archived' : 'desk.kept') }}</h2>
        <v-btn variant="text" :aria-pressed="away" @click="away = !away">{{
          text(away ? 'desk.show-kept' : 'desk.show-archived')
        }}</v-btn>
      </div>
      <WaitingFor v-if="list.isPending.value" :what="text('desk.fetching')" as="table-tbody" />
      <p v-else-if="list.isError.value" role="alert">{{ sentence(list.error.value as Refusal) }}</p>
      <p v-else-if="shown.length === 0" class="panel">{{ text(away ? 'desk.none-archived' : 'desk.none') }}</p>
      <article v-for="p in shown" :key="p.id" class="panel line">
        <div class="what">
          <h3>{{ p.title || text('desk.no-title') }}</h3>
          <p class="muted small">
            {{ p.machine_name }}<template v-if="p.complaint"> · {{ nameOf('complaint', p.complaint) }}</template> ·
            {{ p.owner }}
          </p>
        </div>
        <span class="figure">{{
          p.given_out.length ? text('desk.revisions', { n: p.given_out.length }) : text('desk.only-draft')
        }}</span>
        <v-btn :aria-label="text('desk.open-it', { title: p.title })" :to="`/yard/procedures/${p.id}`">{{
          text('desk.open')
        }}</v-btn>
        <v-btn variant="text" :disabled="archive.isPending.value" @click="archive.mutate(p)">{{
          text(p.archived ? 'desk.fetch-back' : 'desk.archive')
        }}</v-btn>
      </article>
    </section>
  </div>
</template>

<style scoped>
.page,
.stack {
  display: grid;
  gap: 12px;
}
.new {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
.new h2,
.from {
  grid-column: 1 / -1;
}
.from {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
.few {
  flex: 0 0 120px;
}
.first-moves {
  flex: 0 0 240px;
}
.far {
  flex: 1 1 120px;
}
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto auto;
  gap: 14px;
  align-items: center;
  padding-block: 10px;
}
.what h3 {
  overflow: hidden;
  text-overflow: ellipsis;
}
.notice,
.good {
  border-radius: 12px;
  padding: 10px 14px;
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.good {
  background: var(--good-bg);
  color: var(--good);
}
@media (max-width: 700px) {
  .new,
  .line {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
