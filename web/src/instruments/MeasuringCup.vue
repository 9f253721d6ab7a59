<script setup lang="ts">
import { computed } from 'vue'
import { inWords, marks, numbers, type Scale } from './arc'
import { text } from '@/words/words'

/** A cup with marks each 2 ml and, where time counts, a stopwatch beside it. */
const props = withDefaults(defineProps<{ ml: number; seconds: number; scale: Scale; timed?: boolean }>(), {
  timed: true,
})

const y = (ml: number) => 206 - (ml / props.scale.most) * 195.2
const level = computed(() => y(Math.min(props.ml, props.scale.most)))
const lines = computed(() => marks(0, props.scale.most, props.scale.division))
const hand = computed(() => (props.seconds / 60) * 360)
const words = computed(() => {
  if (props.timed && props.seconds === 0) return text('face.cup-empty')
  const surface =
    props.ml > props.scale.most
      ? text('face.cup-over')
      : inWords(props.ml, props.scale.numbered, props.scale.division, 'ml', text('face.surface'))
  return `${surface}${props.timed ? ` ${text('face.watch', { seconds: props.seconds })}` : ''}`
})
</script>

<template>
  <figure class="drawn">
    <svg viewBox="0 0 360 220" role="img" :aria-label="words">
      <path :d="`M112 ${level}H208L203 206H117Z`" class="fuel" />
      <path d="M104 6L117 208H203L216 6" class="glass" />
      <g class="scale">
        <path
          v-for="v in lines"
          :key="v"
          :d="`M${205 - (v % scale.numbered === 0 ? 30 : (2 * v) % scale.numbered === 0 ? 20 : 12)} ${y(v)}H205`"
          :class="{ thick: v % scale.numbered === 0 }"
        />
        <text v-for="v in numbers(scale).slice(1)" :key="v" x="158" :y="y(v)">{{ v }}</text>
        <text x="92" y="20">ml</text>
      </g>
      <g v-if="timed">
        <circle cx="290" cy="118" r="50" class="watch" />
        <rect x="283" y="54" width="14" height="12" rx="3" class="crown" />
        <g class="scale">
          <path v-for="i in 12" :key="i" d="M290 72v8" :transform="`rotate(${i * 30} 290 118)`" />
          <text x="290" y="88">60</text>
          <text x="322" y="119">15</text>
          <text x="290" y="150">30</text>
          <text x="259" y="119">45</text>
        </g>
        <path d="M290 126V80" class="hand" :style="{ transform: `rotate(${hand}deg)` }" />
      </g>
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
.glass {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
}
.fuel {
  fill: #d9a441;
  fill-opacity: 0.55;
  transition: d 0.8s;
}
.scale path {
  stroke: var(--ink);
  stroke-width: 1;
}
.scale path.thick {
  stroke-width: 2.2;
}
.scale text {
  font: 600 13px var(--label);
  fill: var(--ink);
  text-anchor: middle;
  dominant-baseline: central;
}
.watch {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 4;
}
.crown {
  fill: var(--ink);
}
.hand {
  stroke: var(--condemned);
  stroke-width: 3;
  transform-origin: 290px 118px;
  transition: transform 0.8s;
}
</style>
