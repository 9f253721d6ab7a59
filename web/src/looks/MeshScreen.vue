<script setup lang="ts">
import { computed } from 'vue'
import { scatter, upTo } from './seed'

/** A spark-arrestor screen against the light. */
const props = defineProps<{ scene: string; shown?: number }>()
const crust = computed(() => (props.scene === 'holed' ? 0.1 : props.scene === 'nest' ? 0.5 : (props.shown ?? 0)))
const cells = computed(() =>
  upTo(26 * 11).map((i) => ({
    x: 36 + (i % 26) * 11.1,
    y: 30 + Math.floor(i / 26) * 11.4,
    shut: scatter(i) * 0.7 + scatter(Math.floor(i / 9), 5) * 0.3 < crust.value,
  })),
)
</script>

<template>
  <rect x="26" y="20" width="308" height="144" rx="10" fill="#55503f" stroke="#11100c" stroke-width="3" />
  <rect
    v-for="(c, i) in cells"
    :key="i"
    :x="c.x"
    :y="c.y"
    width="8"
    height="8.4"
    :fill="c.shut ? '#16130e' : '#ffe9b8'"
  />
  <path
    v-if="scene === 'holed'"
    d="M176 70l18-14 24 6 14 22-8 24-26 10-24-8-10-22z"
    fill="#fffbe9"
    stroke="#2b1a0c"
    stroke-width="4"
  />
  <path
    v-if="scene === 'nest'"
    d="M90 120q60-70 120-34t70 30q-50 34-110 24t-80-20zM110 112l70-40M150 128l80-46M190 130l60-40"
    fill="none"
    stroke="#cdb26a"
    stroke-width="5"
  />
</template>
