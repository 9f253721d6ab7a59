<script setup lang="ts">
import type { Schema } from '@/api/client'

/** The machine's own controls, always in the same place. They stand where they were left. */
defineProps<{ controls: Schema['Control'][]; at: Record<string, unknown>; busy?: boolean }>()
const emit = defineEmits<{ set: [id: string, position: string | number] }>()

const lever = (at: unknown) => Number(at ?? 0)
const leverWord = (c: Schema['Control'], at: unknown) => {
  const v = lever(at)
  if (v <= 0.05) return c.low
  if (v >= 0.95) return c.high
  return `${Math.round(v * 10)} tenths`
}
const plain = (p: string) => p.replaceAll('-', ' ')
</script>

<template>
  <div class="strip" role="group" aria-label="The machine's controls">
    <div v-for="c in controls" :key="c.id" class="control" role="group" :aria-label="c.name">
      <div class="cap">
        <span>{{ c.name }}</span>
        <span v-if="c.lever" class="word">{{ leverWord(c, at[c.id]) }}</span>
        <span v-else-if="c.positions.length && at[c.id] === undefined" class="word" title="As found: nobody has looked"
          >?<span class="sr-only"> as found, nobody has looked</span></span
        >
      </div>
      <input
        v-if="c.lever"
        type="range"
        min="0"
        max="1"
        step="0.1"
        :value="lever(at[c.id])"
        :aria-label="c.name"
        :aria-valuetext="leverWord(c, at[c.id])"
        :disabled="busy"
        @change="emit('set', c.id, Number(($event.target as HTMLInputElement).value))"
      />
      <div v-else-if="c.positions.length === 2" class="pair">
        <button
          v-for="p in c.positions"
          :key="p"
          type="button"
          class="throw"
          :aria-pressed="at[c.id] === p"
          :disabled="busy"
          @click="at[c.id] !== p && emit('set', c.id, p)"
        >
          {{ p }}
        </button>
      </div>
      <button
        v-else-if="c.positions.length === 0"
        type="button"
        class="key"
        :aria-label="`Press the ${c.name.toLowerCase()}`"
        :disabled="busy"
        @click="emit('set', c.id, 1)"
      >
        Press
      </button>
      <select
        v-else
        :aria-label="c.name"
        :value="at[c.id]"
        :disabled="busy"
        @change="emit('set', c.id, ($event.target as HTMLSelectElement).value)"
      >
        <option v-for="p in c.positions" :key="p" :value="p">{{ plain(p) }}</option>
      </select>
    </div>
  </div>
</template>

<style scoped>
.strip {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(82px, 1fr));
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
  display: grid;
  grid-template-columns: minmax(0, auto) minmax(0, auto);
  border: 1.5px solid var(--gate);
  border-radius: 9px;
  overflow: hidden;
}
.throw {
  border: 0;
  background: var(--panel);
  color: var(--ink);
  font: 600 16px/1 var(--label);
  padding: 0 3px;
  min-width: 0;
  overflow-wrap: anywhere;
  cursor: pointer;
}
.throw[aria-pressed='true'] {
  background: #17606c;
  color: #fff;
}
.throw:focus-visible {
  outline-offset: -4px;
}
select {
  width: 100%;
  border: 1.5px solid var(--gate);
  border-radius: 9px;
  background: var(--panel);
  color: var(--ink);
  font: 600 16px/1 var(--label);
  padding: 0 2px;
}
input[type='range'] {
  width: 100%;
  min-width: 0;
  height: 44px;
  margin: 0;
  accent-color: #17606c;
  cursor: pointer;
}
/* Beside the instrument there is a mouse; elsewhere a thumb. */
@media (min-width: 1200px) {
  .control {
    grid-template-rows: auto 38px;
  }
  input[type='range'] {
    height: 36px;
  }
}
</style>
