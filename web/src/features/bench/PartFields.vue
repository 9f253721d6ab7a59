<script setup lang="ts">
import type { Schema } from '@/api/client'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import { capital, text } from '@/words/words'
import { bands, type Written } from './parts'

/** What is written down of a reading or of one part of it: a number in its unit and band, or a word. */
const props = defineProps<{
  part: Pick<Schema['TestPart'], 'name' | 'units' | 'words' | 'figure'>
  busy?: boolean
  /** What stands in the field while nothing is typed. */
  hint?: string
}>()
const at = defineModel<Written>({ required: true })
const set = (to: Written) => (at.value = { ...at.value, ...to })
</script>

<template>
  <div class="fields">
    <template v-if="props.part.words.length">
      <ChoiceRow
        :model-value="at.word"
        :items="part.words.map((value) => ({ value, title: text(`word.${value}`) }))"
        :label="part.name"
        :disabled="busy"
        @update:model-value="set({ word: $event })"
      />
      <slot />
    </template>
    <div v-else class="number">
      <v-text-field
        id="reading"
        class="reading"
        :model-value="at.reading"
        inputmode="decimal"
        autocomplete="off"
        maxlength="40"
        density="compact"
        :label="part.name"
        :placeholder="hint"
        :disabled="busy"
        @update:model-value="set({ reading: $event })"
      />
      <ChoiceRow
        :model-value="at.unit || (part.units.length === 1 ? part.units[0] : undefined)"
        :items="part.units.map((u) => ({ value: u, title: u }))"
        :label="text('bench.unit')"
        :disabled="busy"
        @update:model-value="set({ unit: $event })"
      />
      <div class="last">
        <ChoiceRow
          v-if="part.figure"
          class="grow"
          :model-value="at.judged || undefined"
          :items="bands.map((b) => ({ value: b, title: capital(text(`band.${b}`)) }))"
          :label="text('bench.against-the-sheet')"
          :disabled="busy"
          @update:model-value="set({ judged: $event })"
        />
        <span v-else class="grow muted small">{{ text('bench.no-figure') }}</span>
        <slot />
      </div>
    </div>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 8px;
}
.number {
  display: grid;
  grid-template-columns: 118px 1fr;
  gap: 8px;
  padding-top: 4px;
}
.reading :deep(input) {
  font: 600 22px/1.2 var(--label);
}
.last {
  grid-column: 1 / -1;
  display: flex;
  gap: 8px;
  align-items: center;
}
</style>
