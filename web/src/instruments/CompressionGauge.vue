<script setup lang="ts">
import { computed } from 'vue'
import { angle, marks, numbers, point, readIn, tick, type Dial, type Scale } from './arc'
import { text } from '@/words/words'

/** A gauge with a check valve and two scales: psi outside in black, kPa inside in red. */
const props = defineProps<{ psi: number; scale: Scale; beyond?: boolean }>()

const dial = computed<Dial>(() => ({ cx: 180, cy: 178, from: -100, to: 100, max: props.scale.most }))
const PSI_PER_KPA = 1 / 6.894757
const small = computed(() => marks(0, props.scale.most, props.scale.division))
// The red scale is marked by ten times the black one's whole tens, in kPa: 50, numbered at each 200.
const kpa = computed(() => marks(0, Math.floor(props.scale.most / PSI_PER_KPA / 50) * 50, 50))
const at = computed(() => (props.beyond ? Infinity : props.psi))
const needle = computed(() => angle(dial.value, at.value))
const words = computed(() => readIn(props.scale, at.value, 'psi'))
</script>

<template>
  <figure class="drawn">
    <svg viewBox="0 0 360 226" role="img" :aria-label="text('face.compression-gauge', { shows: words })">
      <path d="M12 214a172 172 0 1 1 336 0 8 8 0 0 1-8 6H20a8 8 0 0 1-8-6z" class="face" />
      <path
        v-for="v in small"
        :key="v"
        :d="tick(dial, v, v % scale.numbered === 0 ? 138 : (2 * v) % scale.numbered === 0 ? 145 : 151, 160)"
        class="mark"
        :class="{ thick: v % scale.numbered === 0 }"
      />
      <text
        v-for="v in numbers(scale)"
        :key="`n${v}`"
        :x="point(dial, 122, angle(dial, v)).x"
        :y="point(dial, 122, angle(dial, v)).y"
        class="number"
      >
        {{ v }}
      </text>
      <path v-for="v in kpa" :key="`k${v}`" :d="tick(dial, v * PSI_PER_KPA, v % 100 === 0 ? 88 : 92, 98)" class="red" />
      <text
        v-for="v in kpa.filter((k) => k % 200 === 0)"
        :key="`kn${v}`"
        :x="point(dial, 74, angle(dial, v * PSI_PER_KPA)).x"
        :y="point(dial, 74, angle(dial, v * PSI_PER_KPA)).y"
        class="rednumber"
      >
        {{ v }}
      </text>
      <text x="146" y="206" class="unit">psi</text>
      <text x="214" y="206" class="redunit">kPa</text>
      <g class="needle" :style="{ transform: `rotate(${needle}deg)` }">
        <path d="M-3.5 24L-1.2 -150L1.2 -150L3.5 24Z" />
      </g>
      <circle cx="180" cy="178" r="11" class="hub" />
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
  stroke: var(--face-ink);
  stroke-width: 1.3;
}
.mark.thick {
  stroke-width: 3;
}
text {
  font-family: var(--label);
  font-weight: 600;
  text-anchor: middle;
  dominant-baseline: central;
}
.number {
  font-size: 21px;
  fill: var(--face-ink);
}
.red {
  stroke: var(--face-red);
  stroke-width: 1.2;
}
.rednumber {
  font-size: 13px;
  fill: var(--face-red);
}
.unit {
  font-size: 17px;
  fill: var(--face-ink);
}
.redunit {
  font-size: 14px;
  fill: var(--face-red);
}
.needle {
  transform-origin: 180px 178px;
  transition: transform 0.35s cubic-bezier(0.3, 1.4, 0.5, 1);
}
.needle path {
  fill: var(--face-ink);
  transform: translate(180px, 178px);
}
.hub {
  fill: var(--face-ink);
}
</style>
