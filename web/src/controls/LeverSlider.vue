<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { ref, watch } from 'vue'

/** A lever from 0 to 1. It is told where it comes to rest, not every place on the way. */
const props = defineProps<{
  name: string
  at: number
  step?: number
  low?: number
  says: (v: number) => string
  disabled?: boolean
}>()
const emit = defineEmits<{ rest: [to: number] }>()

const held = ref(props.at)
watch(
  () => props.at,
  (to) => (held.value = to),
)
const rest = useDebounceFn(() => {
  const to = Math.round(held.value * 100) / 100
  if (to !== props.at) emit('rest', to)
}, 250)
</script>

<template>
  <v-slider
    v-model="held"
    :name="name"
    :min="low ?? 0"
    :max="1"
    :step="step ?? 0.1"
    :value-format="({ value }) => says(value)"
    :disabled="disabled"
    @update:model-value="rest()"
  />
</template>
