<script setup lang="ts">
import '@/words/yard'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, Refusal, type Schema } from '@/api/client'
import FirstJob from '@/features/first/FirstJob.vue'
import FirstSteps from '@/features/first/FirstSteps.vue'
import ProblemText from '@/words/ProblemText.vue'
import { capital, explain, sentence, text } from '@/words/words'

const queries = useQueryClient()
const jobs = useInfiniteQuery({
  queryKey: ['jobs'],
  queryFn: ({ pageParam: below }) => ask(api.GET('/api/jobs', { params: { query: { below } } })),
  initialPageParam: undefined as number | undefined,
  getNextPageParam: (last) => last.below,
  refetchInterval: 15_000,
})
const listed = computed(() => jobs.data.value?.pages.flatMap((p) => p.items))
const machines = useQuery({ queryKey: ['machines'], queryFn: () => ask(api.GET('/api/machines')) })
const apprentices = useQuery({ queryKey: ['apprentices'], queryFn: () => ask(api.GET('/api/apprentices')) })
const refusal = ref<Refusal | null>(null)

const all = computed(() => (listed.value ?? []).flatMap((j) => j.attempts))
const needs = computed(() => ({
  debrief: all.value.filter((x) => x.state === 'handed-over'),
  over: all.value.filter((x) => x.state === 'in-hand' && x.minutes > x.limit_minutes),
  hand: all.value.filter((x) => x.state === 'in-hand'),
}))
const give = useMutation({
  mutationFn: (v: { job: string; apprentices: string[] }) =>
    ask(
      api.POST('/api/jobs/{job}/attempts', {
        params: { path: { job: v.job } },
        body: { apprentices: v.apprentices },
      }),
    ),
  onSuccess: () => {
    refusal.value = null
    return queries.invalidateQueries({ queryKey: ['jobs'] })
  },
  onError: (e) => (refusal.value = e as Refusal),
})
/** An attempt that cannot be gone on with is put away and given anew. */
const renew = useMutation({
  mutationFn: (attempt: string) => ask(api.POST('/api/attempts/{attempt}/renewal', { params: { path: { attempt } } })),
  onSuccess: () => {
    refusal.value = null
    return queries.invalidateQueries({ queryKey: ['jobs'] })
  },
  onError: (e) => (refusal.value = e as Refusal),
})
/** The list of who it can be given to stays empty: choosing is giving. */
const nobody = undefined as unknown as string
/** What an instructor does first, and what of it is done. */
const first = computed(() => [
  { id: 'set', done: !!listed.value?.length },
  { id: 'watch', done: all.value.some((x) => x.state === 'handed-over') },
])
const stuck = (x: Schema['AttemptCard']) => x.state === 'frozen' || !!x.outdated
const free = (j: Schema['Job']) =>
  (apprentices.data.value ?? []).filter((p) => !j.attempts.some((x) => x.apprentice_id === p.id))
function state(x: Schema['AttemptCard']) {
  if (x.state === 'handed-over') return `${text(`class.${x.class}`)}, ${text('state.mark', { mark: x.mark, of: x.of })}`
  if (x.state === 'in-hand') return text('yard.spent', { minutes: x.minutes, limit: x.limit_minutes })
  return text(`state.${x.state}`)
}
const why = (x: Schema['AttemptCard']) => explain(x.frozen ?? { code: 'attempt.outdated' })
const off = (m: Schema['Machine']) => m.healthy.filter((h) => !h.agrees)
</script>

<template>
  <div class="page">
    <div class="row wrap">
      <h1 class="grow">{{ text('yard.title') }}</h1>
      <v-btn to="/yard/engines">{{ text('title.engines') }}</v-btn>
      <main-btn to="/yard/new-job">{{ text('yard.set') }}</main-btn>
    </div>
    <FirstSteps v-if="listed" of="yard" :steps="first" />
    <FirstJob v-if="listed" :says="text('first.job-yard')" />
    <section class="needs" :aria-label="text('yard.needs')">
      <div class="panel">
        <b class="figure">{{ needs.debrief.length }}</b> {{ text('yard.to-debrief') }}
      </div>
      <div class="panel">
        <b class="figure">{{ needs.hand.length }}</b> {{ text('yard.at-bench') }}
      </div>
      <div class="panel" :class="{ warn: needs.over.length }">
        <b class="figure">{{ needs.over.length }}</b> {{ text('yard.over') }}
      </div>
    </section>
    <p v-if="refusal" class="refusal" role="alert">
      <ProblemText :of="refusal" />
    </p>
    <section :aria-label="text('yard.jobs')" class="stack">
      <h2>{{ text('yard.jobs') }}</h2>
      <WaitingFor v-if="jobs.isPending.value" :what="text('yard.fetching')" as="table-tbody" />
      <p v-else-if="jobs.isError.value" role="alert">{{ sentence(jobs.error.value as Refusal) }}</p>
      <p v-else-if="listed?.length === 0" class="panel">
        {{ text('yard.none') }}
      </p>
      <article v-for="j in listed" :key="j.id" class="panel job">
        <div>
          <h3>{{ text('yard.job', { number: j.number, machine: j.machine_name }) }}</h3>
          <p class="muted small">“{{ j.spec.words }}”</p>
        </div>
        <ul>
          <li v-for="x in j.attempts" :key="x.id">
            <span>
              {{ x.apprentice }}
              <span v-if="x.purpose" class="purpose">{{ text(`jobs.${x.purpose}`) }}</span>
            </span>
            <span class="figure" :class="{ over: x.minutes > x.limit_minutes && x.state === 'in-hand' }">{{
              state(x)
            }}</span>
            <v-btn v-if="x.state === 'handed-over'" :to="`/debrief/${x.id}`">{{ text('bench.debrief') }}</v-btn>
            <v-btn v-else-if="stuck(x)" :disabled="renew.isPending.value" @click="renew.mutate(x.id)">
              {{ text('yard.anew') }}
            </v-btn>
            <v-btn v-else :to="`/bench/${x.id}`">{{ text('yard.watch') }}</v-btn>
            <p v-if="stuck(x)" class="stuck small" role="status">
              {{ capital(why(x).what) }}. {{ capital(why(x).mend) }}.
            </p>
          </li>
          <li v-if="j.attempts.length === 0" class="muted">{{ text('yard.nobody') }}</li>
        </ul>
        <v-btn v-if="j.iron" :to="`/yard/engines/${j.spec.machine_id}`">{{ text('yard.to-engine') }}</v-btn>
        <v-select
          v-else
          :model-value="nobody"
          :aria-label="text('yard.give-to', { number: j.number })"
          :placeholder="text(free(j).length ? 'yard.give' : 'yard.everybody')"
          :items="free(j).map((p) => ({ title: p.display_name, value: p.id }))"
          :disabled="free(j).length === 0 || give.isPending.value"
          @update:model-value="give.mutate({ job: j.id, apprentices: [$event] })"
        />
      </article>
      <v-btn v-if="jobs.hasNextPage.value" :disabled="jobs.isFetchingNextPage.value" @click="jobs.fetchNextPage()">
        {{ text('jobs.earlier') }}
      </v-btn>
    </section>
    <section :aria-label="text('yard.machines')" class="stack">
      <div class="row wrap">
        <h2 class="grow">{{ text('yard.machines') }}</h2>
        <v-btn to="/yard/machines/new">{{ text('yard.add-machine') }}</v-btn>
      </div>
      <article v-for="m in machines.data.value" :key="m.id" class="panel machine">
        <div>
          <h3>{{ m.name }} {{ m.code }}</h3>
          <p class="muted small">{{ m.duty }}</p>
        </div>
        <span class="figure">{{ m.family_name }}</span>
        <span
          class="tag"
          :class="off(m).length ? 'no' : 'ok'"
          :title="
            off(m)
              .map((h) => text('yard.disagrees', { test: h.title, reads: h.reads, sheet: h.sheet }))
              .join('; ')
          "
          >{{
            off(m).length
              ? text('yard.disagree', { off: off(m).length, all: m.healthy.length })
              : text('yard.agree', { all: m.healthy.length })
          }}</span
        >
        <v-btn :to="`/yard/machines/${m.id}`" :aria-label="text('yard.sheet-of', { machine: m.name })">{{
          text('yard.sheet')
        }}</v-btn>
      </article>
    </section>
  </div>
</template>

<style scoped>
.page,
.stack {
  display: grid;
  gap: 14px;
}
.stack {
  gap: 10px;
}
.needs {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 12px;
}
.needs .panel {
  display: flex;
  gap: 12px;
  align-items: baseline;
}
.needs b {
  font-size: 30px;
}
.needs .warn {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.job {
  display: grid;
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 1.3fr) 180px;
  gap: 18px;
  align-items: start;
}
.job ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
.job li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) 184px;
  gap: 10px;
  align-items: center;
}
.stuck {
  grid-column: 1 / -1;
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 8px;
  padding: 6px 10px;
}
.over {
  color: var(--condemned-ink);
}
.machine {
  display: grid;
  grid-template-columns: minmax(0, 1.2fr) 210px minmax(0, 1fr) 160px;
  gap: 18px;
  align-items: center;
}
.machine .tag {
  justify-self: start;
}
.tag {
  padding: 2px 8px;
  border-radius: 7px;
  font: 600 14.5px/1.2 var(--label);
}
.tag.ok {
  background: var(--good-bg);
  color: var(--good);
}
.tag.no {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
@media (max-width: 860px) {
  .job,
  .machine,
  .needs {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
