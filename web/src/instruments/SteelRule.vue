<script setup lang="ts">
import { computed } from 'vue'
import { marks, numbers, readIn, type Scale } from './arc'
import { text } from '@/words/words'

/** A steel rule stood on the carburettor's face beside the float. */
const props = defineProps<{ mm?: number; scale: Scale }>()

const y = (v: number) => 190 - (v / props.scale.most) * 184
const words = computed(() =>
  props.mm === undefined ? text('face.rule-ready') : readIn(props.scale, props.mm, 'mm', text('face.float-edge')),
)
</script>

<template>
  <figure class="drawn">
    <svg viewBox="0 0 360 206" role="img" :aria-label="words">
      <path d="M20 190H340" stroke="var(--ink)" stroke-width="6" />
      <rect x="96" y="6" width="60" height="184" fill="#d5dbd6" stroke="var(--ink)" stroke-width="2" />
      <path
        v-for="v in marks(0, scale.most, scale.division)"
        :key="v"
        :d="`M${v % scale.numbered === 0 ? 124 : (2 * v) % scale.numbered === 0 ? 134 : 142} ${y(v)}H156`"
        stroke="#20302e"
        :stroke-width="v % scale.numbered === 0 ? 2 : 1"
      />
      <text v-for="v in numbers(scale).slice(1, -1)" :key="`n${v}`" x="110" :y="y(v)">{{ v }}</text>
      <text x="74" y="16" class="mm">mm</text>
      <template v-if="mm !== undefined">
        <rect
          x="212"
          :y="y(mm) - 0"
          width="112"
          :height="26"
          rx="10"
          fill="#c9a24d"
          stroke="#6d5122"
          stroke-width="2"
        />
        <path :d="`M150 ${y(mm)}H324`" stroke="var(--condemned)" stroke-width="1.6" stroke-dasharray="5 4" />
      </template>
    </svg>
    <figcaption>
      <span role="status"
        >{{ mm === undefined ? text('face.not-laid') : '' }}<span class="sr-only">{{ words }}</span></span
      >
    </figcaption>
  </figure>
</template>

<style scoped>
svg {
  max-height: 220px;
}
text {
  font: 600 14px var(--label);
  fill: #20302e;
  text-anchor: middle;
  dominant-baseline: central;
}
.mm {
  fill: var(--ink);
}
figcaption {
  text-align: center;
  font: 500 16px var(--label);
}
</style>
