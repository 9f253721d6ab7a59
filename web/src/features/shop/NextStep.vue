<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schema } from '@/api/client'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import { text } from '@/words/words'
import HandReadings from './HandReadings.vue'
import ObservedPanel from './ObservedPanel.vue'
import type { HandReading } from './hand'

/** What comes next on a card: one thing to do, and the fault can be taken out at any time. */
const props = defineProps<{
  card: Schema['BugCard']
  family: Schema['Family']
  engine: Schema['Engine']
  busy?: boolean
}>()
const emit = defineEmits<{ act: [act: Schema['BugAct'], give?: Schema['GivenEngine']] }>()

const state = computed(() => props.card.acts.at(-1)!.kind)
const blank = () => ({
  symptom: false,
  readings: [] as HandReading[],
  initials: '',
  to: undefined as string | undefined,
  minutes: 120,
  money: 100,
  mode: 'open' as const,
  job: crypto.randomUUID() as string,
})
const draft = useLocalStorage(`engine.step.${props.card.id}`, blank())
const undoing = ref(false)
/** In an exam the fault is put in again for whoever is next. */
const again = ref(false)
watch(
  () => props.card.acts.length,
  () => {
    draft.value = blank()
    undoing.value = false
    again.value = false
  },
)
const apprentices = useQuery({ queryKey: ['apprentices'], queryFn: () => ask(api.GET('/api/apprentices')) })

const takesReadings = computed(() => state.value === 'bugged' || state.value === 'back' || undoing.value || again.value)
/** After the fault, or after it was taken out. */
const gone = computed(() => (state.value !== 'bugged' && !again.value) || undoing.value)
const out = computed(() => state.value === 'given' || state.value === 'again')
const not = computed(() =>
  !draft.value.readings.length
    ? text('shop.read-one')
    : !draft.value.symptom
      ? text(gone.value ? 'shop.say-gone' : 'shop.say-there')
      : '',
)
const heading = computed(() => {
  if (undoing.value) return 'shop.next.back'
  if (props.engine.again) return 'shop.set-again'
  return `shop.next.${props.engine.handed && state.value === 'given' ? 'handed' : state.value}`
})
const last = computed(() => props.card.acts.at(-1)!)
const release = computed(() =>
  !last.value.symptom
    ? text('shop.still-there')
    : props.card.off.length
      ? text('shop.reads-otherwise')
      : !draft.value.initials.trim()
        ? text('shop.write-initials')
        : '',
)
const readings = () =>
  emit('act', {
    kind: gone.value ? 'undone' : again.value ? 'again' : 'seen',
    symptom: draft.value.symptom,
    readings: draft.value.readings,
  })
const give = () =>
  emit(
    'act',
    { kind: 'given' },
    {
      job: draft.value.job,
      apprentice: draft.value.to!,
      limit_minutes: Number(draft.value.minutes),
      limit_money: Number(draft.value.money),
      mode: draft.value.mode,
    },
  )
/** What was read before: of the engine with its fault where that is in again, else of the sound one. */
const tests = computed(() =>
  (again.value ? (props.card.acts.find((a) => a.kind === 'seen')?.readings ?? []) : props.card.bug.sound).map(
    (r) => r.test,
  ),
)
</script>

<template>
  <section class="panel stack" :aria-label="text('shop.next-is')">
    <h2>
      {{ text(heading) }}
    </h2>
    <form v-if="takesReadings" class="stack" @submit.prevent="not || readings()">
      <p class="muted small">{{ text(gone ? 'shop.undone-lead' : again ? 'shop.again-lead' : 'shop.seen-lead') }}</p>
      <HandReadings
        v-model="draft.readings"
        :family="family"
        :title="text(gone ? 'shop.reads.after' : 'shop.reads.with')"
        :again="tests"
      />
      <v-checkbox v-model="draft.symptom" :label="text(gone ? 'shop.is-gone' : 'shop.is-there')" />
      <WhyBtn main type="submit" :not="not" :busy="busy">{{
        text(gone ? 'shop.keep-undone' : again ? 'shop.keep-again' : 'shop.keep-seen')
      }}</WhyBtn>
    </form>
    <form v-else-if="state === 'seen'" class="stack" @submit.prevent="draft.to && give()">
      <v-autocomplete
        v-model="draft.to"
        hide-details
        :label="text('shop.to')"
        :items="(apprentices.data.value ?? []).map((p) => ({ value: p.id, title: p.display_name }))"
      />
      <div class="row">
        <v-text-field v-model="draft.minutes" inputmode="numeric" hide-details :label="text('shop.limit-minutes')" />
        <v-text-field v-model="draft.money" inputmode="numeric" hide-details :label="text('shop.limit-money')" />
      </div>
      <v-select
        v-model="draft.mode"
        hide-details
        :label="text('shop.mode')"
        :items="['open', 'guided', 'exam'].map((m) => ({ value: m, title: text(`job.${m}`) }))"
      />
      <WhyBtn main type="submit" :not="draft.to ? '' : text('shop.choose-somebody')" :busy="busy">{{
        text('shop.give')
      }}</WhyBtn>
    </form>
    <template v-else-if="out && card.exam">
      <p>{{ engine.with ? text('shop.with', { name: engine.with }) : text('shop.nobody-has-it') }}</p>
      <ObservedPanel v-if="card.attempt" :key="card.attempt" :attempt="card.attempt" />
      <v-btn :to="`/yard/exams/${card.exam}`">{{ text('shop.to-exam') }}</v-btn>
      <v-btn @click="again = true">{{ text('shop.set-again') }}</v-btn>
      <WhyBtn
        :not="engine.with ? text('shop.somebody-has-it') : ''"
        :busy="busy"
        @click="emit('act', { kind: 'back' })"
        >{{ text('shop.take-back') }}</WhyBtn
      >
    </template>
    <template v-else-if="state === 'given'">
      <p>{{ text('shop.with', { name: engine.with }) }}</p>
      <ObservedPanel v-if="card.attempt && !engine.handed" :attempt="card.attempt" />
      <v-btn :to="engine.handed ? `/debrief/${card.attempt}` : `/bench/${card.attempt}`">{{
        text(engine.handed ? 'bench.debrief' : 'yard.watch')
      }}</v-btn>
      <WhyBtn :main="engine.handed" :busy="busy" @click="emit('act', { kind: 'back' })">{{
        text('shop.take-back')
      }}</WhyBtn>
    </template>
    <form v-else class="stack" @submit.prevent="release || emit('act', { kind: 'released', initials: draft.initials })">
      <p class="muted small">{{ text('shop.release-lead') }}</p>
      <v-text-field v-model="draft.initials" hide-details maxlength="12" :label="text('shop.initials')" />
      <WhyBtn main type="submit" :not="release" :busy="busy">{{ text('shop.release') }}</WhyBtn>
    </form>
    <v-btn v-if="['bugged', 'seen', 'undone'].includes(state) && !undoing" @click="undoing = true">{{
      text(state === 'undone' ? 'shop.check-again' : 'shop.take-fault-out')
    }}</v-btn>
    <v-btn v-if="undoing || again" @click="undoing = again = false">{{ text('shop.leave-it') }}</v-btn>
  </section>
</template>
