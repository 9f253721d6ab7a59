<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import ProblemText from '@/words/ProblemText.vue'
import { figure, nameOf, text } from '@/words/words'
import { far } from './said'
import { useGenerated } from './useGenerated'

/** Scenarios that are made: by level, path and lesson, or as hard as what stands on the desk. */
const props = defineProps<{
  fam: Schema['Family']
  spec: Schema['JobSpec']
  /** What stands on the desk, as it was checked; equal ones are made beside it. */
  check: Schema['ScenarioCheck'] | null
}>()
const emit = defineEmits<{
  keep: [scenario: Schema['ScenarioForm']]
  /** These are dealt with what stands on the desk. */
  deal: [variants: Schema['ScenarioForm'][]]
}>()
/** The reaches of a lesson as they are touched on the board; undefined while none are. */
const lesson = defineModel<string[] | undefined>('lesson')

const MANY = 5
const levels = [{ value: 0, title: text('scene.any') }, ...[1, 2, 3, 4, 5].map((n) => ({ value: n, title: String(n) }))]
const level = ref(0)
const lateral = ref('')
const symptom = ref(false)
const g = useGenerated()
const going = computed(() => g.tried.value !== undefined)
const waits = computed(() => (lesson.value && lesson.value.length < 2 ? text('scene.touch-two') : ''))
/** Another press looks for others. */
let seed = Date.now() % 1_000_000
function generate() {
  void g.generate({
    like: props.spec,
    count: MANY,
    seed: ++seed,
    level: level.value,
    lateral: lateral.value || undefined,
    lesson: lesson.value?.length === 2 ? lesson.value : undefined,
    complaint: symptom.value && props.spec.claim ? props.spec.claim : undefined,
  })
}
const vary = () => void g.generate({ like: props.spec, count: 4, seed: ++seed, equal: true })
const shown = computed(() => [
  ...(g.equal.value && props.check ? [{ desk: true as const, result: props.check }] : []),
  ...g.found.value.map((f) => ({ desk: false as const, ...f })),
])
</script>

<template>
  <section class="panel stack">
    <div class="row wrap">
      <h2 class="grow">{{ text('scene.made') }}</h2>
      <WhyBtn :not="check?.solvable.true ? '' : text('scene.vary-when')" :busy="going" @click="vary">{{
        text('scene.vary')
      }}</WhyBtn>
    </div>
    <div class="row wrap">
      <ChoiceRow v-model="level" class="signs" :items="levels" :label="text('scene.level-of')" />
      <v-select
        v-model="lateral"
        class="path"
        :label="text('scene.path')"
        :items="[
          { title: text('scene.any-path'), value: '' },
          ...fam.laterals.map((l) => ({ title: l.name, value: l.id })),
        ]"
      />
      <v-checkbox v-model="symptom" :disabled="!spec.claim" :label="text('scene.with-symptom')" />
    </div>
    <div class="row wrap">
      <v-btn :aria-pressed="!!lesson" @click="lesson = lesson ? undefined : []">{{ text('scene.lesson') }}</v-btn>
      <span v-if="lesson" class="grow" role="status">{{
        lesson.length === 2
          ? text('scene.lesson-of', { one: nameOf('reach', lesson[0]), other: nameOf('reach', lesson[1]) })
          : text('scene.touch-two')
      }}</span>
      <span v-else class="grow"></span>
      <v-btn v-if="going" @click="g.stop()">{{ text('scene.stop') }}</v-btn>
      <WhyBtn v-else main :not="waits" @click="generate">{{ text('scene.make', { n: MANY }) }}</WhyBtn>
    </div>
    <v-progress-linear v-if="going" indeterminate color="secondary" :aria-label="text('scene.making')" />
    <p v-if="going" class="muted" role="status">{{ text('scene.tried', { n: g.tried.value }) }}</p>
    <p v-if="g.trouble.value" class="hint" role="alert"><ProblemText :of="g.trouble.value" /></p>
    <WhyBtn
      v-if="g.equal.value && g.found.value.length"
      class="deal"
      @click="
        emit(
          'deal',
          g.found.value.map((f) => f.scenario),
        )
      "
      >{{ text('scene.deal') }}</WhyBtn
    >
    <ul v-if="shown.length" class="cards">
      <li v-for="(f, i) in shown" :key="i" :class="{ desk: f.desk }">
        <b>{{ f.desk ? text('scene.on-desk') : f.scenario.faults.map(far).join(' + ') }}</b>
        <span v-if="!f.desk && !g.equal.value">{{ nameOf('complaint', f.scenario.complaint) }}</span>
        <span v-if="!f.desk && f.scenario.distractors?.length" class="muted">{{
          text('scene.beside', { what: f.scenario.distractors.map(far).join(', ') })
        }}</span>
        <span class="figure">{{
          text('scene.card', {
            level: f.result.difficulty.level,
            bits: figure(f.result.difficulty.bits),
            others: f.result.difficulty.explanations,
            minutes: Math.round(f.result.solvable.minutes),
          })
        }}</span>
        <span v-if="!f.desk" class="row wrap">
          <v-btn density="compact" @click="emit('keep', f.scenario)">{{ text('scene.take') }}</v-btn>
          <v-btn density="compact" variant="text" @click="g.drop(f)">{{ text('scene.drop') }}</v-btn>
        </span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.path {
  flex: 1 1 150px;
}
.deal {
  justify-self: start;
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 8px;
  list-style: none;
  padding: 0;
}
.cards li {
  display: grid;
  gap: 4px;
  align-content: start;
  padding: 9px 12px;
  border: 1px solid var(--line);
  border-radius: 10px;
  line-height: 1.25;
}
.cards .desk {
  background: var(--line-soft);
}
.hint {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 10px;
  padding: 8px 12px;
}
.hint::first-letter {
  text-transform: uppercase;
}
</style>
