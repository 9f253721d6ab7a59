<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import ControlsStrip from './ControlsStrip.vue'
import { text } from '@/words/words'

/** A walk round the machine before it goes back: what is off, and how everything stands. What is right is not said. */
const props = defineProps<{ family: Schema['Family']; bench: Schema['Bench']; busy?: boolean }>()
const emit = defineEmits<{ event: [event: Schema['Event']] }>()

const off = computed(() => props.family.covers.filter((c) => props.bench.open.includes(c.id)))
const blocked = computed(() => props.bench.taken.includes('block-driven'))
</script>

<template>
  <section class="panel stack" :aria-label="text('walk.name')">
    <h2>{{ text('walk.name') }}</h2>
    <ul class="found">
      <li v-if="off.length === 0">{{ text('walk.all-on') }}</li>
      <li v-for="c in off" :key="c.id">
        <span>{{ c.off[0].toUpperCase() + c.off.slice(1) }}.</span>
        <v-btn :disabled="busy" @click="emit('event', { kind: 'cover', cover: c.id, off: false })">
          {{ text('walk.put-back') }}
        </v-btn>
      </li>
      <li v-if="blocked">
        <span>{{ text('walk.blocked') }}</span>
        <v-btn :disabled="busy" @click="emit('event', { kind: 'do', do: 'block-driven' })">
          {{ text('walk.take-out') }}
        </v-btn>
      </li>
      <li v-if="bench.spilt">
        <span>{{ text('walk.spilt') }}</span>
        <v-btn :disabled="busy" @click="emit('event', { kind: 'do', do: 'wipe-spill' })">
          {{ text('walk.wipe-up') }}
        </v-btn>
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
