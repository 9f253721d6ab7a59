<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { decimal, text } from '@/words/words'

/**
 * A number that may be left out. It stays as typed until the hand leaves it; a comma is as
 * good as a point. What is no number is told, kept, and changes nothing.
 */
const props = defineProps<{
  label: string
  suffix?: string
  modelValue?: number
  /** The label is for a screen reader alone. */ unlabelled?: boolean
}>()
const emit = defineEmits<{ 'update:modelValue': [value: number | undefined] }>()

const typed = ref<string>()
const shown = computed(() => typed.value ?? (props.modelValue === undefined ? '' : decimal(String(props.modelValue))))
/** Undefined for an empty field, NaN for what is no number. */
const numberOf = (s: string) => (s.trim() === '' ? undefined : Number(s.trim().replace(',', '.')))
const wrong = computed(() => typed.value !== undefined && Number.isNaN(numberOf(typed.value)))

// What changes it from elsewhere, as the dragging of an edge, counts for more.
watch(
  () => props.modelValue,
  (v) => typed.value !== undefined && v !== numberOf(typed.value) && (typed.value = undefined),
)
function type(s: string | null) {
  typed.value = s ?? ''
  const v = numberOf(typed.value)
  if (!Number.isNaN(v) && v !== props.modelValue) emit('update:modelValue', v)
}
function leave() {
  if (!wrong.value) typed.value = undefined
}
</script>

<template>
  <v-text-field
    density="compact"
    inputmode="decimal"
    maxlength="40"
    :label="unlabelled ? undefined : label"
    :aria-label="unlabelled ? label : undefined"
    :suffix="suffix"
    :model-value="shown"
    :error-messages="wrong ? [text('desk.not-a-number', { text: typed! })] : []"
    @update:model-value="type"
    @blur="leave"
  />
</template>
