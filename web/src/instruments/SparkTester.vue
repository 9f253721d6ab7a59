<script setup lang="ts">
import { computed } from 'vue'
import { marks, numbers, type Scale } from './arc'
import { text } from '@/words/words'

/** Two points with a gap between them, stepped out by a knob; a window shows what jumps. */
const props = defineProps<{ gap: number; spark?: string; earth?: string; scale: Scale }>()

const left = 84
const mm = computed(() => 180 / props.scale.most)
const right = computed(() => left + props.gap * mm.value)
const seen = computed(() => text(`face.spark-${props.spark || 'unpulled'}`))
/** A jagged line across the gap, the same each time for the same gap. */
const bolt = computed(() => {
  const n = 7
  let d = `M${left} 84`
  for (let i = 1; i < n; i++) {
    const x = left + ((right.value - left) * i) / n
    d += `L${x.toFixed(1)} ${84 + (i % 2 ? -1 : 1) * (3 + ((i * 37) % 6))}`
  }
  return `${d}L${right.value} 84`
})
</script>

<template>
  <figure class="drawn">
    <svg viewBox="0 18 360 166" role="img" :aria-label="text('face.spark-tester', { seen })">
      <rect x="10" y="22" width="340" height="122" rx="16" class="body" />
      <rect x="62" y="44" width="236" height="80" rx="10" class="window" />
      <path d="M30 84h44l10 0" class="rod" />
      <path :d="`M${left - 14} 76L${left} 84L${left - 14} 92Z`" class="point" />
      <path :d="`M${right + 14} 76L${right} 84L${right + 14} 92Z`" class="point" />
      <path :d="`M${right + 12} 84H330`" class="rod" />
      <path v-if="spark && spark !== 'none'" :key="`${gap}${spark}`" :d="bolt" class="bolt" :class="spark" />
      <g class="scale">
        <path
          v-for="v in marks(0, scale.most, scale.division)"
          :key="v"
          :d="`M${left + v * mm} 124v${v % scale.numbered === 0 ? -12 : v % 1 === 0 ? -7 : -4}`"
        />
        <text v-for="v in numbers(scale)" :key="v" :x="left + v * mm" y="138">{{ v }}</text>
        <text x="316" y="138">mm</text>
      </g>
      <path :d="`M${right} 96v28`" class="pointer" />
      <path d="M40 144q-6 26 18 30" class="lead" :class="{ loose: earth === 'poor' }" />
      <text x="66" y="176" class="clip">{{ earth === 'poor' ? 'clip lies on paint' : 'clip bites bare metal' }}</text>
    </svg>
    <figcaption>
      <span role="status">{{ seen }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
svg {
  max-height: 190px;
}
.body {
  fill: #35443f;
  stroke: var(--ink);
  stroke-width: 2;
}
.window {
  fill: #0d1514;
}
.rod {
  stroke: #c9b48b;
  stroke-width: 7;
  fill: none;
}
.point {
  fill: #e4d6bc;
}
.bolt {
  fill: none;
  stroke-width: 3;
  stroke-linejoin: round;
  animation: flash 0.9s ease-out;
}
.bolt.blue {
  stroke: #9fd8ff;
  filter: drop-shadow(0 0 5px #5db4ff);
}
.bolt.orange {
  stroke: #ffb066;
  stroke-width: 1.6;
  stroke-dasharray: 7 3;
}
@keyframes flash {
  0%,
  30%,
  60% {
    opacity: 0;
  }
  15%,
  45%,
  100% {
    opacity: 1;
  }
}
.scale path,
.pointer {
  stroke: #efe8da;
  stroke-width: 1.2;
}
.pointer {
  stroke: #f4c877;
  stroke-width: 2.4;
}
.scale text {
  font: 600 13px var(--label);
  fill: #efe8da;
  text-anchor: middle;
}
.lead {
  fill: none;
  stroke: var(--ink);
  stroke-width: 4;
}
.lead.loose {
  stroke-dasharray: 5 4;
}
.clip {
  font: 500 14px var(--text);
  fill: var(--ink);
}
figcaption {
  text-align: center;
  font: 600 17px var(--label);
}
</style>
