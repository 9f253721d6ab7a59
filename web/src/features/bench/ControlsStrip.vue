<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import LeverSlider from '@/controls/LeverSlider.vue'
import { text } from '@/words/words'

/** The machine's own controls, always in the same place. They stand where they were left. */
const props = defineProps<{ controls: Schema['Control'][]; at: Record<string, unknown>; busy?: boolean }>()
const emit = defineEmits<{ set: [id: string, position: string | number] }>()

const lever = (at: unknown) => Number(at ?? 0)
const leverWord = (c: Schema['Control'], at: unknown) => {
  const v = lever(at)
  if (v <= 0.05) return c.low
  if (v >= 0.95) return c.high
  return text('controls.tenths', { n: Math.round(v * 10) })
}
const plain = (p: string) => text(`position.${p}`)
/** So wide that the longest pair of words goes on one line. */
const LETTER_PX = 6.8
const least = computed(() => {
  const words = props.controls.flatMap((c) => (c.positions.length === 2 ? c.positions.map((p) => plain(p).length) : []))
  return `${Math.max(82, 2 * LETTER_PX * Math.max(0, ...words) + 14)}px`
})
</script>

<template>
  <div class="strip" :style="{ '--least': least }" role="group" :aria-label="text('controls.name')">
    <div v-for="c in controls" :key="c.id" class="control" role="group" :aria-label="c.name" :data-control="c.id">
      <div class="cap">
        <span>{{ c.name }}</span>
        <span v-if="c.lever" class="word">{{ leverWord(c, at[c.id]) }}</span>
        <span v-else-if="c.positions.length && at[c.id] === undefined" class="word" :title="text('controls.as-found')"
          >?<span class="sr-only"> {{ text('controls.as-found') }}</span></span
        >
      </div>
      <LeverSlider
        v-if="c.lever"
        :name="c.name"
        :at="lever(at[c.id])"
        :says="(v) => leverWord(c, v) ?? ''"
        :disabled="busy"
        @rest="emit('set', c.id, $event)"
      />
      <ChoiceRow
        v-else-if="c.positions.length === 2"
        class="pair"
        :items="c.positions.map((p) => ({ value: p, title: plain(p) }))"
        :model-value="at[c.id] as string"
        :label="c.name"
        :disabled="busy"
        @update:model-value="emit('set', c.id, $event!)"
      />
      <v-btn
        v-else-if="c.positions.length === 0"
        :aria-label="text('controls.press-the', { what: c.name.toLowerCase() })"
        :disabled="busy"
        @click="emit('set', c.id, 1)"
      >
        {{ text('controls.press') }}
      </v-btn>
      <v-select
        v-else
        density="compact"
        :aria-label="c.name"
        :items="c.positions.map((p) => ({ value: p, title: plain(p) }))"
        :model-value="at[c.id]"
        :disabled="busy"
        @update:model-value="emit('set', c.id, $event as string)"
      />
    </div>
  </div>
</template>

<style scoped>
.strip {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(var(--least), 1fr));
  gap: 5px;
}
.control {
  background: var(--panel);
  border-radius: 12px;
  padding: 4px 6px 5px;
  display: grid;
  grid-template-rows: auto 48px;
  gap: 2px;
  min-width: 0;
}
.cap {
  display: flex;
  justify-content: space-between;
  gap: 4px;
  font: 500 14px/1.15 var(--label);
  color: var(--muted);
  white-space: nowrap;
}
.word {
  color: var(--ink);
  font-weight: 600;
  overflow: hidden;
  text-overflow: ellipsis;
}
.pair {
  flex-wrap: nowrap;
}
.pair :deep(.v-btn) {
  padding-inline: 2px;
  overflow-wrap: anywhere;
}
.control :deep(.v-field) {
  --v-field-padding-start: 6px;
  --v-field-padding-end: 0px;
}
.control :deep(.v-field__append-inner) {
  margin: 0;
  padding: 0;
}
.control :deep(.v-field .v-select__menu-icon) {
  font-size: 17px;
}
.control :deep(.v-select__selection) {
  margin-inline-end: 0;
}
.control :deep(.v-field__input) {
  padding-inline-end: 0;
  font: 600 15.5px/1.1 var(--label);
}
.control :deep(.v-slider) {
  margin-inline: 11px;
}
/* Beside the instrument there is a mouse; elsewhere a thumb. */
@media (min-width: 1200px) {
  .control {
    grid-template-rows: auto 38px;
  }
  .control :deep(.v-btn) {
    min-height: 36px;
  }
  .control :deep(.v-input) {
    --v-input-control-height: 38px;
  }
}
</style>
