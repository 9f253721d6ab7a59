<script setup lang="ts">
import { computed } from 'vue'
import { scatter, upTo } from './seed'
import { mix, type Seen } from './seen'

/** A little of the fuel in a glass against the window. */
const props = defineProps<{ seen: Seen }>()
/** Petrol is pale; oil that is mixed into it dyes it, by how much of it there is. */
const PETROL = [233, 205, 120]
const DYED = [126, 168, 112]
const colour = computed(() => {
  const { stale, oil, mixed } = props.seen
  if (stale) return mix([214, 168, 78], [84, 46, 14], stale)
  if (oil > 0) return mix(mixed ? DYED : PETROL, [24, 78, 58], oil)
  return mixed ? mix(DYED, PETROL, -oil) : `rgb(${PETROL.join(' ')})`
})
const top = computed(() => 160 - 104 * props.seen.level)
const edge = computed(() => 12 * (1 - (top.value - 16) / 146))
</script>

<template>
  <rect width="360" height="184" rx="10" fill="#dfe9ea" />
  <path d="M40 0V184M300 0V184M0 96H360" stroke="#c3d2d4" stroke-width="5" />
  <path
    :d="`M${122 - edge} ${top}H${238 + edge}L237 161H123Z`"
    :fill="colour"
    :opacity="0.62 + 0.34 * Math.max(seen.stale, seen.oil, 0)"
  />
  <path d="M110 16L122 163H238L250 16" fill="none" stroke="#5b6b69" stroke-width="4" />
  <path d="M120 28l9 110" stroke="#fff" stroke-width="5" opacity="0.7" />
  <!-- water lies under the fuel: in beads, and where there is more of it as a layer -->
  <path
    v-if="seen.water > 0.4"
    :d="`M123 161H237l1-${16 * seen.water}q-58-6-116 0z`"
    fill="#f4fbfd"
    fill-opacity="0.8"
    stroke="#6f8b93"
    stroke-width="1.6"
  />
  <ellipse
    v-for="i in upTo(seen.water ? Math.round(2 + seen.water * 12) : 0)"
    :key="i"
    :cx="130 + scatter(i) * 100"
    :cy="156 - scatter(i, 2) * (4 + 14 * seen.water)"
    :rx="4 + scatter(i, 4) * 6"
    :ry="3.4 + scatter(i, 4) * 4"
    fill="#f4fbfd"
    fill-opacity="0.85"
    stroke="#6f8b93"
    stroke-width="1.6"
  />
  <!-- heavy oil hangs in streaks, and what has aged leaves a rim of gum -->
  <path
    v-for="i in upTo(seen.oil > 0 ? Math.round(1 + 4 * seen.oil) : 0)"
    :key="`o${i}`"
    :d="`M${128 + i * 24} ${top + 8}q${i % 2 ? 18 : -16} 40 ${i % 2 ? -4 : 6} ${148 - top}`"
    stroke="#123f30"
    stroke-width="6"
    fill="none"
    opacity="0.45"
  />
  <path
    v-if="seen.stale"
    :d="`M${122 - edge} ${top}H${238 + edge}`"
    stroke="#3c2208"
    :stroke-width="1 + 6 * seen.stale"
    opacity="0.8"
  />
</template>
