<script setup lang="ts">
import { text } from '@/words/words'

/** Where there is one column: each part of the bench is one press of a thumb away. */
const parts = [
  ['board', '.board-panel'],
  ['tests', '.tray'],
  ['hand', '.hand'],
  ['controls', '.controls'],
  ['ledger', '.ledger'],
]
function go(selector: string) {
  const calm = window.matchMedia('(prefers-reduced-motion: reduce)').matches
  document.querySelector(selector)?.scrollIntoView({ block: 'start', behavior: calm ? 'auto' : 'smooth' })
}
</script>

<template>
  <nav class="thumb" :aria-label="text('bench.go')">
    <v-btn v-for="[id, selector] in parts" :key="id" variant="text" @click="go(selector)">{{
      text(`bench.go-${id}`)
    }}</v-btn>
  </nav>
</template>

<style scoped>
.thumb {
  display: none;
}
@media (max-width: 1099px) {
  .thumb {
    position: sticky;
    bottom: 0;
    z-index: 5;
    order: 9;
    display: grid;
    grid-auto-flow: column;
    grid-auto-columns: 1fr;
    margin: 0 -8px;
    background: var(--panel);
    border-top: 1.5px solid var(--line);
  }
  .thumb .v-btn {
    min-height: 52px;
    padding: 4px 2px;
  }
}
</style>
