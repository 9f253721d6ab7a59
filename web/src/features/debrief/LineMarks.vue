<script setup lang="ts">
import '@/words/yard'
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import NumberField from '@/controls/NumberField.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import { text } from '@/words/words'
import type { NewAct } from './useReview'

/** Other marks on a line, with a reason. */
const { attempt, section, line, of } = defineProps<{
  attempt: string
  section: string
  line: number
  of: Schema['Reason']
  busy: boolean
}>()
const emit = defineEmits<{ gave: [act: NewAct, kept: () => void]; away: [] }>()
const marks = ref<number | undefined>(of.marks)
const why = useLocalStorage(`line.${attempt}.${section}.${line}`, '')
const not = computed(() =>
  typeof marks.value !== 'number' ? text('review.marks-first') : why.value.trim() ? '' : text('review.reason-first'),
)
function give() {
  const act: NewAct = { kind: 'line', section, line, marks: marks.value, text: why.value.trim() }
  emit('gave', act, () => (why.value = '')) // what was not kept stays to be sent again
}
</script>

<template>
  <div class="row wrap line no-print">
    <NumberField
      v-model="marks"
      class="n"
      :label="text('review.marks')"
      :suffix="of.of ? text('review.of-most', { most: of.of }) : ''"
    />
    <v-text-field
      v-model="why"
      class="why"
      density="compact"
      hide-details
      maxlength="2000"
      :label="text('review.why')"
    />
    <WhyBtn :not="not" :busy="busy" main @click="give">{{ text('review.set-marks') }}</WhyBtn>
    <v-btn @click="emit('away')">{{ text('review.leave') }}</v-btn>
  </div>
</template>

<style scoped>
.line {
  flex-basis: 100%;
  align-items: start;
}
.n {
  flex: 0 0 150px;
}
.why {
  flex: 1 1 220px;
}
</style>
