<script setup lang="ts">
import '@/words/shop'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { Refusal, Schema } from '@/api/client'
import MoveDebriefs from '@/features/debrief/MoveDebriefs.vue'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useSession } from '@/session/session'
import { figure, moment, sentence, text } from '@/words/words'
import { useExam } from './useExam'

/** An exam: who is at which engine when, how far each turn has come, and what it came to. */
const exam = String(useRoute().params.exam)
const file = useExam(exam)
const e = computed(() => file.data.value)
const clock = (iso: string) => moment(iso).replace(/^.*?,\s*/, '')
const turnAt = (r: Schema['ExamRound'], engine: number) => r.turns.find((t) => t.engine === engine)
const turnOf = (person: number, engine: number) =>
  e.value?.rounds.flatMap((r) => r.turns).find((t) => t.person === person && t.engine === engine)
const over = (t: Schema['ExamTurn']) => t.state === 'handed-over' || t.state === 'frozen' || t.state === 'marking'
const where = (t: Schema['ExamTurn']) => (over(t) ? `/debrief/${t.attempt}` : `/bench/${t.attempt}`)
const said = (t: Schema['ExamTurn']) =>
  t.mark !== undefined && t.of
    ? text('shop.exam-mark', { mark: figure((100 * t.mark) / t.of) })
    : text(`shop.turn.${t.state}`)
const begun = (t?: Schema['ExamTurn']) => !!t && t.state !== 'new'
const counts = (t?: Schema['ExamTurn']) => t?.outcome === 'competent' && !t.untested
const passed = (person: number) => e.value!.engines.filter((_, i) => counts(turnOf(person, i))).length
/** Turns that are still to be handed over. */
const left = computed(() => e.value?.rounds.flatMap((r) => r.turns).filter((t) => !over(t)).length ?? 0)
const teaches = useSession().me?.role === 'instructor'
const print = () => window.print()
</script>

<template>
  <div class="page stack">
    <WaitingFor v-if="file.isPending.value" :what="text('shop.fetching')" as="article" />
    <p v-else-if="!e" class="panel" role="alert">{{ sentence(file.error.value as Refusal) }}</p>
    <template v-else>
      <div class="row wrap">
        <h1>{{ e.title }}</h1>
        <span class="muted">{{
          text('shop.exam-how', { start: moment(e.starts_at), minutes: e.minutes, rest: e.rest })
        }}</span>
        <span class="grow"></span>
        <v-btn class="no-print" to="/yard/exams">{{ text('title.exams') }}</v-btn>
        <v-btn class="no-print" :to="`/yard/exams/${exam}/sheets`">{{ text('shop.exam-sheets') }}</v-btn>
        <v-btn class="no-print" @click="print">{{ text('shop.print-plan') }}</v-btn>
      </div>
      <section class="panel" :aria-label="text('shop.plan')">
        <h2>{{ text('shop.plan') }}</h2>
        <div class="wide">
          <table>
            <thead>
              <tr>
                <th scope="col">{{ text('shop.plan-round') }}</th>
                <th v-for="x in e.engines" :key="x.machine_id" scope="col">
                  <router-link :to="`/yard/engines/${x.machine_id}`"
                    >{{ x.name }} <span class="code">{{ x.code }}</span></router-link
                  >
                  <span class="state no-print" :class="{ due: x.again }">{{
                    text(x.again ? 'shop.set-again-first' : `shop.state.${x.state}`)
                  }}</span>
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(r, i) in e.rounds" :key="r.at">
                <th scope="row">
                  <b class="figure">{{ i + 1 }}</b> <span class="muted">{{ clock(r.at) }}</span>
                </th>
                <td v-for="(x, k) in e.engines" :key="x.machine_id">
                  <router-link v-if="turnAt(r, k)" class="turn" :class="turnAt(r, k)!.state" :to="where(turnAt(r, k)!)">
                    <b>{{ e.people[turnAt(r, k)!.person].name }}</b>
                    <span class="small no-print">{{ text(`shop.turn.${turnAt(r, k)!.state}`) }}</span>
                  </router-link>
                  <span v-else class="muted">–</span>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
      <section class="panel no-print" :aria-label="text('shop.exam-came')">
        <h2>{{ text('shop.exam-came') }}</h2>
        <p v-if="e.debrief_at" class="muted small">
          {{ text('shop.exam-debriefs', { at: moment(e.debrief_at) }) }}
          <MoveDebriefs v-if="teaches" :given="exam" :at="e.debrief_at" :left="left" />
        </p>
        <div class="wide">
          <table>
            <thead>
              <tr>
                <th scope="col">{{ text('shop.exam-who') }}</th>
                <th v-for="x in e.engines" :key="x.machine_id" scope="col">{{ x.code }}</th>
                <th scope="col">{{ text('shop.exam-competent') }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(p, i) in e.people" :key="p.id">
                <th scope="row">
                  <router-link :to="`/people/${p.id}/record`">{{ p.name }}</router-link>
                </th>
                <td v-for="(x, k) in e.engines" :key="x.machine_id">
                  <router-link v-if="begun(turnOf(i, k))" :to="where(turnOf(i, k)!)">{{
                    said(turnOf(i, k)!)
                  }}</router-link>
                  <span v-else class="muted">–</span>
                  <span v-if="turnOf(i, k)?.outcome" class="outcome" :class="turnOf(i, k)!.outcome">{{
                    text(`shop.exam-outcome.${turnOf(i, k)!.outcome}`)
                  }}</span>
                  <span v-if="turnOf(i, k)?.untested" class="muted">{{ text('shop.exam-untested') }}</span>
                  <span v-if="turnOf(i, k)?.signed" class="good">{{ `✓ ${text('shop.exam-signed')}` }}</span>
                </td>
                <td class="figure">{{ text('shop.of', { n: passed(i), of: e.engines.length }) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
    </template>
  </div>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 8px 10px;
  border-bottom: 1px solid var(--line-soft);
}
.code {
  white-space: nowrap;
}
.state {
  display: block;
  font-weight: 400;
  color: var(--muted);
}
.state.due {
  color: var(--suspect-ink);
  font-weight: 600;
}
.turn {
  display: grid;
  gap: 2px;
  padding: 6px 10px;
  border-radius: 10px;
  border: 1.5px solid var(--line);
  color: inherit;
  text-decoration: none;
}
.turn.in-hand {
  border-color: var(--link);
  border-width: 3px;
}
.turn.handed-over {
  background: var(--good-bg);
}
.turn:hover {
  border-color: var(--link);
}
.outcome {
  display: block;
  font-size: 14px;
}
.outcome.competent,
.good {
  color: var(--good);
}
.outcome.not-yet {
  color: var(--suspect-ink);
}
@media print {
  .turn {
    border: 0;
    padding: 0;
    background: none;
  }
  th,
  td {
    border: 1px solid #9aa5a0;
  }
}
</style>
