<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schema } from '@/api/client'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { capital, explain, nameOf, text } from '@/words/words'
import BandScale from './BandScale.vue'
import OutcomeRow from './OutcomeRow.vue'
import StepHow from './StepHow.vue'
import { edges, moveEdge, partOf, splitAt } from './edits'
import { ofHundred } from './flow'
import { said } from './said'

type Step = Schema['ProcedureStep']
// One for all: a list that is new would be laid out anew at every change.
const NONE: { value: string; title: string }[] = []

/** The step in focus: its test, how that is gone about, what it can say and where that leads. */
const props = defineProps<{
  step: Step
  place: number
  steps: Step[]
  family: Schema['Family']
  seen: Schema['Seen'][]
  /** What it does for the population, where that is known. */
  figure?: Schema['StepFigure']
  remarks: Schema['Remark'][]
}>()
const emit = defineEmits<{ edit: [f: (s: Step) => void, name?: string]; drop: [] }>()

const test = computed(() => props.family.tests.find((t) => t.id === props.step.test))
const tests = computed(() => props.family.tests.map((t) => ({ value: t.id, title: t.title })))
const part = ref('')
/** The band that is being changed, by its place. */
const open = ref(-1)
watch(
  () => [props.step.id, props.step.test],
  () => {
    part.value = ''
    open.value = -1
  },
)
const parts = computed(() =>
  props.seen.map((s) => ({ value: s.part ?? '', title: nameOf('part', s.part || test.value?.parts?.[0]?.id || '') })),
)
const inFront = computed(() => props.seen.find((s) => (s.part ?? '') === part.value) ?? props.seen[0])
const cuts = computed(() => edges(props.step, part.value, test.value))
const numberOf = (p: string) =>
  p ? !!test.value?.parts?.find((x) => x.id === p)?.units.length : test.value?.kind === 'number'
const unitOf = (p: string) => props.seen.find((s) => (s.part ?? '') === p)?.unit
function wordsOf(p: string, used: string[] = []) {
  const known = numberOf(p)
    ? ['below', 'within', 'above', 'over-limit']
    : (props.seen.find((s) => (s.part ?? '') === p)?.words ?? []).map((w) => w.word)
  return [...new Set([...known, ...used.filter((w) => w !== 'otherwise')])].join(' ')
}
const others = computed(() =>
  props.steps.flatMap((s, i) =>
    i === props.place ? [] : [{ value: s.id!, title: `${i + 1} ${nameOf('test', s.test ?? '', 'title')}` }],
  ),
)
const sections = computed(() =>
  [...new Set(props.steps.slice(props.place + 1).flatMap((s) => (s.section ? [s.section] : [])))].join(' '),
)
const shares = computed(() =>
  props.figure && props.figure.outcomes.length === (props.step.outcomes?.length ?? 0) + 1 ? props.figure.outcomes : [],
)

/** Precautions that the hazards ask for and that are nowhere on the way. */
const asked = computed(() =>
  props.remarks.flatMap((r) =>
    r.code.startsWith('procedure.precaution') && typeof r.params?.action === 'string' ? [r.params.action] : [],
  ),
)
/** A band more, before what is otherwise: the first of a bare scale parts it in two. */
function addBand() {
  const p = part.value
  const s = inFront.value
  const all = props.step.outcomes ?? []
  const bySheet = all.some((o) => o.when?.includes('below'))
  if (
    numberOf(p) &&
    s?.least !== undefined &&
    s.most !== undefined &&
    !cuts.value.length &&
    (s.low === undefined || bySheet)
  ) {
    const fine = s.division || (s.most - s.least) / 100
    const middle = Number((Math.round((s.least + s.most) / 2 / fine) * fine).toPrecision(9))
    open.value = 0
    emit('edit', (step) => splitAt(step, p, middle))
    return
  }
  const rest = all.findIndex((o) => o.when?.includes('otherwise'))
  const place = rest < 0 ? all.length : rest
  open.value = place
  const band = { ...(p ? { part: p } : {}), when: numberOf(p) ? ['below'] : [], then: 'next' }
  emit('edit', (step) => (step.outcomes = all.toSpliced(place, 0, band)))
}
function remove(i: number) {
  open.value = -1
  emit('edit', (s) => s.outcomes!.splice(i, 1))
}
/** The step that an outcome goes to, in words. */
function goesTo(o: Schema['ProcedureOutcome']) {
  const at = o.then === 'goto' ? props.steps.findIndex((s) => s.id === o.step) : -1
  return at < 0 ? undefined : `${at + 1} ${nameOf('test', props.steps[at].test ?? '', 'title')}`
}
</script>

<template>
  <section class="panel step-panel" :aria-label="text('desk.in-focus')">
    <div class="row">
      <b class="figure place">{{ place + 1 }}</b>
      <v-autocomplete
        density="compact"
        :label="text('desk.test')"
        :items="tests"
        :model-value="step.test"
        @update:model-value="
          $event &&
          emit('edit', (s) =>
            Object.assign(s, { test: $event, outcomes: [{ when: ['otherwise'], then: 'next' }], setup: undefined }),
          )
        "
      />
    </div>
    <p class="small muted">
      <template v-if="test">{{
        text(test.long ? 'tray.up-to-you' : 'tray.minutes', { minutes: test.minutes })
      }}</template>
      <template v-if="figure">
        · {{ text('desk.comes', { n: ofHundred(figure.reached) }) }} ·
        {{ text('desk.bits', { bits: Number(figure.bits.toFixed(2)) }) }}</template
      >
    </p>
    <ul v-if="remarks.length" class="remarks">
      <li v-for="(r, i) in remarks" :key="i" :class="{ serious: r.serious }">
        {{ capital(explain(r).what) }}: {{ explain(r).mend }}.
      </li>
    </ul>
    <ChoiceRow v-if="parts.length > 1" v-model="part" :items="parts" :label="text('desk.part')" />
    <template v-if="inFront?.sound">
      <BandScale
        class="stays"
        :seen="inFront"
        :edges="cuts"
        @edge="(from, to) => emit('edit', (s) => moveEdge(s, part, from, to, test), 'edge')"
      />
      <p class="key small muted">
        <i class="sound"></i> {{ text('desk.sound-machines') }} <i class="come"></i> {{ text('desk.come-here') }}
        <template v-if="(inFront.come_over ?? 0) > 0.0005"
          >· {{ text('desk.over', { n: ofHundred(inFront.come_over!) }) }}</template
        >
      </p>
    </template>
    <table v-else-if="inFront?.words?.length" class="words">
      <caption class="sr-only">
        {{
          text('desk.words')
        }}
      </caption>
      <thead class="small muted">
        <tr>
          <th scope="col">{{ text('desk.says') }}</th>
          <th scope="col">{{ text('desk.come-here') }}</th>
          <th scope="col">{{ text('desk.sound-machines') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="w in inFront.words.filter((x) => x.come > 0.0005 || x.sound > 0.0005)" :key="w.word">
          <th scope="row">{{ said(w.word) }}</th>
          <td><i class="come" :style="{ width: `${Math.max(w.come * 64, 1)}px` }"></i> {{ ofHundred(w.come) }}</td>
          <td><i class="sound" :style="{ width: `${Math.max(w.sound * 64, 1)}px` }"></i> {{ ofHundred(w.sound) }}</td>
        </tr>
      </tbody>
    </table>
    <OutcomeRow
      v-for="(o, i) in step.outcomes ?? []"
      :key="i"
      :outcome="o"
      :family="family"
      :test="test"
      :place="i"
      :words="wordsOf(partOf(o, test), o.when)"
      :number="numberOf(partOf(o, test))"
      :unit="unitOf(partOf(o, test))"
      :open="open === i"
      :goes="goesTo(o)"
      :steps="o.then === 'goto' ? others : NONE"
      :ahead="steps[place + 2]?.id ?? others[0]?.value ?? ''"
      :sections="sections"
      :share="shares[i]"
      :comes="figure?.reached"
      @change="(f, name) => emit('edit', (s) => f(s.outcomes![i]), name)"
      @remove="remove(i)"
      @open="open = $event ? i : -1"
    />
    <WhyBtn :not="test ? '' : text('desk.no-test')" @click="addBand">{{ text('desk.add-band') }}</WhyBtn>
    <StepHow :step="step" :family="family" :asked="asked.join(' ')" @edit="(f, name) => emit('edit', f, name)" />
    <v-btn @click="emit('drop')">{{ text('desk.drop') }}</v-btn>
  </section>
</template>

<style scoped>
.step-panel {
  display: grid;
  grid-auto-rows: max-content;
  gap: 9px;
  align-content: start;
  overflow-y: auto;
  min-height: 0;
  scrollbar-width: thin;
}
/* The humps stay in sight while bands are set by them. */
.stays {
  position: sticky;
  top: -14px;
  z-index: 1;
  background: var(--panel);
}
.place {
  font-size: 22px;
  min-width: 22px;
}
.remarks {
  margin: 0;
  padding: 8px 10px 8px 26px;
  border-radius: 10px;
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  font-size: 14px;
  display: grid;
  gap: 4px;
}
.remarks:has(.serious) {
  background: var(--condemned-bg);
  color: var(--condemned-ink);
}
.key i,
.words i {
  display: inline-block;
  width: 16px;
  height: 10px;
  border-radius: 2px;
  margin-left: 6px;
}
.words i {
  margin: 0 4px 0 0;
}
i.sound {
  background: var(--dry);
  outline: 1px solid var(--gate);
}
i.come {
  background: var(--water-2);
}
.words {
  border-collapse: collapse;
  font: 500 16px/1.2 var(--label);
}
.words th {
  text-align: left;
  font-weight: 500;
  padding: 3px 8px 3px 0;
}
.words thead th {
  font: inherit;
}
.words td {
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
</style>
