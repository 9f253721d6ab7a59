<script setup lang="ts">
import { scatter, upTo } from './seed'

/** The piston's skirt through the exhaust port. */
defineProps<{ scene: string; shown?: number }>()

/** A lump of carbon on the port's edge, the larger the more of the port it shuts. */
function crust(i: number, share: number): string {
  const along = (i / 46) * 2 * Math.PI
  const deep = (16 + 60 * share) * (0.55 + 0.6 * scatter(i, 5))
  const [c, s] = [Math.cos(along), Math.sin(along)]
  const [x, y] = [180 + 112 * c, 92 + 76 * s]
  return `M${x - 13 * s} ${y + 13 * c}L${x - deep * c} ${y - deep * 0.7 * s}L${x + 13 * s} ${y - 13 * c}Z`
}
</script>

<template>
  <rect x="0" y="0" width="360" height="184" rx="10" fill="#15110d" />
  <rect x="70" y="18" width="220" height="148" rx="34" :fill="scene === 'worn' ? '#d8dde0' : '#a9b0b4'" />
  <path
    v-for="i in upTo(13)"
    :key="i"
    :d="`M74 ${70 + i * 7}H286`"
    stroke="#7d8589"
    stroke-width="1"
    :opacity="scene === 'worn' ? 0.15 : 0.7"
  />
  <g>
    <rect x="70" y="34" width="220" height="9" :fill="scene === 'clean' ? '#e8ecee' : '#6d6458'" />
    <rect x="70" y="52" width="220" height="9" :fill="scene === 'clean' ? '#e8ecee' : '#6d6458'" />
  </g>
  <g v-if="scene === 'scored'">
    <path
      v-for="i in upTo(Math.round(5 + 26 * Math.min(1, shown ?? 0.5)))"
      :key="i"
      :d="`M${92 + scatter(i) * 176} ${62 + scatter(i, 2) * 22}V164`"
      :stroke="scatter(i, 3) > 0.5 ? '#2c241c' : '#efe9dd'"
      :stroke-width="1.5 + 3.5 * scatter(i, 4)"
    />
  </g>
  <rect x="70" y="18" width="220" height="148" rx="34" fill="none" stroke="#2b2119" stroke-width="14" />
  <g v-if="scene === 'carboned'">
    <path v-for="i in upTo(46)" :key="i" :d="crust(i, shown ?? 0.5)" fill="#0d0a07" stroke="#2b221a" stroke-width="1" />
  </g>
</template>
