<script setup lang="ts">
import '@/words/office'
import type { Schema } from '@/api/client'
import { text } from '@/words/words'

/** How often somebody, or a class, was right by ear, hand and eye. */
defineProps<{ sensed: Schema['Sensed'][] }>()
const share = (s: Schema['Sensed']) => `${Math.round((100 * s.right) / s.of)}%`
</script>

<template>
  <section v-if="sensed.length" class="panel stack" :aria-label="text('office.senses')">
    <h2>{{ text('office.senses') }}</h2>
    <ul>
      <li v-for="s in sensed" :key="s.sense">
        <b>{{ text(`office.sense.${s.sense}`) }}</b>
        <span class="bar" aria-hidden="true"><span :style="{ width: share(s) }"></span></span>
        <span class="figure">{{ text('office.sensed', { right: s.right, of: s.of }) }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 110px minmax(60px, 320px) auto;
  gap: 12px;
  align-items: center;
  padding: 6px 0;
}
.bar {
  height: 8px;
  border-radius: 4px;
  background: var(--line-soft);
}
.bar span {
  display: block;
  height: 100%;
  border-radius: 4px;
  background: var(--water-2);
}
</style>
