<script setup lang="ts">
import { computed } from 'vue'

/** A plug laid on the block, or a lamp in its lead, while somebody pulls. */
const props = defineProps<{ scene: string; lamp?: boolean }>()
const colour = computed(
  () => ({ blue: '#bfe3ff', orange: '#ffb05c', faint: '#a9795a', bright: '#ff8a4c', dim: '#8f4a2c' })[props.scene],
)
</script>

<template>
  <rect x="0" y="0" width="360" height="184" rx="10" fill="#101615" />
  <template v-if="lamp">
    <rect x="60" y="70" width="240" height="44" rx="22" fill="#4a5552" />
    <rect x="130" y="60" width="100" height="64" rx="14" fill="#2a312f" stroke="#87928d" stroke-width="3" />
    <circle cx="180" cy="92" r="20" :fill="colour ?? '#2c211b'" />
    <circle v-if="scene === 'bright'" cx="180" cy="92" r="44" :fill="colour" opacity="0.35" />
  </template>
  <template v-else>
    <rect x="0" y="150" width="360" height="34" fill="#5a635f" />
    <rect x="0" y="40" width="112" height="104" rx="8" fill="#b6bfc2" />
    <rect x="112" y="64" width="76" height="56" rx="6" fill="#f2ead9" />
    <rect x="188" y="84" width="26" height="16" fill="#8f9a94" />
    <path d="M112 140H268V92H246" stroke="#8f9a94" stroke-width="15" fill="none" />
    <circle v-if="scene === 'blue'" cx="231" cy="92" r="44" fill="#8cc8ff" opacity="0.3" />
    <path
      v-if="scene !== 'none' && colour"
      d="M214 92l8-9 5 15 7-13 5 7"
      :stroke="colour"
      :stroke-width="scene === 'blue' ? 8 : scene === 'orange' ? 3.4 : 1.4"
      fill="none"
      stroke-linejoin="round"
    />
    <path v-if="scene === 'blue'" d="M214 92l8-9 5 15 7-13 5 7" stroke="#f4faff" stroke-width="3.5" fill="none" />
  </template>
</template>
