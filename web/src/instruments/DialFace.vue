<script setup lang="ts">
import { computed } from 'vue'
import { angle, marks, numbers, point, readIn, tick, type Dial, type Scale } from './arc'
import { text } from '@/words/words'

/** A round instrument with one needle, and where it has one a hand that stays at the highest. */
const props = withDefaults(
  defineProps<{
    name: string
    scale: Scale
    value: number
    /** There is more than the scale can show. */
    beyond?: boolean
    /** The hand that the needle pushed up and left there. */
    highest?: number
    unit: string
    /** Ends of the scale, degrees clockwise from straight up. */
    from?: number
    to?: number
    said?: string
  }>(),
  { highest: undefined, from: -130, to: 130, said: '' },
)

const dial = computed<Dial>(() => ({
  cx: 120,
  cy: 120,
  from: props.from,
  to: props.to,
  max: props.scale.most,
  min: props.scale.least,
}))
const small = computed(() => marks(props.scale.least, props.scale.most, props.scale.division))
const big = computed(() => numbers(props.scale))
const isBig = (v: number) => Math.abs(v / props.scale.numbered - Math.round(v / props.scale.numbered)) < 1e-6
const isMiddle = (v: number) =>
  Math.abs((2 * v) / props.scale.numbered - Math.round((2 * v) / props.scale.numbered)) < 1e-6
const round = computed(() => props.to - props.from >= 360)
const at = computed(() => (props.beyond ? Infinity : props.value))
const words = computed(() => {
  const main = readIn(props.scale, at.value, props.unit)
  const stays =
    props.highest !== undefined && Math.abs(props.highest - props.value) > 1e-6
      ? ` ${readIn(props.scale, props.highest, props.unit, text('face.red-hand'))}`
      : ''
  return `${main}${stays}${props.said ? ` ${props.said}` : ''}`
})
</script>

<template>
  <figure class="drawn">
    <svg viewBox="0 0 240 240" role="img" :aria-label="`${name}. ${words}`">
      <circle cx="120" cy="120" r="114" class="face" />
      <path
        v-for="v in small"
        :key="v"
        :d="tick(dial, v, isBig(v) ? 90 : isMiddle(v) ? 96 : 100, 107)"
        class="mark"
        :class="{ thick: isBig(v) }"
      />
      <template v-for="v in big" :key="`n${v}`">
        <text
          v-if="!(round && v === scale.least)"
          :x="point(dial, 75, angle(dial, v)).x"
          :y="point(dial, 75, angle(dial, v)).y"
        >
          {{ v }}
        </text>
      </template>
      <text x="120" :y="round ? 150 : 170" class="unit">{{ unit }}</text>
      <g v-if="highest !== undefined" class="hand" :style="{ transform: `rotate(${angle(dial, highest)}deg)` }">
        <path d="M120 120V22" class="stays" />
      </g>
      <g class="hand" :style="{ transform: `rotate(${angle(dial, at)}deg)` }">
        <path d="M116.8 138L119 18L121 18L123.2 138Z" class="needle" />
      </g>
      <circle cx="120" cy="120" r="9" class="hub" />
    </svg>
    <figcaption class="sr-only">
      <span role="status">{{ words }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
svg {
  max-height: 236px;
}
.face {
  fill: var(--face);
  stroke: var(--ink);
  stroke-width: 4;
}
.mark {
  stroke: #20302e;
  stroke-width: 1.1;
}
.mark.thick {
  stroke-width: 2.8;
}
text {
  font: 600 17px var(--label);
  fill: #20302e;
  text-anchor: middle;
  dominant-baseline: central;
}
.unit {
  font-size: 15px;
}
.hand {
  transform-origin: 120px 120px;
  transition: transform 0.45s cubic-bezier(0.3, 1.3, 0.5, 1);
}
.needle,
.hub {
  fill: #20302e;
}
.stays {
  stroke: var(--face-red);
  stroke-width: 3;
}
</style>
