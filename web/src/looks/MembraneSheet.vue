<script setup lang="ts">
/** A diaphragm lifted out and bent against the light. */
defineProps<{ scene: string; shown?: number }>()
</script>

<template>
  <rect x="0" y="0" width="360" height="184" rx="10" fill="#dfe9ea" />
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
  <circle cx="180" cy="92" r="54" :fill="scene === 'stiff' ? '#a27a3d' : '#3d3a36'" />
  <template v-if="scene === 'stiff'">
    <circle
      v-for="r in [46, 36, 26]"
      :key="r"
      cx="180"
      cy="92"
      :r="r"
      fill="none"
      stroke="#6e4f20"
      stroke-width="2.5"
    />
    <path d="M140 120l12-14M214 66l12-12M196 132l4 14" stroke="#5b4014" stroke-width="2.5" />
  </template>
  <path
    v-if="scene === 'supple'"
    d="M134 84q46 26 92 0M140 106q40 20 80 0"
    stroke="#5d5953"
    stroke-width="3"
    fill="none"
  />
  <ellipse
    v-if="scene === 'torn'"
    cx="186"
    cy="114"
    :rx="12 + 34 * Math.min(1, shown ?? 0.6)"
    :ry="2.5 + 5 * Math.min(1, shown ?? 0.6)"
    transform="rotate(-16 186 114)"
    fill="#fffdf0"
    stroke="#1c1a18"
    stroke-width="2"
  />
  <circle cx="180" cy="92" r="11" fill="#b6bfc2" stroke="#39423f" stroke-width="2" />
</template>
