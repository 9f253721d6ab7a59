<script setup lang="ts">
import { scatter, upTo } from './seed'

/** The bowl dropped and looked into. */
defineProps<{ scene: string; shown?: number }>()
</script>

<template>
  <ellipse cx="180" cy="92" rx="150" ry="80" fill="#8f9a94" stroke="#39423f" stroke-width="4" />
  <ellipse cx="180" cy="96" rx="126" ry="62" fill="#c9d0cb" />
  <ellipse cx="180" cy="98" rx="118" ry="56" fill="#e9c46a" opacity="0.45" />
  <ellipse
    v-if="scene === 'varnish'"
    cx="180"
    cy="98"
    rx="118"
    ry="56"
    fill="#6a3d0d"
    :opacity="0.25 + 0.6 * Math.min(1, shown ?? 0.6)"
  />
  <ellipse
    v-if="scene === 'varnish'"
    cx="180"
    cy="98"
    rx="118"
    ry="56"
    fill="none"
    stroke="#3f2407"
    stroke-width="7"
    opacity="0.7"
  />
  <g v-if="scene === 'grit'">
    <path
      v-for="i in upTo(Math.round(14 + 60 * (shown ?? 0.5)))"
      :key="i"
      :d="`M${150 + scatter(i) * 96} ${96 + scatter(i, 2) * 48}l${2 + scatter(i, 3) * 5} ${scatter(i, 4) * 4 - 2}l-2 4z`"
      fill="#2d241a"
    />
  </g>
  <g v-if="scene === 'water'">
    <ellipse
      v-for="i in upTo(Math.round(4 + 10 * (shown ?? 0.4)))"
      :key="i"
      :cx="120 + scatter(i) * 120"
      :cy="96 + scatter(i, 2) * 40"
      :rx="5 + 9 * scatter(i, 3)"
      :ry="4 + 6 * scatter(i, 3)"
      fill="#f2fbff"
      stroke="#6f8b93"
      stroke-width="1.6"
    />
    <path d="M96 110q30 26 70 30" stroke="#fff" stroke-width="8" opacity="0.6" fill="none" />
  </g>
  <circle cx="180" cy="92" r="16" fill="#b98b3f" stroke="#5b4317" stroke-width="3" />
</template>
