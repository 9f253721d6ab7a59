<script setup lang="ts">
import '@/words/shop'
import '@/words/yard'
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import ProblemText from '@/words/ProblemText.vue'
import { sentence, text } from '@/words/words'

/** The board of the real engines: which are fit, and what is to be done to the others. */
const queries = useQueryClient()
const router = useRouter()
const engines = useQuery({
  queryKey: ['engines'],
  queryFn: () => ask(api.GET('/api/engines')),
  refetchInterval: 15_000,
})
const machines = useQuery({ queryKey: ['machines'], queryFn: () => ask(api.GET('/api/machines')) })

const COLUMNS: { id: string; of: Schema['EngineState'][] }[] = [
  { id: 'fit', of: ['fit'] },
  { id: 'bugged', of: ['bugged', 'seen'] },
  { id: 'out', of: ['given', 'again'] },
  { id: 'to-undo', of: ['back', 'undone'] },
]
const columns = computed(() =>
  COLUMNS.map((c) => ({ ...c, engines: (engines.data.value ?? []).filter((e) => c.of.includes(e.state)) })),
)

const draft = useLocalStorage('engine.new', { machine: undefined as string | undefined, serial: '', note: '' })
const refusal = ref<Refusal>()
const left = computed(() =>
  (machines.data.value ?? [])
    .filter((m) => !engines.data.value?.some((e) => e.machine_id === m.id))
    .map((m) => ({ value: m.id, title: `${m.name} ${m.code}` })),
)
const not = computed(() =>
  !draft.value.machine ? text('shop.choose-a-machine') : !draft.value.serial.trim() ? text('shop.write-a-serial') : '',
)
const add = useMutation({
  mutationFn: () =>
    ask(
      api.PUT('/api/engines/{machine}', {
        params: { path: { machine: draft.value.machine! } },
        body: { serial: draft.value.serial, note: draft.value.note },
      }),
    ),
  onSuccess: async () => {
    const to = draft.value.machine
    draft.value = { machine: undefined, serial: '', note: '' }
    await queries.invalidateQueries({ queryKey: ['engines'] })
    await router.push(`/yard/engines/${to}`)
  },
  onError: (e) => (refusal.value = e as unknown as Refusal),
})
</script>

<template>
  <div class="page stack">
    <div class="row wrap">
      <h1 class="grow">{{ text('title.engines') }}</h1>
      <v-btn to="/yard/exams">{{ text('title.exams') }}</v-btn>
      <v-btn to="/yard/instruments">{{ text('title.instruments') }}</v-btn>
      <v-btn to="/yard/study">{{ text('title.study') }}</v-btn>
      <v-btn to="/yard">{{ text('yard.title') }}</v-btn>
    </div>
    <WaitingFor v-if="engines.isPending.value" :what="text('shop.fetching')" as="table-tbody" />
    <p v-else-if="engines.isError.value" class="panel" role="alert">{{ sentence(engines.error.value as Refusal) }}</p>
    <div v-else class="columns">
      <section v-for="c in columns" :key="c.id" class="panel stack" :aria-label="text(`shop.column.${c.id}`)">
        <h2>
          {{ text(`shop.column.${c.id}`) }} <span class="figure muted">{{ c.engines.length }}</span>
        </h2>
        <router-link v-for="e in c.engines" :key="e.machine_id" class="engine" :to="`/yard/engines/${e.machine_id}`">
          <b>{{ e.name }} {{ e.code }}</b>
          <span class="muted small">{{ text('shop.serial-is', { serial: e.serial }) }}</span>
          <span v-if="e.state !== 'fit'" class="small">{{
            text(e.again ? 'shop.set-again' : `shop.next.${e.handed ? 'handed' : e.state}`)
          }}</span>
          <span v-if="e.with" class="small">{{ text('shop.with', { name: e.with }) }}</span>
        </router-link>
        <p v-if="!c.engines.length" class="muted small">{{ text('shop.none') }}</p>
      </section>
    </div>
    <form class="panel stack add" @submit.prevent="not || add.mutate()">
      <h2>{{ text('shop.add') }}</h2>
      <p class="muted small">{{ text('shop.add-lead') }}</p>
      <div class="row wrap">
        <v-autocomplete v-model="draft.machine" class="grow" :items="left" hide-details :label="text('shop.machine')" />
        <v-text-field v-model="draft.serial" class="grow" hide-details maxlength="60" :label="text('shop.serial')" />
        <v-text-field v-model="draft.note" class="grow" hide-details maxlength="500" :label="text('shop.note')" />
        <WhyBtn main type="submit" :not="not" :busy="add.isPending.value">{{ text('shop.add-it') }}</WhyBtn>
      </div>
      <p v-if="refusal" class="refusal" role="alert"><ProblemText :of="refusal" /></p>
    </form>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 12px;
}
.columns .panel {
  align-content: start;
}
.engine {
  display: grid;
  gap: 2px;
  padding: 10px 12px;
  border: 1.5px solid var(--line);
  border-radius: 12px;
  color: inherit;
  text-decoration: none;
}
.engine:hover {
  border-color: var(--link);
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
}
@media (max-width: 560px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
