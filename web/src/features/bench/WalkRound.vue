<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import ControlsStrip from './ControlsStrip.vue'

/** A walk round the machine before it goes back: what is off, and how everything stands. What is right is not said. */
const props = defineProps<{ family: Schema['Family']; bench: Schema['Bench']; busy?: boolean }>()
const emit = defineEmits<{ event: [event: Schema['Event']] }>()

const off = computed(() => props.family.covers.filter((c) => props.bench.open.includes(c.id)))
const blocked = computed(() => props.bench.taken.includes('block-driven'))
</script>

<template>
  <section class="panel stack" aria-label="A walk round the machine">
    <h2>A walk round the machine</h2>
    <ul class="found">
      <li v-if="off.length === 0">Every cover and part is on.</li>
      <li v-for="c in off" :key="c.id">
        <span>{{ c.off[0].toUpperCase() + c.off.slice(1) }}.</span>
        <v-btn :disabled="busy" @click="emit('event', { kind: 'cover', cover: c.id, off: false })"> Put it back </v-btn>
      </li>
      <li v-if="blocked">
        <span>A block holds the driven part.</span>
        <v-btn :disabled="busy" @click="emit('event', { kind: 'do', do: 'block-driven' })"> Take it out </v-btn>
      </li>
      <li v-if="bench.spilt">
        <span>Fuel lies spilt.</span>
        <v-btn :disabled="busy" @click="emit('event', { kind: 'do', do: 'wipe-spill' })"> Wipe it up </v-btn>
      </li>
    </ul>
    <ControlsStrip
      :controls="family.controls.filter((c) => bench.has.includes(c.id))"
      :at="bench.controls"
      :busy="busy"
      @set="(id, p) => emit('event', { kind: 'control', control: { [id]: p } })"
    />
  </section>
</template>

<style scoped>
.found {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
.found li {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 12px;
  min-height: 44px;
  padding-top: 6px;
  border-top: 1px solid var(--line-soft);
}
:deep(.strip) {
  grid-template-columns: repeat(auto-fill, minmax(112px, 1fr));
}
:deep(.control) {
  background: var(--plaster);
}
</style>
