<script setup lang="ts">
import { computed } from 'vue'
import { scatter, upTo } from './seed'
import { mix, type Seen } from './seen'

/** A diaphragm lifted out and bent against the light. */
const props = defineProps<{ seen: Seen }>()
const skin = computed(() => mix([61, 58, 54], [176, 134, 70], props.seen.stiff))
/** What is supple hangs in folds over the finger; what has hardened keeps its rings. */
const sag = computed(() => 26 * (1 - props.seen.stiff))
</script>

<template>
  <rect width="360" height="184" rx="10" fill="#dfe9ea" />
  <circle cx="180" cy="92" r="82" fill="#c9a36a" stroke="#6d5122" stroke-width="3" />
  <circle
    v-for="a in 6"
    :key="a"
    :cx="180 + 70 * Math.cos(a * 1.047)"
    :cy="92 + 70 * Math.sin(a * 1.047)"
    r="5"
    fill="#dfe9ea"
    stroke="#6d5122"
  />
  <circle cx="180" cy="92" r="54" :fill="skin" />
  <path
    :d="`M134 84q46 ${sag} 92 0M140 106q40 ${0.8 * sag} 80 0`"
    stroke="#fff"
    stroke-opacity="0.25"
    stroke-width="3"
    fill="none"
  />
  <g v-if="seen.stiff">
    <circle
      v-for="r in [46, 36, 26]"
      :key="r"
      cx="180"
      cy="92"
      :r="r"
      fill="none"
      stroke="#6e4f20"
      :stroke-width="3 * seen.stiff"
    />
    <path
      v-for="i in upTo(Math.round(12 * seen.stiff))"
      :key="i"
      :d="`M${180 + 24 * Math.cos(i * 2.4)} ${92 + 24 * Math.sin(i * 2.4)}l${20 * Math.cos(i * 2.4 + scatter(i) - 0.5)} ${20 * Math.sin(i * 2.4 + scatter(i) - 0.5)}`"
      stroke="#5b4014"
      stroke-width="2.2"
    />
  </g>
  <ellipse
    v-if="seen.tear"
    cx="186"
    cy="114"
    :rx="8 + 38 * seen.tear"
    :ry="1.5 + 6 * seen.tear"
    transform="rotate(-16 186 114)"
    fill="#fffdf0"
    stroke="#1c1a18"
    stroke-width="2"
  />
  <circle cx="180" cy="92" r="11" fill="#b6bfc2" stroke="#39423f" stroke-width="2" />
</template>
