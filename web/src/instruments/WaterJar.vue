<script setup lang="ts">
import { computed } from 'vue'
import { marks, numbers, readIn, type Scale } from './arc'
import { text } from '@/words/words'

/** Water under petrol in a graduated jar: what mixes with water goes over to it, and the line between them climbs. */
const props = defineProps<{ boundary: number; water: number; shaken: boolean; scale: Scale }>()

const y = (ml: number) => 202 - (ml / props.scale.most) * 186
const words = computed(() =>
  props.shaken
    ? readIn(props.scale, props.boundary, 'ml', text('face.water-line'))
    : text('face.poured', { water: props.water, most: props.scale.most }),
)
</script>

<template>
  <figure class="drawn">
    <svg viewBox="0 0 360 214" role="img" :aria-label="words">
      <path :d="`M132 ${y(scale.most)}H228V${y(boundary)}H132Z`" fill="#d9a441" fill-opacity="0.6" />
      <path :d="`M132 ${y(boundary)}H228V202H132Z`" fill="#9cc4cc" fill-opacity="0.8" class="water" />
      <path d="M132 4V202H228V4" fill="none" stroke="var(--ink)" stroke-width="3" />
      <path
        v-for="v in marks(0, scale.most, scale.division)"
        :key="v"
        :d="`M${v % scale.numbered === 0 ? 196 : (2 * v) % scale.numbered === 0 ? 206 : 214} ${y(v)}H228`"
        stroke="var(--ink)"
        :stroke-width="v % scale.numbered === 0 ? 2.2 : 1"
      />
      <text v-for="v in numbers(scale).slice(1)" :key="`n${v}`" x="180" :y="y(v)">{{ v }}</text>
      <path :d="`M118 ${y(water)}h14`" stroke="var(--condemned)" stroke-width="4" />
      <text x="72" :y="y(water)" class="note">{{ text('face.water-first') }}</text>
      <text x="258" y="12" class="note">ml</text>
    </svg>
    <figcaption class="sr-only">
      <span role="status">{{ words }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
svg {
  max-height: 226px;
}
text {
  font: 600 14px var(--label);
  fill: var(--ink);
  text-anchor: middle;
  dominant-baseline: central;
}
.note {
  font-weight: 500;
}
.water {
  transition: d 0.8s;
}
</style>
