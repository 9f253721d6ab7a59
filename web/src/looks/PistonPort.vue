<script setup lang="ts">
import { computed } from 'vue'
import { scatter, upTo } from './seed'
import { mix, type Seen } from './seen'

/** The piston's skirt through the exhaust port. */
const props = defineProps<{ seen: Seen }>()
const skirt = computed(() => mix([169, 176, 180], [226, 231, 234], props.seen.worn))
const ring = computed(() => mix([232, 236, 238], [88, 80, 70], Math.max(props.seen.worn, props.seen.scored)))

/** A lump of carbon on the port's edge, the larger the more of the port it shuts. */
function crust(i: number, share: number): string {
  const along = (i / 46) * 2 * Math.PI
  const deep = (8 + 66 * share) * (0.55 + 0.6 * scatter(i, 5))
  const [c, s] = [Math.cos(along), Math.sin(along)]
  const [x, y] = [180 + 112 * c, 92 + 76 * s]
  return `M${x - 13 * s} ${y + 13 * c}L${x - deep * c} ${y - deep * 0.7 * s}L${x + 13 * s} ${y - 13 * c}Z`
}
</script>

<template>
  <rect width="360" height="184" rx="10" fill="#15110d" />
  <rect x="70" y="18" width="220" height="148" rx="34" :fill="skirt" />
  <!-- what the machining left: worn away where the skirt has rubbed -->
  <path
    v-for="i in upTo(13)"
    :key="i"
    :d="`M74 ${70 + i * 7}H286`"
    stroke="#7d8589"
    stroke-width="1"
    :opacity="0.75 - 0.7 * seen.worn"
  />
  <rect x="70" y="34" width="220" :height="9 - 3 * seen.worn" :fill="ring" />
  <rect x="70" y="52" width="220" :height="9 - 3 * seen.worn" :fill="ring" />
  <path
    v-if="seen.worn"
    d="M100 66q14 60 0 96M262 66q-12 60 2 96"
    stroke="#fff"
    :stroke-width="10 * seen.worn"
    opacity="0.5"
    fill="none"
  />
  <path
    v-for="i in upTo(seen.scored ? Math.round(2 + 30 * seen.scored) : 0)"
    :key="`s${i}`"
    class="score"
    :d="`M${92 + scatter(i) * 176} ${62 + scatter(i, 2) * 22}V164`"
    :stroke="scatter(i, 3) > 0.5 ? '#2c241c' : '#efe9dd'"
    :stroke-width="1.5 + 3.5 * scatter(i, 4)"
  />
  <rect x="70" y="18" width="220" height="148" rx="34" fill="none" stroke="#2b2119" stroke-width="14" />
  <path
    v-for="i in upTo(seen.crust ? 46 : 0)"
    :key="`c${i}`"
    :d="crust(i, seen.crust)"
    fill="#0d0a07"
    stroke="#2b221a"
    stroke-width="1"
  />
</template>
