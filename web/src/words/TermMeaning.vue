<script setup lang="ts">
import './meanings'
import EnginePicture from './EnginePicture.vue'
import type { Term } from './terms'
import { text } from './words'

/** What a word of the trade means, with where it is in an engine. */
defineProps<{ of: Term }>()
</script>

<template>
  <span class="meaning">
    <EnginePicture :part="of.part" :label="text(`term.${of.id}.name`)" />
    <span
      ><b>{{ text(`term.${of.id}.name`) }}</b> {{ text(`term.${of.id}.meaning`) }}</span
    >
  </span>
</template>

<style scoped>
.meaning {
  display: grid;
  grid-template-columns: 104px 1fr;
  gap: 10px;
  align-items: center;
  font: 500 15px/1.25 var(--label);
}
.meaning svg {
  width: 104px;
}
.meaning b {
  display: block;
}
</style>
