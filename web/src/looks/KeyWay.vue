<script setup lang="ts">
import { computed } from 'vue'

/** Crank end and flywheel bore seen end on: the two halves of the keyway, and the key between. */
const props = defineProps<{ scene: string; shown?: number }>()
const degrees = computed(() =>
  props.scene === 'whole' || props.scene === 'peened'
    ? 0
    : Math.max(props.scene === 'sheared' ? 14 : 3, props.shown ?? 6),
)
</script>

<template>
  <circle cx="180" cy="92" r="84" fill="#8f9a94" stroke="#39423f" stroke-width="3" />
  <g :transform="`rotate(${degrees} 180 92)`">
    <path d="M166 34h28v20h-28z" fill="#2a302d" />
    <rect v-if="scene === 'sheared' || scene === 'offset'" x="168" y="36" width="24" height="16" fill="#d8c06b" />
  </g>
  <circle cx="180" cy="92" r="42" fill="#c3cbc6" stroke="#39423f" stroke-width="2.5" />
  <path d="M166 48h28v18h-28z" fill="#2a302d" />
  <rect v-if="scene === 'sheared' || scene === 'offset'" x="168" y="50" width="24" height="14" fill="#c9ae52" />
  <rect v-else x="168" y="36" width="24" height="28" fill="#d8c06b" />
  <path
    v-if="scene === 'peened'"
    d="M166 40l-4 5 5 4-5 5 4 5M194 40l4 5-5 4 5 5-4 5"
    stroke="#fff6d0"
    stroke-width="3"
    fill="none"
  />
  <circle cx="180" cy="92" r="9" fill="#6f7d75" />
</template>
