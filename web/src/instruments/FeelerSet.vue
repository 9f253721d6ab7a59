<script setup lang="ts">
import { computed } from 'vue'
import { places, text } from '@/words/words'

/** A blade or wire tried in a gap: it goes, it drags, or it stops at the mouth. */
const props = defineProps<{ blade?: number; heard?: string; wire?: boolean }>()

const mm = (v: number) => places(v, 2)
const words = computed(() =>
  props.blade
    ? text(
        `face.${props.wire ? 'wire' : 'blade'}-${['goes', 'drags'].includes(props.heard ?? '') ? props.heard : 'stops'}`,
        {
          mm: mm(props.blade),
        },
      )
    : text('face.no-blade'),
)
const thick = computed(() => (props.blade ? 3 + props.blade * 26 : 0))
const reach = computed(() => (props.heard === 'stops' ? 146 : 236))
</script>

<template>
  <figure class="drawn">
    <svg viewBox="0 0 360 170" role="img" :aria-label="words">
      <path d="M150 14h190v52H150zM150 104h190v52H150z" fill="#8f9a94" stroke="var(--ink)" stroke-width="2.5" />
      <path d="M150 66h190M150 104h190" stroke="var(--ink)" stroke-width="1.5" />
      <template v-if="blade">
        <rect
          :x="reach - 230"
          :y="85 - thick / 2"
          width="230"
          :height="thick"
          :rx="wire ? thick / 2 : 2"
          fill="#c9d3d0"
          stroke="var(--ink)"
          stroke-width="1.5"
          class="blade"
        />
        <rect :x="reach - 250" y="68" width="44" height="34" rx="8" fill="#b98b3f" stroke="#6d5122" stroke-width="2" />
        <path v-if="heard === 'drags'" d="M180 58l10-8M210 58l10-8M180 112l10 8M210 112l10 8" class="rub" />
        <text x="78" y="40">{{ mm(blade) }}</text>
      </template>
      <text v-else x="78" y="90" class="idle">{{ text('face.choose-blade') }}</text>
    </svg>
    <figcaption>
      <span role="status">{{ words }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
svg {
  max-height: 180px;
}
text {
  font: 600 30px var(--label);
  fill: var(--ink);
  text-anchor: middle;
}
.idle {
  font-size: 18px;
  fill: var(--muted);
}
.blade {
  transition: x 0.25s;
}
.rub {
  stroke: var(--condemned);
  stroke-width: 3;
  fill: none;
}
figcaption {
  text-align: center;
  font: 500 17px var(--label);
}
</style>
