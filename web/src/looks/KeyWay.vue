<script setup lang="ts">
import type { Seen } from './seen'

/** Crank end and flywheel bore seen end on: the two halves of the keyway, and the key between. */
defineProps<{ seen: Seen }>()
</script>

<template>
  <circle cx="180" cy="92" r="84" fill="#8f9a94" stroke="#39423f" stroke-width="3" />
  <g :transform="`rotate(${seen.degrees} 180 92)`">
    <path d="M166 32h28v22h-28z" fill="#2a302d" />
    <rect v-if="seen.parted || seen.degrees" x="168" y="34" width="24" height="17" fill="#d8c06b" />
  </g>
  <circle cx="180" cy="92" r="42" fill="#c3cbc6" stroke="#39423f" stroke-width="2.5" />
  <path d="M166 49h28v18h-28z" fill="#2a302d" />
  <rect v-if="seen.parted || seen.degrees" x="168" y="51" width="24" height="14" fill="#c9ae52" />
  <rect v-else x="168" y="34" width="24" height="31" fill="#d8c06b" />
  <!-- A key that has sheared is torn bright across; one that has only given is still one piece. -->
  <path v-if="seen.parted" d="M166 52l5-4 5 5 5-6 5 5 4-4 4 4" stroke="#fff6d0" stroke-width="2.5" fill="none" />
  <path
    v-else-if="seen.degrees"
    :d="`M168 51L${168 + 0.75 * seen.degrees} 47M192 51L${192 + 0.75 * seen.degrees} 47`"
    stroke="#c9ae52"
    stroke-width="5"
  />
  <path
    v-if="seen.flared"
    d="M166 38l-5 5 6 4-6 5 5 4M194 38l5 5-6 4 6 5-5 4"
    stroke="#fff6d0"
    stroke-width="3.5"
    fill="#d8c06b"
  />
  <circle cx="180" cy="92" r="9" fill="#6f7d75" />
</template>
