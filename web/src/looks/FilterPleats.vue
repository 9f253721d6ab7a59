<script setup lang="ts">
import { computed } from 'vue'
import { scatter, upTo } from './seed'

/** An air filter held to the window: light through its pleats, by how far they are shut. */
const props = defineProps<{ scene: string; shown?: number }>()
const shut = computed(
  () => ({ oily: 0.75, 'fuel-wet': 0.5, nest: 0.35, rag: 0.2, torn: 0.15 })[props.scene] ?? props.shown ?? 0,
)
const pleats = computed(() =>
  upTo(20).map((i) => {
    const dirt = Math.min(1, Math.max(0, shut.value * 2.1 - scatter(i) * 0.85))
    return { x: 34 + i * 14.7, light: 1 - dirt }
  }),
)
</script>

<template>
  <rect x="22" y="16" width="316" height="152" rx="12" fill="#3a3a30" stroke="#11100c" stroke-width="3" />
  <g v-for="(p, i) in pleats" :key="i">
    <rect :x="p.x" y="30" width="12.4" height="124" rx="3" :fill="scene === 'oily' ? '#4a3a1c' : '#8b7f63'" />
    <rect
      :x="p.x + 2.4"
      y="32"
      width="7.6"
      height="120"
      rx="3"
      fill="#fff4cf"
      :opacity="p.light * (scene === 'fuel-wet' ? 0.5 : 0.95)"
    />
  </g>
  <template v-if="scene === 'torn'">
    <path d="M208 30l10 26-8 20 11 24-9 22 7 32h-13l-5-34 7-20-9-24 8-22-7-24z" fill="#fffdf0" />
  </template>
  <path
    v-if="scene === 'nest'"
    d="M60 140q40-60 90-30t70-20 60 40q-60 30-120 24t-100-14z"
    fill="#a98d4e"
    stroke="#6b5526"
    stroke-width="3"
  />
  <path
    v-if="scene === 'nest'"
    d="M80 132l60-40M120 146l70-50M170 140l60-44M90 120l90 24M160 112l90 26"
    stroke="#d9c07d"
    stroke-width="2.5"
  />
  <path
    v-if="scene === 'rag'"
    d="M226 84q50-30 104 4l-8 66q-60 10-96-12z"
    fill="#b9402a"
    stroke="#6d1f12"
    stroke-width="3"
  />
  <path
    v-if="scene === 'rag'"
    d="M244 96q34-14 70 4M240 120q36-10 72 6"
    stroke="#e8ded0"
    stroke-width="4"
    fill="none"
  />
  <g v-if="scene === 'oily' || scene === 'fuel-wet'">
    <ellipse
      v-for="i in upTo(9)"
      :key="i"
      :cx="46 + i * 32"
      :cy="60 + scatter(i, 3) * 80"
      rx="7"
      ry="10"
      fill="#fff"
      :opacity="scene === 'oily' ? 0.2 : 0.35"
    />
  </g>
</template>
