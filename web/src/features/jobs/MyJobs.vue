<script setup lang="ts">
import WaitingFor from '@/controls/WaitingFor.vue'
import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import FirstJob from '@/features/first/FirstJob.vue'
import { useNow } from '@vueuse/core'
import { capital, explain, sentence, text } from '@/words/words'

// For a class that does something together just now.
const ClassCards = defineAsyncComponent(() => import('./ClassCards.vue'))
const MARKING_MS = 2000
const jobs = useInfiniteQuery({
  queryKey: ['attempts'],
  queryFn: ({ pageParam: before }) => ask(api.GET('/api/attempts', { params: { query: { before } } })),
  initialPageParam: undefined as string | undefined,
  getNextPageParam: (last) => last.before,
  // Only what is being marked changes by itself.
  refetchInterval: (q) =>
    q.state.data?.pages.some((p) => p.items.some((j) => j.state === 'marking')) ? MARKING_MS : false,
})
const listed = computed(() => jobs.data.value?.pages.flatMap((p) => p.items) ?? [])
const now = useNow({ interval: 1000 })
const closed = (at?: string) => !!at && new Date(at) <= now.value
const done = computed(() => listed.value.filter((j) => j.state === 'handed-over' || j.state === 'marking'))
const stuck = computed(() => listed.value.filter((j) => j.state === 'frozen' || j.outdated))
/** The turns of an exam stand in the order in which they come, before the rest. */
const turn = (j: Schema['AttemptCard']) => j.turn?.at ?? '9'
const open = computed(() =>
  listed.value
    .filter((j) => !done.value.includes(j) && !stuck.value.includes(j))
    .sort((a, b) => turn(a).localeCompare(turn(b))),
)
</script>

<template>
  <div class="page">
    <h1>{{ text('jobs.title') }}</h1>
    <ClassCards />
    <WaitingFor v-if="jobs.isPending.value" :what="text('jobs.fetching')" as="list-item-three-line@3" />
    <p v-else-if="jobs.isError.value" role="alert">{{ sentence(jobs.error.value as Refusal) }}</p>
    <template v-else>
      <FirstJob :says="text('first.job-says')" />
      <section :aria-label="text('jobs.open')" class="cards">
        <router-link v-for="j in open" :key="j.id" class="card" :to="`/bench/${j.id}`">
          <div class="head">
            <h2>{{ j.machine_name }} {{ j.machine_code }}</h2>
            <span class="muted">
              <span v-if="j.purpose" class="purpose">{{ text(`jobs.${j.purpose}`) }}</span>
              {{ text('jobs.number', { number: j.job_number }) }}
            </span>
          </div>
          <p class="words">“{{ j.words }}”</p>
          <p v-if="j.turn">
            <b>{{ text('jobs.turn', { ...j.turn }) }}</b>
          </p>
          <div class="foot">
            <span class="figure">{{
              j.state === 'new'
                ? text('jobs.allowed', { limit: j.limit_minutes })
                : text('jobs.used', { minutes: j.minutes, limit: j.limit_minutes })
            }}</span>
            <span v-if="j.closes_at" class="muted">{{
              text(closed(j.closes_at) ? 'jobs.closed' : 'jobs.closes', { at: j.closes_at })
            }}</span>
            <main-btn tag="span">{{
              text(closed(j.closes_at) ? 'bench.hand-over' : j.state === 'new' ? 'jobs.take' : 'jobs.go-on')
            }}</main-btn>
          </div>
        </router-link>
        <p v-if="open.length === 0" class="panel">
          {{ text('jobs.none') }}
        </p>
      </section>
      <section v-if="stuck.length" :aria-label="text('jobs.stopped')" class="panel">
        <h2>{{ text('jobs.stopped') }}</h2>
        <p v-for="j in stuck" :key="j.id">
          <b>{{ j.machine_name }} {{ j.machine_code }}</b
          >, {{ text('jobs.number', { number: j.job_number }) }}: {{ explain({ code: 'attempt.stopped' }).what }}.
          {{ capital(explain({ code: 'attempt.stopped' }).mend) }}.
        </p>
      </section>
      <section v-if="done.length" :aria-label="text('jobs.handed')" class="panel done">
        <h2>{{ text('jobs.handed') }}</h2>
        <ul>
          <li v-for="j in done" :key="j.id">
            <span class="muted">{{ text('jobs.number', { number: j.job_number }) }}</span>
            <b>
              {{ j.machine_name }} {{ j.machine_code }}
              <span v-if="j.purpose" class="purpose">{{ text(`jobs.${j.purpose}`) }}</span>
            </b>
            <span>{{
              capital(
                text(j.state === 'marking' ? 'state.marking' : j.debrief_at ? 'state.handed-over' : `class.${j.class}`),
              )
            }}</span>
            <span class="figure">{{
              j.state === 'marking' || j.debrief_at ? '' : text('state.mark', { mark: j.mark, of: j.of })
            }}</span>
            <span class="muted">{{ text('tray.minutes', { minutes: j.minutes }) }}</span>
            <span v-if="j.debrief_at" class="muted">{{ text('jobs.debrief-at', { at: j.debrief_at }) }}</span>
            <v-btn v-else :to="`/debrief/${j.id}`">{{ text('bench.debrief') }}</v-btn>
          </li>
        </ul>
        <v-btn v-if="jobs.hasNextPage.value" :disabled="jobs.isFetchingNextPage.value" @click="jobs.fetchNextPage()">
          {{ text('jobs.earlier') }}
        </v-btn>
      </section>
    </template>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  gap: 16px;
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 520px), 1fr));
  gap: 14px;
}
.card {
  background: var(--panel);
  border-left: 7px solid var(--suspect);
  border-radius: 4px 14px 14px 4px;
  padding: 16px 18px;
  display: grid;
  gap: 12px;
  grid-template-rows: auto 1fr auto;
  color: var(--ink);
  text-decoration: none;
}
.head,
.foot {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.words {
  font-size: 17px;
}
.foot .figure {
  font-size: 17px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
}
li {
  display: grid;
  grid-template-columns: 64px 1fr 1fr 110px 80px auto;
  gap: 12px;
  align-items: center;
  padding: 6px 0;
  border-top: 1px solid var(--line-soft);
}
@media (max-width: 640px) {
  li {
    grid-template-columns: 1fr auto;
  }
}
</style>
