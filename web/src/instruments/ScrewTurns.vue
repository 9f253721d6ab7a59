<script setup lang="ts">
import { computed } from 'vue'
import { text } from '@/words/words'

/** A mixture screw seen end on, with a tally of how far it has been turned in. */
const props = defineProps<{ turns: number; seated: boolean }>()

const eighths = computed(() => Math.round(props.turns * 8))
const rows = computed(() => Math.ceil(eighths.value / 8))
const pitch = computed(() => Math.min(30, 124 / Math.max(1, rows.value)))
const words = computed(() => {
  const whole = Math.floor(eighths.value / 8)
  const rest = eighths.value % 8
  const turns = text(whole === 1 ? 'face.one-turn' : 'face.turns', { n: whole })
  const said = rest ? text('face.and-eighths', { turns, n: rest }) : turns
  return eighths.value === 0 && !props.seated
    ? text('face.as-found')
    : text(props.seated ? 'face.turned-seated' : 'face.turned', { turns: said })
})
</script>

<template>
  <figure class="drawn">
    <svg viewBox="0 0 360 180" role="img" :aria-label="words">
      <circle cx="120" cy="90" r="76" fill="#b98b3f" stroke="#6d5122" stroke-width="4" />
      <path
        v-for="i in 8"
        :key="i"
        d="M120 6v10"
        :transform="`rotate(${i * 45} 120 90)`"
        stroke="var(--ink)"
        stroke-width="2"
      />
      <g class="slot" :style="{ transform: `rotate(${turns * 360}deg)` }">
        <rect x="52" y="83" width="136" height="14" rx="3" fill="#3b2d14" />
        <circle cx="64" cy="90" r="4" fill="#fff7dc" />
      </g>
      <g v-for="i in eighths" :key="`t${i}`">
        <rect
          :x="226 + ((i - 1) % 8) * 14"
          :y="36 + Math.floor((i - 1) / 8) * pitch"
          width="9"
          :height="pitch * 0.66"
          rx="2"
          fill="var(--water-2)"
        />
      </g>
      <text x="226" y="24">{{ text('face.eighths') }}</text>
      <text v-if="seated" x="226" y="166" class="seat">{{ text('face.seated') }}</text>
    </svg>
    <figcaption class="sr-only">
      <span role="status">{{ words }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
svg {
  max-height: 190px;
}
.slot {
  transform-origin: 120px 90px;
  transition: transform 0.3s;
}
text {
  font: 600 16px var(--label);
  fill: var(--muted);
}
.seat {
  fill: var(--condemned);
  font-size: 20px;
}
</style>
