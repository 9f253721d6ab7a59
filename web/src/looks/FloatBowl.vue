<script setup lang="ts">
import { computed } from 'vue'
import { scatter, upTo } from './seed'
import { mix, type Seen } from './seen'

/** The bowl dropped and looked into: how full it stands, and what lies in it. */
const props = defineProps<{ seen: Seen }>()
/** The fuel's face is the wider the fuller the bowl is; an empty one shows its floor. */
const face = computed(() => ({
  rx: 62 + 56 * props.seen.level,
  ry: 26 + 30 * props.seen.level,
  y: 108 - 10 * props.seen.level,
}))
const wall = computed(() => mix([201, 208, 203], [112, 66, 18], 0.9 * props.seen.varnish))
</script>

<template>
  <ellipse cx="180" cy="92" rx="150" ry="80" fill="#8f9a94" stroke="#39423f" stroke-width="4" />
  <ellipse cx="180" cy="96" rx="126" ry="62" :fill="wall" />
  <ellipse cx="180" cy="106" rx="64" ry="28" fill="#39423f" fill-opacity="0.18" />
  <ellipse
    v-if="seen.level > 0.05"
    cx="180"
    :cy="face.y"
    :rx="face.rx"
    :ry="face.ry"
    fill="#e9c46a"
    fill-opacity="0.5"
    stroke="#fff"
    stroke-opacity="0.5"
    stroke-width="2"
  />
  <ellipse
    v-if="seen.varnish"
    cx="180"
    cy="98"
    rx="121"
    ry="58"
    fill="none"
    stroke="#3f2407"
    :stroke-width="2 + 9 * seen.varnish"
    opacity="0.7"
  />
  <path
    v-for="i in upTo(seen.grit ? Math.round(8 + 66 * seen.grit) : 0)"
    :key="i"
    :d="`M${150 + scatter(i) * 96} ${96 + scatter(i, 2) * 48}l${2 + scatter(i, 3) * 5} ${scatter(i, 4) * 4 - 2}l-2 4z`"
    fill="#2d241a"
  />
  <g v-if="seen.water">
    <ellipse
      v-for="i in upTo(Math.round(2 + 12 * seen.water))"
      :key="i"
      :cx="120 + scatter(i) * 120"
      :cy="98 + scatter(i, 2) * 38"
      :rx="5 + 9 * scatter(i, 3)"
      :ry="4 + 6 * scatter(i, 3)"
      fill="#f2fbff"
      fill-opacity="0.8"
      stroke="#6f8b93"
      stroke-width="1.6"
    />
    <path d="M96 110q30 26 70 30" stroke="#fff" :stroke-width="2 + 9 * seen.water" opacity="0.6" fill="none" />
  </g>
  <circle cx="180" cy="92" r="16" fill="#b98b3f" stroke="#5b4317" stroke-width="3" />
</template>
