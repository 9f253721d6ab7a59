<script setup lang="ts">
import type { Schema } from '@/api/client'
import { text } from '@/words/words'
import { bands, type Written } from './parts'

/** What is written down of one part of a reading: a number in its unit and band, or a word. */
const props = defineProps<{ part: Schema['TestPart']; busy?: boolean }>()
const at = defineModel<Written>({ required: true })
const set = (to: Written) => (at.value = { ...at.value, ...to })
</script>

<template>
  <div class="fields">
    <VBtnToggle
      role="group"
      v-if="props.part.words.length"
      :model-value="at.word"
      class="words"
      :aria-label="part.name"
      :disabled="busy"
      @update:model-value="set({ word: $event })"
    >
      <VBtn v-for="w in part.words" :key="w" :value="w">{{ text(`word.${w}`) }}</VBtn>
    </VBtnToggle>
    <slot v-if="props.part.words.length" />
    <div v-else class="number">
      <VTextField
        :model-value="at.reading"
        inputmode="decimal"
        autocomplete="off"
        maxlength="40"
        :aria-label="part.name"
        :disabled="busy"
        @update:model-value="set({ reading: $event })"
      />
      <VBtnToggle
        role="group"
        :model-value="at.unit ?? (part.units.length === 1 ? part.units[0] : undefined)"
        :aria-label="text('bench.unit')"
        :disabled="busy"
        @update:model-value="set({ unit: $event })"
      >
        <VBtn v-for="u in part.units" :key="u" :value="u">{{ u }}</VBtn>
      </VBtnToggle>
      <div class="last">
        <VBtnToggle
          role="group"
          v-if="part.figure"
          class="bands"
          :model-value="at.judged"
          :aria-label="text('bench.against-the-sheet')"
          :disabled="busy"
          @update:model-value="set({ judged: $event })"
        >
          <VBtn v-for="b in bands" :key="b" :value="b">{{ text(`band.${b}`) }}</VBtn>
        </VBtnToggle>
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
.words {
  flex-wrap: wrap;
  height: auto;
}
.number {
  display: grid;
  grid-template-columns: 118px 1fr;
  gap: 8px;
}
.number .v-btn-group {
  height: 44px;
}
.number .v-btn {
  flex: 1;
  min-width: 0;
  padding: 0 6px;
}
.last {
  grid-column: 1 / -1;
  display: flex;
  gap: 8px;
}
.bands {
  flex: 1;
}
</style>
