<script setup lang="ts">
import '@/words/office'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import MoveDebriefs from '@/features/debrief/MoveDebriefs.vue'
import WaitingFor from '@/controls/WaitingFor.vue'
import LessonDialog from '@/features/lesson/LessonDialog.vue'
import WallDialog from '@/features/wall/WallDialog.vue'
import { moment, sentence, text } from '@/words/words'

/** What was given to a class, and how far each of it has come: a line for each person, a column for each job. */
const { id } = defineProps<{ id: string }>()
type Cell = Schema['ProgressCell']
const EVERY_MS = 10_000
const wall = ref(false)
const lesson = ref(false)
const progress = useQuery({
  queryKey: ['progress', id],
  queryFn: () => ask(api.GET('/api/classes/{class}/progress', { params: { path: { class: id } } })),
  refetchInterval: EVERY_MS,
})
const p = computed(() => progress.data.value)
const people = computed(() => p.value?.class.members.filter((m) => m.role === 'apprentice') ?? [])
const cells = computed(() => new Map(p.value?.cells.map((c) => [`${c.giving}/${c.person}`, c])))
const cell = (g: Schema['Giving'], person: string) => cells.value.get(`${g.id}/${person}`)
const name = (g: Schema['Giving']) =>
  text(g.variants > 1 ? 'office.job-variants' : 'office.job', { number: g.number, n: g.variants - 1 })
/** How many have not handed it over. */
const left = (g: Schema['Giving']) =>
  p.value!.cells.filter((c) => c.giving === g.id && !['to-review', 'done', 'marking'].includes(c.stands)).length
const to = (c: Cell) => (['to-review', 'done'].includes(c.stands) ? `/debrief/${c.attempt}` : `/bench/${c.attempt}`)

/** Those who want something of the instructor come first. */
const ORDER: Cell['stands'][] = [
  'stopped',
  'still',
  'over',
  'missed',
  'to-review',
  'at-work',
  'not-begun',
  'marking',
  'done',
]
/** A sign beside each colour, so that nothing hangs on the colour alone. */
const SIGNS: Record<Cell['stands'], string> = {
  stopped: '✕',
  still: '…',
  over: '!',
  missed: '✕',
  'to-review': '?',
  'at-work': '▸',
  'not-begun': '○',
  marking: '○',
  done: '✓',
}
const sums = computed(() =>
  ORDER.map((s) => ({ stands: s, n: p.value?.cells.filter((c) => c.stands === s).length ?? 0 })).filter((s) => s.n),
)
</script>

<template>
  <div class="page stack">
    <WaitingFor v-if="progress.isPending.value" :what="text('office.progress-fetching')" as="table-tbody" />
    <p v-else-if="!p" class="panel" role="alert">{{ sentence(progress.error.value as Refusal) }}</p>
    <template v-else>
      <div class="row wrap">
        <h1>{{ p.class.title }}</h1>
        <span class="muted">{{ p.class.term }}</span>
        <span class="grow"></span>
        <v-btn :to="`/classes/${id}/floor`">{{ text('office.floor.watch') }}</v-btn>
        <v-btn @click="lesson = true">{{ text('office.to-lesson') }}</v-btn>
        <v-btn @click="wall = true">{{ text('office.to-wall') }}</v-btn>
        <v-btn :to="`/classes/${id}/analysis`">{{ text('office.analysis') }}</v-btn>
        <v-btn to="/people">{{ text('title.people') }}</v-btn>
        <v-btn color="secondary" variant="flat" to="/yard/new-job">{{ text('office.give') }}</v-btn>
      </div>
      <LessonDialog v-model="lesson" :class="id" />
      <WallDialog v-model="wall" :class="id" />
      <p v-if="p.givings.length === 0" class="panel">{{ text('office.given-none') }}</p>
      <template v-else>
        <ul class="sums" :aria-label="text('office.sums')">
          <li v-for="s in sums" :key="s.stands" class="panel" :class="s.stands">
            <b class="n">{{ s.n }}</b>
            <span
              ><span aria-hidden="true">{{ SIGNS[s.stands] }}</span> {{ text(`office.stands.${s.stands}`) }}</span
            >
          </li>
        </ul>
        <section class="panel scroll" tabindex="0" role="region" :aria-label="text('office.given')">
          <v-table class="grid">
            <thead>
              <tr>
                <th scope="col">{{ text('office.who') }}</th>
                <th v-for="g in p.givings" :key="g.id" scope="col" class="job">
                  <b>{{ name(g) }}</b>
                  <span>{{ g.machine_name }} {{ g.machine_code }}</span>
                  <span class="words">“{{ g.words }}”</span>
                  <span v-if="g.opens_at">{{ text('office.opens', { at: moment(g.opens_at) }) }}</span>
                  <span v-if="g.closes_at">{{ text('office.closes', { at: moment(g.closes_at) }) }}</span>
                  <span v-if="g.debrief_at">
                    {{ text('office.debriefs', { at: moment(g.debrief_at) }) }}
                    <MoveDebriefs :given="g.id" :at="g.debrief_at" :left="left(g)" />
                  </span>
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="m in people" :key="m.person">
                <th scope="row">
                  <router-link :to="`/people/${m.person}/record`">{{ m.display_name }}</router-link>
                </th>
                <td v-for="g in p.givings" :key="g.id">
                  <router-link
                    v-if="cell(g, m.person)"
                    class="cell"
                    :class="cell(g, m.person)!.stands"
                    :to="to(cell(g, m.person)!)"
                    :aria-label="
                      text('office.cell', {
                        who: m.display_name,
                        job: name(g),
                        stands: `@office.stands.${cell(g, m.person)!.stands}`,
                      })
                    "
                  >
                    <span class="sign" aria-hidden="true">{{ SIGNS[cell(g, m.person)!.stands] }}</span>
                    <span>
                      {{ text(`office.stands.${cell(g, m.person)!.stands}`) }}
                      <span class="small">{{
                        cell(g, m.person)!.of
                          ? text('state.mark', { mark: cell(g, m.person)!.mark, of: cell(g, m.person)!.of })
                          : text('office.minutes-of', {
                              minutes: Math.round(cell(g, m.person)!.minutes),
                              limit: cell(g, m.person)!.limit_minutes,
                            })
                      }}</span>
                    </span>
                  </router-link>
                  <span v-else class="muted small">{{ text('office.not-given') }}</span>
                </td>
              </tr>
            </tbody>
          </v-table>
        </section>
      </template>
    </template>
  </div>
</template>

<style scoped>
.sums li {
  display: flex;
  gap: 10px;
  align-items: baseline;
  border-left: 6px solid var(--line);
}
.n {
  font: 600 26px/1 var(--label);
}
.scroll {
  overflow-x: auto;
}
.grid {
  background: transparent;
}
.grid :deep(table) {
  width: auto;
  min-width: 60%;
}
.job {
  vertical-align: top;
  min-width: 190px;
  max-width: 260px;
  padding-block: 8px !important;
}
.job span,
.job b,
.small {
  display: block;
}
.job span {
  font-weight: 400;
  color: var(--muted);
}
.job .words {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
th[scope='row'] {
  font-weight: 600 !important;
  white-space: nowrap;
}
.cell {
  display: flex;
  gap: 8px;
  min-height: 44px;
  margin: 4px 0;
  padding: 6px 10px;
  border-radius: 8px;
  border-left: 5px solid var(--line);
  color: var(--ink);
  text-decoration: none;
  font-weight: 600;
}
.cell .small {
  font-weight: 400;
  color: var(--muted);
}
.sign {
  width: 16px;
  text-align: center;
}
.cell.still,
.cell.over,
.cell.to-review {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.cell.stopped,
.cell.missed {
  background: var(--condemned-bg);
  color: var(--condemned-ink);
}
.cell.done {
  color: var(--good);
}
.sums .still,
.sums .over,
.sums .to-review {
  border-color: var(--suspect);
}
.sums .stopped,
.sums .missed {
  border-color: var(--condemned);
}
.sums .done {
  border-color: var(--good);
}
</style>
