<script setup lang="ts">
import '@/words/hear'
import { usePreferredReducedMotion } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import { text } from '@/words/words'
import { useRope, type Drawn } from './useRope'

/**
 * The rope of a starter, to be drawn by pointer, finger or key. Where it is drawn to feel it,
 * it holds as its machine holds and shows how; elsewhere only how fast it is drawn counts.
 */
const props = defineProps<{ rope?: Schema['Rope']; says: string; busy?: boolean }>()
const emit = defineEmits<{ drawn: [how: Drawn] }>()
/** Any rope, where nobody asks how it feels. */
const ANY: Schema['Rope'] = { holds: [0.2], end: 'back' }
const rope = computed(() => props.rope ?? ANY)
const how = ref<Drawn>()
function drawn(h: Drawn) {
  how.value = h
  emit('drawn', h)
}
const calm = usePreferredReducedMotion().value === 'reduce'
const { at, shown, grip, move, release, draw } = useRope(rope, drawn, calm)

const LEFT = 44
const LONG = 284
const x = (share: number) => LEFT + LONG * share
function share(e: PointerEvent) {
  const box = (e.currentTarget as Element).closest('svg')!.getBoundingClientRect()
  return (((e.clientX - box.left) / box.width) * 360 - LEFT) / LONG
}
function down(e: PointerEvent) {
  if (props.busy) return
  ;(e.currentTarget as Element).setPointerCapture(e.pointerId)
  grip()
  move(share(e))
}
/** What was felt, as far as it was drawn. */
const felt = computed(() => {
  const h = rope.value.holds
  const n = Math.max(1, Math.round(shown.value * (h.length - 1)))
  return h
    .slice(0, n + 1)
    .map((v, i) => `${i ? 'L' : 'M'}${x(i / (h.length - 1)).toFixed(1)} ${(112 - 88 * v).toFixed(1)}`)
    .join('')
})
</script>

<template>
  <figure :class="{ drawn: props.rope }">
    <svg :viewBox="props.rope ? '0 0 360 184' : '0 116 360 60'" role="img" :aria-label="says">
      <rect :y="props.rope ? 0 : 116" width="360" :height="props.rope ? 184 : 60" rx="10" fill="#22302e" />
      <path v-if="props.rope" d="M44 18V112H332" fill="none" stroke="#9fb0a6" stroke-width="1.5" />
      <path
        v-if="props.rope && shown"
        :d="felt"
        fill="none"
        stroke="#8fd9e0"
        stroke-width="3.5"
        stroke-linejoin="round"
      />
      <line :x1="LEFT" :x2="x(at)" y1="146" y2="146" stroke="#d9c9a3" stroke-width="5" stroke-linecap="round" />
      <circle :cx="LEFT - 14" cy="146" r="20" fill="#3c4d49" stroke="#9fb0a6" stroke-width="2" />
      <g
        class="grip"
        :transform="`translate(${x(at)} 146)`"
        @pointerdown="down"
        @pointermove="move(share($event))"
        @pointerup="release"
        @pointercancel="release"
      >
        <rect x="-26" y="-30" width="60" height="60" fill="transparent" />
        <rect x="-5" y="-22" width="17" height="44" rx="8" fill="#c9733f" stroke="#f0e2c8" stroke-width="2" />
      </g>
      <template v-if="props.rope">
        <text x="50" y="12" class="light start">{{ text('holds.pull-feel') }}</text>
        <text x="332" y="128" class="light end">{{ text('rope.out') }}</text>
      </template>
      <text v-else-if="at < 0.1" x="332" y="146" class="light end">{{ text('rope.this-way') }}</text>
    </svg>
    <figcaption v-if="props.rope" class="row wrap">
      <span class="grow" role="status">{{ says }}</span>
      <v-btn @click="draw">{{ text(how ? 'rope.again' : 'rope.draw') }}</v-btn>
    </figcaption>
  </figure>
</template>

<style scoped>
.grip {
  cursor: grab;
  touch-action: none;
}
.grip:active {
  cursor: grabbing;
}
text {
  font: 600 14px var(--label);
  fill: #dfe9e4;
  dominant-baseline: central;
  pointer-events: none;
}
.end {
  text-anchor: end;
}
figure {
  margin: 0;
}
figcaption {
  margin-top: 6px;
}
</style>
