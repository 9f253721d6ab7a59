<script setup lang="ts">
import { computed, useId } from 'vue'
import { scatter, upTo } from './seed'
import { mix, type Seen } from './seen'

/** An air filter held to the window: light through its pleats, by how far they are shut. */
const clip = useId()
const props = defineProps<{ seen: Seen }>()
const soaked = computed(() => Math.max(props.seen.oil, props.seen.wet))
const paper = computed(() =>
  props.seen.oil
    ? mix([139, 127, 99], [58, 44, 18], 0.3 + 0.7 * props.seen.oil)
    : mix([139, 127, 99], [122, 116, 96], props.seen.wet),
)
/** Dust lies unevenly; oil and fuel darken all of it; a nest or a rag lets light past itself. */
const pleats = computed(() =>
  upTo(20).map((i) => {
    const dirt = Math.min(1, Math.max(0, props.seen.shut * 1.85 - scatter(i) * 0.85))
    const dark = Math.max(dirt, 0.95 * props.seen.oil, 0.6 * props.seen.wet)
    return { x: 34 + i * 14.7, light: 1 - dark, sag: props.seen.wet * 9 * Math.sin(i * 0.9) }
  }),
)
const rip = computed(() => 4 + 13 * props.seen.tear)
</script>

<template>
  <rect x="22" y="16" width="316" height="152" rx="12" fill="#3a3a30" stroke="#11100c" stroke-width="3" />
  <g v-for="(p, i) in pleats" :key="i" :transform="`translate(${p.x} 0) skewX(${p.sag / 6})`">
    <rect y="30" width="12.4" height="124" rx="3" :fill="paper" />
    <rect x="2.4" y="32" width="7.6" height="120" rx="3" fill="#fff4cf" :opacity="0.95 * p.light" />
  </g>
  <path
    v-if="seen.tear"
    :d="`M208 30l10 26-8 20 11 24-9 22 7 32h-${rip}l-5-34 7-20-9-24 8-22-${rip / 2}-24z`"
    fill="#fffdf0"
  />
  <clipPath :id="clip"><rect x="22" y="16" width="316" height="152" rx="12" /></clipPath>
  <g v-if="seen.nest" :clip-path="`url(#${clip})`">
    <g :transform="`translate(0 ${152 - 120 * seen.nest}) scale(1 ${0.4 + 0.6 * seen.nest})`">
      <path
        d="M50 130q40-60 100-34t90-20 70 40q-60 30-140 24t-120-10z"
        fill="#a98d4e"
        stroke="#6b5526"
        stroke-width="3"
      />
      <path
        v-for="i in upTo(Math.round(8 + 22 * seen.nest))"
        :key="i"
        :d="`M${70 + scatter(i) * 190} ${86 + scatter(i, 2) * 44}l${20 + 50 * scatter(i, 3)} ${40 * scatter(i, 4) - 20}`"
        stroke="#d9c07d"
        stroke-width="2.5"
      />
    </g>
  </g>
  <g v-if="seen.rag" :transform="`translate(${300 - 300 * seen.rag} 0) scale(${seen.rag} 1)`">
    <path d="M60 84q110-46 270 4l-10 66q-140 20-250-10z" fill="#b9402a" stroke="#6d1f12" stroke-width="3" />
    <path d="M90 100q90-26 220 4M84 126q100-18 230 8" stroke="#e8ded0" stroke-width="4" fill="none" />
  </g>
  <g v-if="soaked">
    <ellipse
      v-for="i in upTo(Math.round(3 + 9 * soaked))"
      :key="i"
      :cx="40 + ((i * 71) % 280)"
      :cy="52 + scatter(i, 3) * 90"
      rx="7"
      ry="10"
      fill="#fff"
      :opacity="seen.oil ? 0.2 : 0.4"
    />
  </g>
</template>
