<script setup lang="ts">
import { computed } from 'vue'
import { text } from '@/words/words'

/** A meter of 2000 counts: what its glass shows, on the range it is set to. */
const props = defineProps<{ display: string; range: string; leads?: string; coil?: number }>()

const unit = computed(() => (props.range === '200 Ω' ? 'Ω' : 'kΩ'))
const words = computed(() =>
  props.display === 'OL'
    ? text('face.over-limit', { range: props.range })
    : text('face.ohms', { shows: `${props.display} ${unit.value}`, range: props.range }),
)
</script>

<template>
  <figure class="drawn">
    <svg viewBox="0 0 360 150" role="img" :aria-label="text('face.meter', { shows: words })">
      <rect x="30" y="4" width="300" height="118" rx="14" class="body" />
      <rect x="48" y="18" width="264" height="82" rx="6" class="glass" />
      <text x="248" y="78" class="digits">{{ display }}</text>
      <text x="286" y="80" class="unit">{{ unit }}</text>
      <text x="58" y="36" class="range">{{ range }}</text>
      <path d="M120 122v14q0 10-26 10" class="lead red" />
      <path d="M240 122v14q0 10 26 10" class="lead" />
    </svg>
    <figcaption>
      <span role="status">
        {{ text(leads === 'winding' ? 'face.on-winding' : 'face.held-together') }}
        <template v-if="coil">
          {{ text('face.coil-warm', { celsius: coil }) }}
        </template>
        <span class="sr-only">{{ words }}</span>
      </span>
    </figcaption>
  </figure>
</template>

<style scoped>
svg {
  max-height: 164px;
}
.body {
  fill: #c98511;
}
.glass {
  fill: #cfd8c4;
  stroke: #20302e;
  stroke-width: 2;
}
.digits {
  font: 600 64px var(--label);
  font-variant-numeric: tabular-nums;
  fill: #16211f;
  text-anchor: end;
}
.unit {
  font: 600 28px var(--label);
  fill: #16211f;
  text-anchor: middle;
}
.range {
  font: 600 16px var(--label);
  fill: #33413c;
}
.lead {
  fill: none;
  stroke: var(--ink);
  stroke-width: 5;
}
.lead.red {
  stroke: var(--condemned);
}
figcaption {
  text-align: center;
  font: 500 16px var(--label);
  color: var(--muted);
}
</style>
