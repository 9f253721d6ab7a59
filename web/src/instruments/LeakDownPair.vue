<script setup lang="ts">
import DialFace from './DialFace.vue'

/** Two dials: what the regulator is set to, and how much of the book's 80 psi goes missing past the piston. */
defineProps<{ supply: number; lost: number; heard?: string }>()
</script>

<template>
  <div class="pair">
    <DialFace name="Supply" :value="supply" :max="100" :numbered="20" :small="2" unit="psi" />
    <DialFace name="Lost past the piston" :value="lost" :max="100" :numbered="20" :small="2" unit="% lost" />
  </div>
  <p class="heard" role="status">
    {{ heard ? `Air is heard at the ${heard.replaceAll('-', ' ')}.` : 'The air is off.' }}
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
