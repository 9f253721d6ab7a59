<script setup lang="ts">
import type { Schema } from '@/api/client'

/** How a test is gone about: one field for each choice, none of them marked as the right one. */
defineProps<{ setups: Schema['Setup'][]; at: Record<string, unknown>; busy?: boolean }>()
const emit = defineEmits<{ set: [id: string, value: unknown] }>()

const place = (s: Schema['Setup'], at: unknown) => (s.options ?? []).findIndex((o) => o.value === at)
</script>

<template>
  <div v-if="setups.length" class="how">
    <label v-for="s in setups" :key="s.id" class="field"
      >{{ s.name }}
      <select
        v-if="s.options?.length"
        class="plain"
        :value="place(s, at[s.id])"
        :disabled="busy"
        @change="emit('set', s.id, s.options![Number(($event.target as HTMLSelectElement).value)].value)"
      >
        <option v-for="(o, i) in s.options" :key="i" :value="i">{{ o.label }}</option>
      </select>
      <input
        v-else
        class="plain"
        type="number"
        :min="s.low"
        :max="s.high"
        :step="s.step"
        :value="at[s.id]"
        :disabled="busy"
        @change="emit('set', s.id, Number(($event.target as HTMLInputElement).value))"
      />
    </label>
  </div>
</template>

<style scoped>
.how {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(98px, 1fr));
  gap: 6px;
}
/* The name stands within the field, so that three of them fit a row. */
.field {
  position: relative;
  font: 600 13px/1 var(--label);
  color: var(--muted);
  padding: 6px 0 0 11px;
}
.field > * {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  margin: 0;
  padding: 18px 8px 2px 10px;
  background: none;
  font: 600 16px/1.1 var(--label);
  color: var(--ink);
}
.field {
  height: 50px;
}
</style>
