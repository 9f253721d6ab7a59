<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schema } from '@/api/client'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import { useSession } from '@/session/session'
import ProblemText from '@/words/ProblemText.vue'
import { capital, figure, moment, text } from '@/words/words'
import SecondMarker from './SecondMarker.vue'
import { useReview } from './useReview'

/** What people have said of an assessment, in order, and what whoever looks may do now. */
const { of, at, stepAt } = defineProps<{ of: Schema['Debrief']; at: number; stepAt: (seq: number) => string }>()
const emit = defineEmits<{ point: [seq: number] }>()

const session = useSession()
const apprentice = computed(() => session.me?.role === 'apprentice')
const { act, resit, anew, carry, refusal } = useReview(
  of.attempt,
  computed(() => of),
)
const may = (kind: string) => of.review.may.includes(kind as never)
// What is typed outlives a reload.
const said = useLocalStorage(`review.${of.attempt}`, '')
const outcome = ref<string>()
const second = ref<string>()
const outcomes = ['competent', 'not-yet'].map((value) => ({ value, title: capital(text(`outcome.${value}`)) }))
const markers = useQuery({
  queryKey: ['markers'],
  queryFn: () => ask(api.GET('/api/markers')),
  enabled: computed(() => !apprentice.value),
})
const others = computed(() =>
  (markers.data.value ?? [])
    .filter((p) => p.id !== session.me?.id)
    .map((p) => ({ title: p.display_name, value: p.id })),
)
const words = computed(() => said.value.trim())
function send(kind: Schema['NewReviewAct']['kind'], more: object = {}) {
  act.mutate({ kind, text: words.value || undefined, ...more }, { onSuccess: () => void (said.value = '') })
}
const place = computed(() => of.assessment.points[at]?.seq ?? -1)

const signed = (n: number) => (n ? `${n > 0 ? '+' : '−'}${figure(Math.abs(n))}` : '=')

/** An act in words. */
function says(a: Schema['ReviewAct']) {
  switch (a.kind) {
    case 'line': {
      const line = of.assessment.sections.find((s) => s.id === a.section)
      return text('review.did-line', { section: text(`section.${line?.id ?? a.section}`), marks: a.marks })
    }
    case 'outcome':
      return text('review.did-outcome', { outcome: text(`outcome.${a.outcome}`) })
    case 'comment':
      return (a.place ?? -1) >= 0
        ? text('review.did-comment-at', { step: stepAt(a.place!) })
        : text('review.did-comment')
    case 'ask-second':
      return text('review.did-ask-second', { who: a.who })
    case 'anew':
      return text('review.did-anew', { mark: a.mark, of: a.of, outcome: text(`outcome.${a.outcome}`) })
  }
  return text(`review.did-${a.kind}`)
}
</script>

<template>
  <section class="panel stack" :class="{ 'no-print': !of.review.acts.length }" :aria-label="text('review.title')">
    <div class="row wrap">
      <h2 class="grow">{{ text('review.title') }}</h2>
      <span v-if="of.review.signed && !of.review.blind" class="tag good">{{ text('review.is-signed') }}</span>
      <span v-else-if="of.review.appeal_open && !of.review.blind" class="tag open">{{
        text('review.is-appealed')
      }}</span>
      <span v-else-if="!of.review.blind" class="muted small">{{ text('review.not-signed') }}</span>
    </div>
    <SecondMarker v-if="of.review.blind" :of="of" :busy="act.isPending.value" @gave="act.mutate($event)" />
    <ol v-else-if="of.review.acts.length" class="acts">
      <li v-for="a in of.review.acts" :key="a.seq">
        <p>
          <b>{{ says(a) }}</b>
          <span class="muted small">{{ text('review.by', { who: a.by, when: moment(a.at) }) }}</span>
        </p>
        <p v-if="a.text" class="text">{{ a.text }}</p>
        <v-btn v-if="(a.place ?? -1) >= 0" variant="text" class="to no-print" @click="emit('point', a.place!)">{{
          text('debrief.see-step')
        }}</v-btn>
      </li>
    </ol>
    <p v-else class="muted">{{ text(apprentice ? 'review.nothing-yours' : 'review.nothing') }}</p>
    <div v-for="s in of.review.seconds" :key="s.by" class="second">
      <p>
        <b>{{
          text(s.same_outcome ? 'review.second-same' : 'review.second-other', {
            who: s.by,
            outcome: text(`outcome.${s.outcome}`),
          })
        }}</b>
      </p>
      <v-table density="compact" class="apart">
        <thead>
          <tr>
            <th v-for="h in ['section', 'theirs', 'apart']" :key="h" scope="col">{{ text(`review.${h}`) }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="x in of.assessment.sections" :key="x.id">
            <th scope="row">{{ text(`section.${x.id}`) }}</th>
            <td class="figure">{{ s.sections[x.id] }}</td>
            <td class="figure">{{ signed(s.differ[x.id] ?? 0) }}</td>
          </tr>
        </tbody>
      </v-table>
      <p v-if="s.text" class="text">{{ s.text }}</p>
    </div>

    <div v-if="!of.review.blind && (may('comment') || may('appeal') || may('sign-off'))" class="stack no-print">
      <v-textarea
        v-model="said"
        :label="text(apprentice ? 'review.why-another-look' : 'review.say')"
        rows="2"
        auto-grow
        maxlength="2000"
        hide-details
      />
      <p v-if="refusal" role="alert" class="hint"><ProblemText :of="refusal" /></p>
      <div v-if="apprentice" class="row wrap">
        <WhyBtn :not="words ? '' : text('review.reason-first')" main @click="send('appeal')">{{
          text('review.appeal')
        }}</WhyBtn>
        <span class="muted small">{{ text('review.once') }}</span>
      </div>
      <div v-else class="row wrap">
        <WhyBtn :not="words ? '' : text('review.words-first')" @click="send('comment', { place })">{{
          text('review.comment', { step: stepAt(place) })
        }}</WhyBtn>
        <v-btn
          v-if="may('sign-off')"
          color="secondary"
          variant="flat"
          :loading="act.isPending.value"
          @click="send('sign-off')"
          >{{ text(of.review.appeal_open ? 'review.answer' : 'review.sign-off') }}</v-btn
        >
      </div>
    </div>
    <v-expansion-panels v-if="!apprentice && !of.review.blind" class="no-print">
      <v-expansion-panel :title="text('review.more')">
        <v-expansion-panel-text class="stack">
          <div v-if="may('outcome')" class="row wrap">
            <ChoiceRow v-model="outcome" :items="outcomes" :label="text('review.other-outcome')" />
            <WhyBtn
              :not="!outcome ? text('review.outcome-first') : words ? '' : text('review.reason-first')"
              @click="send('outcome', { outcome })"
              >{{ text('review.set-outcome') }}</WhyBtn
            >
          </div>
          <div v-if="may('ask-second')" class="row wrap">
            <v-select
              v-model="second"
              class="who"
              density="compact"
              hide-details
              :label="text('review.second-by')"
              :items="others"
            />
            <WhyBtn :not="second ? '' : text('review.person-first')" @click="send('ask-second', { who: second })">{{
              text('review.ask-second')
            }}</WhyBtn>
          </div>
          <p v-if="of.review.awaited" class="muted">{{ text('review.awaited', { who: of.review.awaited }) }}</p>
          <div class="row wrap">
            <v-btn v-if="session.me?.role === 'instructor'" :loading="resit.isPending.value" @click="resit.mutate()">{{
              text('review.resit')
            }}</v-btn>
            <v-btn :loading="anew.isPending.value" @click="anew.mutate()">{{ text('review.anew') }}</v-btn>
            <v-btn :loading="carry.isPending.value" @click="carry.mutate()">{{ text('review.carry') }}</v-btn>
          </div>
          <p v-if="of.review.of_another_model" class="muted small">{{ text('review.of-another-model') }}</p>
        </v-expansion-panel-text>
      </v-expansion-panel>
    </v-expansion-panels>
    <p v-if="refusal && of.review.blind" role="alert" class="hint"><ProblemText :of="refusal" /></p>
    <span class="sr-only" role="status">{{ act.isSuccess.value ? text('review.kept') : '' }}</span>
  </section>
</template>

<style scoped>
.acts {
  list-style: none;
  margin: 0;
  padding: 0;
}
.acts li {
  padding: 8px 0;
  border-top: 1px solid var(--line-soft);
}
.acts p {
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: baseline;
}
.text {
  white-space: pre-line;
}
.apart {
  background: transparent;
}
.tag {
  border-radius: 8px;
  padding: 4px 10px;
  font: 600 15px/1.2 var(--label);
}
.tag.good {
  background: var(--good-bg);
  color: var(--good);
}
.tag.open {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.who {
  flex: 1 1 220px;
}
.hint {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 10px;
  padding: 8px 12px;
}
</style>
