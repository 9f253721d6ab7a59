<script setup lang="ts">
import { computed } from 'vue'
import { text } from '@/words/words'

/** A tachometer clipped to the plug lead: it counts pulses, and divides by what it has been told. */
const props = defineProps<{ display: string; perTurn: string }>()
const words = computed(() =>
  props.display === '----'
    ? text('face.tacho-none')
    : text('face.tacho', { rpm: props.display, pulses: props.perTurn }),
)
</script>

<template>
  <figure class="drawn">
    <svg viewBox="0 0 360 150" role="img" :aria-label="words">
      <rect x="40" y="6" width="280" height="112" rx="14" fill="#33524a" />
      <rect x="58" y="20" width="244" height="62" rx="6" fill="#cfd8c4" stroke="#16211f" stroke-width="2" />
      <text x="232" y="70" class="digits">{{ display }}</text>
      <text x="270" y="70" class="unit">rpm</text>
      <text x="180" y="104" class="told">{{ text('face.pulses', { n: perTurn }) }}</text>
      <path d="M180 118v12q0 12 40 12h70" fill="none" stroke="var(--ink)" stroke-width="5" />
    </svg>
    <figcaption class="sr-only">
      <span role="status">{{ words }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
svg {
  max-height: 168px;
}
.digits {
  font: 600 56px var(--label);
  font-variant-numeric: tabular-nums;
  fill: #16211f;
  text-anchor: end;
}
.unit {
  font: 600 22px var(--label);
  fill: #16211f;
  text-anchor: middle;
}
.told {
  font: 600 17px var(--label);
  fill: #f2efe4;
  text-anchor: middle;
}
</style>
