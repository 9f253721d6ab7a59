<script setup lang="ts">
import type { Schema } from '@/api/client'

/** How a test is gone about: one field for each choice, none of them marked as the right one. */
defineProps<{ setups: Schema['Setup'][]; at: Record<string, unknown>; busy?: boolean }>()
const emit = defineEmits<{ set: [id: string, value: unknown] }>()

const place = (s: Schema['Setup'], at: unknown) => (s.options ?? []).findIndex((o) => o.value === at)
</script>

<template>
  <div v-if="setups.length" class="how">
    <template v-for="s in setups" :key="s.id">
      <v-select
        v-if="s.options?.length"
        density="compact"
        :label="s.name"
        :items="s.options.map((o, i) => ({ title: o.label, value: i }))"
        :model-value="place(s, at[s.id])"
        :disabled="busy"
        @update:model-value="emit('set', s.id, s.options![$event].value)"
      />
      <v-text-field
        v-else
        density="compact"
        type="number"
        :label="s.name"
        :min="s.low"
        :max="s.high"
        :step="s.step"
        :model-value="at[s.id]"
        :disabled="busy"
        @change="emit('set', s.id, Number(($event.target as HTMLInputElement).value))"
      />
    </template>
  </div>
</template>

<style scoped>
.how :deep(.v-field) {
  --v-field-padding-start: 10px;
  --v-field-padding-end: 4px;
}
.how :deep(.v-field__append-inner) {
  margin: 0;
}
.how :deep(.v-select__selection-text) {
  font: 600 16px/1.2 var(--label);
}
.how {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(98px, 1fr));
  gap: 10px 6px;
  padding-top: 6px;
}
</style>
