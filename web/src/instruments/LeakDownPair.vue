<script setup lang="ts">
import type { Scale } from './arc'
import DialFace from './DialFace.vue'
import { text } from '@/words/words'

/** Two dials: what the regulator is set to, and how much of the book's 80 psi goes missing past the piston. */
defineProps<{ supply: number; lost: number; heard?: string; scale: Scale }>()
</script>

<template>
  <div class="pair">
    <DialFace name="Supply" :value="supply" :scale="scale" unit="psi" />
    <DialFace name="Lost past the piston" :value="lost" :scale="scale" unit="% lost" />
  </div>
  <p class="heard" role="status">
    {{ heard || text('face.air-off') }}
  </p>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
}
.heard {
  text-align: center;
  font: 500 16px var(--label);
}
</style>
