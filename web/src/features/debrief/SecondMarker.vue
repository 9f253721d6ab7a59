<script setup lang="ts">
import '@/words/yard'
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import NumberField from '@/controls/NumberField.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import { capital, text } from '@/words/words'
import type { NewAct } from './useReview'

/** Marks by somebody who has not seen any: a figure for each section, and an outcome. */
const { of } = defineProps<{ of: Schema['Debrief']; busy: boolean }>()
const emit = defineEmits<{ gave: [act: NewAct] }>()

const marks = useLocalStorage<Record<string, number | undefined>>(`second.${of.attempt}`, {})
const words = useLocalStorage(`second-words.${of.attempt}`, '')
const outcome = ref<string>()
const outcomes = ['competent', 'not-yet'].map((value) => ({ value, title: capital(text(`outcome.${value}`)) }))
const missing = computed(() => of.assessment.sections.some((s) => typeof marks.value[s.id] !== 'number'))
const not = computed(() =>
  missing.value ? text('review.marks-first') : outcome.value ? '' : text('review.outcome-first'),
)
const put = (id: string, v: number | undefined) => (marks.value = { ...marks.value, [id]: v })
const give = () =>
  emit('gave', {
    kind: 'second',
    sections: marks.value as Record<string, number>,
    outcome: outcome.value,
    text: words.value.trim() || undefined,
  })
</script>

<template>
  <div class="stack">
    <p>{{ text('review.blind') }}</p>
    <div class="marks">
      <NumberField
        v-for="s in of.assessment.sections"
        :key="s.id"
        :model-value="marks[s.id]"
        :label="text('review.of', { section: text(`section.${s.id}`), most: s.of })"
        @update:model-value="put(s.id, $event)"
      />
    </div>
    <v-textarea v-model="words" :label="text('review.second-why')" rows="2" auto-grow maxlength="2000" hide-details />
    <div class="row wrap">
      <ChoiceRow v-model="outcome" :items="outcomes" :label="text('review.outcome')" />
      <WhyBtn :not="not" main :busy="busy" @click="give">{{ text('review.give') }}</WhyBtn>
    </div>
  </div>
</template>

<style scoped>
.marks {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 300px), 1fr));
  gap: 10px;
}
</style>
