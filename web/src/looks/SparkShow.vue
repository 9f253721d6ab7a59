<script setup lang="ts">
import { computed } from 'vue'

/** A plug laid on the block, or a lamp in its lead, while somebody pulls. */
const props = defineProps<{ scene: string; lamp?: boolean }>()
const colour = computed(
  () => ({ blue: '#bfe3ff', orange: '#ffb05c', faint: '#8a6a52', bright: '#ff8a4c', dim: '#8f4a2c' })[props.scene],
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
    <rect x="20" y="122" width="320" height="50" fill="#5a635f" />
    <rect x="60" y="76" width="120" height="48" rx="6" fill="#b6bfc2" />
    <rect x="180" y="86" width="40" height="28" fill="#f2ead9" />
    <path d="M220 100h18M238 124V84h22" stroke="#8f9a94" stroke-width="7" fill="none" />
    <path v-if="scene === 'blue'" d="M239 97l5-7-3-2 6-6" stroke="#eaf6ff" stroke-width="6" fill="none" />
    <circle v-if="scene === 'blue'" cx="243" cy="91" r="22" fill="#8cc8ff" opacity="0.35" />
    <path
      v-if="scene !== 'none' && colour"
      d="M239 97l5-7-3-2 6-6"
      :stroke="colour"
      :stroke-width="scene === 'blue' ? 4 : scene === 'orange' ? 2.6 : 1.2"
      fill="none"
    />
  </template>
</template>
