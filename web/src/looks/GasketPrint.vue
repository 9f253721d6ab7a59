<script setup lang="ts">
/** A gasket against the face it sealed: its print, and where its holes lie. */
defineProps<{ scene: string; shown?: number }>()
</script>

<template>
  <rect x="70" y="16" width="220" height="152" rx="18" fill="#9aa39d" stroke="#39423f" stroke-width="3" />
  <rect
    :x="scene === 'swollen' ? 74 : 84"
    :y="scene === 'swollen' ? 18 : 28"
    :width="scene === 'swollen' ? 212 : 192"
    :height="scene === 'swollen' ? 148 : 128"
    :rx="scene === 'swollen' ? 30 : 14"
    :fill="scene === 'swollen' ? '#7c7f53' : '#6f5b3a'"
  />
  <rect x="112" y="54" width="136" height="76" rx="30" fill="#39423f" />
  <circle cx="98" cy="44" r="7" fill="#dfe3e0" />
  <circle cx="262" cy="44" r="7" fill="#dfe3e0" />
  <circle cx="98" cy="140" r="7" fill="#dfe3e0" />
  <circle cx="262" cy="140" r="7" fill="#dfe3e0" />
  <!-- the pulse passage and the hole that belongs over it -->
  <circle cx="262" cy="92" r="8" fill="#20302e" />
  <circle v-if="scene !== 'reversed'" cx="262" cy="92" r="10" fill="none" stroke="#e9dfc6" stroke-width="3" />
  <circle v-else cx="98" cy="92" r="10" fill="#9aa39d" stroke="#e9dfc6" stroke-width="3" />
  <path v-if="scene === 'torn'" d="M172 22l10 34h24l-4-34z" fill="#9aa39d" />
  <path v-if="scene === 'torn'" d="M176 24l22 30M188 22l14 26" stroke="#2d241a" stroke-width="3" opacity="0.7" />
</template>
