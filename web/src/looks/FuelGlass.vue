<script setup lang="ts">
import { computed } from 'vue'
import { scatter, upTo } from './seed'

/** A little of the fuel in a glass against the window. */
const props = defineProps<{ scene: string; shown?: number }>()
const colour = computed(
  () =>
    ({ stale: '#7a4a17', oily: '#2f7f63', 'no-oil': '#ecdba4', beads: '#e9c46a', empty: '#e9c46a' })[props.scene] ??
    '#e9c46a',
)
const top = computed(() => (props.scene === 'empty' ? 150 : 56))
</script>

<template>
  <rect x="0" y="0" width="360" height="184" rx="10" fill="#dfe9ea" />
  <path :d="`M118 ${top}H242L236 162H124Z`" :fill="colour" :opacity="scene === 'stale' ? 0.92 : 0.7" />
  <path d="M110 16L122 168H238L250 16" fill="none" stroke="#5b6b69" stroke-width="4" />
  <g v-if="scene === 'beads'">
    <ellipse
      v-for="i in upTo(Math.round(3 + (shown ?? 0.4) * 14))"
      :key="i"
      :cx="132 + scatter(i) * 96"
      :cy="154 - scatter(i, 2) * 10"
      :rx="4 + scatter(i, 4) * 6"
      :ry="3.4 + scatter(i, 4) * 4"
      fill="#f4fbfd"
      stroke="#6f8b93"
      stroke-width="1.6"
    />
  </g>
  <path
    v-if="scene === 'oily'"
    d="M120 70q30 60 10 90M240 70q-26 50-8 92"
    stroke="#1e5a45"
    stroke-width="8"
    fill="none"
    opacity="0.5"
  />
  <path v-if="scene === 'stale'" d="M124 158q50-10 110 0" stroke="#3c2208" stroke-width="6" fill="none" />
</template>
