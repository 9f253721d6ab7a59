<script setup lang="ts">
import type { Schema } from '@/api/client'
import { nameOf, text } from '@/words/words'
import { outcome } from './said'

/** The way somebody competent takes, step by step, with what each showed and its minutes. */
defineProps<{ path: Schema['WayStep'][] }>()
const tenths = (n: number) => Math.round(n * 2) / 2
</script>

<template>
  <ol class="way" :aria-label="text('scene.way')">
    <li v-for="(s, i) in path" :key="i" :class="{ work: s.repair, proof: s.proof }">
      <b>{{ s.test ? nameOf('test', s.test, 'title') : nameOf('repair', s.repair!) }}</b>
      <span>{{ s.test ? outcome(s) : nameOf('reach', s.reach!) }}</span>
      <small class="figure">{{ text('scene.min', { n: tenths(s.minutes) }) }}</small>
    </li>
  </ol>
</template>

<style scoped>
.way {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(124px, 1fr));
  gap: 8px;
  list-style: none;
  padding: 0;
}
li {
  display: grid;
  gap: 2px;
  align-content: start;
  padding: 7px 10px;
  border: 1px solid var(--line);
  border-radius: 10px;
  background: var(--panel);
  line-height: 1.2;
}
li b {
  font-weight: 600;
  font-size: 14.5px;
}
li span {
  color: var(--muted);
  font-size: 14.5px;
}
li small {
  justify-self: end;
  font-size: 14.5px;
}
.work {
  background: var(--suspect-bg);
  border-color: transparent;
}
.work span {
  color: inherit;
}
.proof {
  background: var(--good-bg);
  border-color: transparent;
}
.proof span {
  color: inherit;
}
</style>
