<script setup lang="ts">
import { computed } from 'vue'
import { mix, type Seen } from './seen'

/** A plug laid on the block, or a lamp in its lead, while somebody pulls. */
const props = defineProps<{ seen: Seen; lamp?: boolean }>()
const bright = computed(() => props.seen.spark)
/** A weak spark is thin and red-yellow; a strong one thick, white inside and blue around. */
const colour = computed(() =>
  bright.value < 0.65
    ? mix([120, 84, 66], [255, 186, 98], (bright.value - 0.1) / 0.5)
    : mix([166, 206, 255], [196, 232, 255], (bright.value - 0.7) / 0.3),
)
const glow = computed(() => mix([56, 36, 26], [255, 148, 84], bright.value))
const PATH = 'M202 92l14-16 9 27 12-24 8 20 10-7'
</script>

<template>
  <rect width="360" height="184" rx="10" fill="#101615" />
  <template v-if="lamp">
    <rect x="60" y="70" width="240" height="44" rx="22" fill="#4a5552" />
    <rect x="130" y="60" width="100" height="64" rx="14" fill="#2a312f" stroke="#87928d" stroke-width="3" />
    <circle cx="180" cy="92" r="20" :fill="bright ? glow : '#2c211b'" />
    <circle v-if="bright > 0.3" cx="180" cy="92" :r="20 + 34 * bright" :fill="glow" :opacity="0.45 * bright" />
  </template>
  <template v-else>
    <rect x="0" y="150" width="360" height="34" fill="#5a635f" />
    <rect x="0" y="40" width="112" height="104" rx="8" fill="#b6bfc2" />
    <rect x="112" y="64" width="76" height="56" rx="6" fill="#f2ead9" />
    <rect x="188" y="84" width="14" height="16" fill="#8f9a94" />
    <path d="M112 140H284V92H262" stroke="#8f9a94" stroke-width="15" fill="none" />
    <circle v-if="bright > 0.65" cx="229" cy="92" :r="18 + 30 * bright" fill="#8cc8ff" :opacity="0.34 * bright" />
    <path
      v-if="bright"
      :d="PATH"
      :stroke="colour"
      :stroke-width="0.8 + 10 * bright ** 1.4"
      fill="none"
      stroke-linejoin="round"
    />
    <path v-if="bright > 0.65" :d="PATH" stroke="#f4faff" :stroke-width="3.6 * bright" fill="none" />
  </template>
</template>
