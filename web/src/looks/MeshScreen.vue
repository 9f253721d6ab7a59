<script setup lang="ts">
import { computed, useId } from 'vue'
import { scatter, upTo } from './seed'
import type { Seen } from './seen'

/** A spark-arrestor screen against the light. */
const clip = useId()
const props = defineProps<{ seen: Seen }>()
const cells = computed(() =>
  upTo(26 * 11).map((i) => ({
    x: 36 + (i % 26) * 11.1,
    y: 30 + Math.floor(i / 26) * 11.4,
    shut:
      scatter(i) * 0.7 + scatter(Math.floor(i / 9), 5) * 0.3 <
      Math.max(props.seen.shut, 0.55 * props.seen.nest, props.seen.hole ? 0.08 : 0),
  })),
)
</script>

<template>
  <rect x="26" y="20" width="308" height="144" rx="10" fill="#55503f" stroke="#11100c" stroke-width="3" />
  <rect
    v-for="(c, i) in cells"
    :key="i"
    :x="c.x"
    :y="c.y"
    width="8"
    height="8.4"
    :fill="c.shut ? '#16130e' : '#ffe9b8'"
  />
  <path
    v-if="seen.hole"
    d="M176 70l18-14 24 6 14 22-8 24-26 10-24-8-10-22z"
    fill="#fffbe9"
    stroke="#2b1a0c"
    stroke-width="4"
  />
  <clipPath :id="clip"><rect x="26" y="20" width="308" height="144" rx="10" /></clipPath>
  <g v-if="seen.nest" :clip-path="`url(#${clip})`">
    <path
      v-for="i in upTo(Math.round(6 + 70 * seen.nest))"
      :key="i"
      :d="`M${180 + (scatter(i) - 0.5) * 300 * Math.min(1, 0.35 + seen.nest)} ${96 + (scatter(i, 2) - 0.5) * 130 * Math.min(1, 0.4 + seen.nest)}q${26 * scatter(i, 3)} -${22 * scatter(i, 4)} ${30 + 30 * scatter(i, 6)} ${20 * scatter(i, 7) - 10}`"
      fill="none"
      :stroke="scatter(i, 8) > 0.5 ? '#cdb26a' : '#8d7440'"
      stroke-width="4.5"
      stroke-linecap="round"
    />
  </g>
</template>
