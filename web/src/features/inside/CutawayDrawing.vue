<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { places, text } from '@/words/words'
import BoreSide from './BoreSide.vue'
import CylinderSide from './CylinderSide.vue'
import FuelSide from './FuelSide.vue'
import { fromTop, momentOf, strokeOf } from './cycle'

/** A cutaway of an engine at a moment of a film, and of the second that is looked at in it; all of it from the model. */
const props = defineProps<{
  family: string
  film: Schema['Film']
  frame: Schema['Frame']
  second: number
  /** Too small for lettering: its figures stand below it. */
  small?: boolean
}>()

const f = computed(() => props.frame)
const moment = computed(() => momentOf(props.film, props.frame, props.second))
const twoStroke = computed(() => props.family === 't2-diaphragm')
const below = computed(() => props.family === 'f4-suction')
/** From the carburettor to the inlet valve; in a two-stroke to the crankcase. */
const way = computed<[number, number][]>(() =>
  twoStroke.value
    ? [
        [470, 190],
        [524, 190],
        [524, 318],
        [590, 326],
      ]
    : [
        [470, 190],
        [534, 190],
        [556, 106],
        [600, 118],
      ],
)
const words = computed(() => {
  const m = f.value
  const parts = [
    moment.value ? text('inside.turning', { rpm: Math.round(m.rpm) }) : text('inside.standing'),
    text('inside.tank-full', { percent: Math.round(m.fuel_share * 100), kpa: places(m.tank_vacuum_kpa, 2) }),
    text(twoStroke.value ? 'inside.chamber-full' : 'inside.bowl-full', { percent: Math.round(m.bowl_share * 100) }),
  ]
  if (moment.value)
    parts.push(
      text('inside.mixture', { lambda: places(m.lambda, 2) }),
      text('inside.leaks', { percent: Math.round(m.leak_share * 100) }),
    )
  return parts.join('; ')
})
const figures = computed(() => {
  const m = f.value
  const at = (id: string, value: Record<string, string | number>) => text(`inside.${id}`, value)
  return [
    at('spark', { kv: places(m.spark_kv, 1) }),
    `λ ${places(m.lambda, 2)}`,
    at('charge', { percent: Math.round(m.charge * 100) }),
    at('leak-by', { percent: Math.round(m.leak_share * 100) }),
    at('below-air', { kpa: places(m.manifold_kpa, 0) }),
    at('coil-at', { celsius: Math.round(m.coil_c) }),
  ]
})
/** What the crank is at, in words. */
const cycle = computed(() => {
  const m = moment.value
  if (!m) return text('inside.stands')
  const off = fromTop(props.film, m.degree)
  return text(off < 0 ? 'inside.before-top' : 'inside.after-top', {
    stroke: text(`inside.stroke.${strokeOf(props.film, m)}`),
    degrees: Math.abs(off),
    burns: text(m.fires ? 'inside.burns' : 'inside.misses'),
  })
})
</script>

<template>
  <figure :class="{ small }">
    <svg viewBox="20 0 830 440" role="img" :aria-label="text('inside.cutaway', { says: words })">
      <FuelSide :family="family" :frame="frame" :second="second" />
      <BoreSide :frame="frame" :moment="moment" :way="way" :below="below" />
      <CylinderSide :film="film" :frame="frame" :moment="moment" />
    </svg>
    <figcaption class="figure">{{ cycle }}</figcaption>
    <ul v-if="small" class="figures">
      <li v-for="x in moment ? figures : []" :key="x" class="figure">{{ x }}</li>
    </ul>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  display: block;
  width: 100%;
}
.small :deep(text) {
  display: none;
}
.figures {
  list-style: none;
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2px 14px;
  margin: 6px 0 0;
  padding: 0;
  min-height: 72px;
  font-size: 16px;
}
figcaption {
  font: 600 16px var(--label);
  text-align: center;
}
</style>
