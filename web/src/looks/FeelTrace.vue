<script setup lang="ts">
import { computed } from 'vue'
import { has, text } from '@/words/words'

/** What the hand feels against time: a rope, a thumb, a bulb, a breath. */
const props = defineProps<{ test: string; scene: string }>()

/** Resistance from 0 to 1 at a moment from 0 to 1. */
const shapes: Record<string, (t: number) => number> = {
  // the rope
  'pull-feel.none': () => 0.05,
  'pull-feel.soft': (t) => 0.12 + 0.2 * Math.max(0, Math.sin(t * 19)) ** 2,
  'pull-feel.strong': (t) => 0.12 + 0.82 * Math.max(0, Math.sin(t * 19)) ** 6,
  'pull-feel.drags': (t) => 0.6 + 0.1 * Math.max(0, Math.sin(t * 19)) ** 2,
  'pull-feel.locked': (t) => Math.min(1, t * 9),
  // the thumb over the hole
  'thumb-hole.none': () => 0.04,
  'thumb-hole.weak': (t) => 0.28 * Math.max(0, Math.sin(t * 19)) ** 3,
  'thumb-hole.pushes-off': (t) => 0.95 * Math.max(0, Math.sin(t * 19)) ** 3,
}
const passing: Record<string, number> = {
  passes: 0.12,
  fills: 0.15,
  stiff: 0.55,
  hard: 0.75,
  blocked: 0.98,
  drilled: 0.03,
  split: 0.06,
  tight: 0.95,
  moves: 0.25,
  strong: 0.95,
  weak: 0.22,
}
const f = computed(
  () => shapes[`${props.test}.${props.scene}`] ?? ((t: number) => Math.min(t * 5, 1) * (passing[props.scene] ?? 0.5)),
)
const path = computed(() => {
  let d = 'M40 150'
  for (let i = 0; i <= 120; i++) d += `L${(40 + i * 2.4).toFixed(1)} ${(150 - 118 * f.value(i / 120)).toFixed(1)}`
  return d
})
const holds = computed(() => text(has(`holds.${props.test}`) ? `holds.${props.test}` : 'holds.bulb'))
</script>

<template>
  <rect x="0" y="0" width="360" height="184" rx="10" fill="#22302e" />
  <path d="M40 22V150H336" fill="none" stroke="#9fb0a6" stroke-width="1.5" />
  <path :d="`${path}L328 150Z`" fill="#57aeb4" opacity="0.25" />
  <path :d="path" fill="none" stroke="#8fd9e0" stroke-width="3.5" stroke-linejoin="round" />
  <text x="48" y="13" class="light start">{{ holds }}</text>
  <text x="334" y="172" class="light end">{{ text('face.time') }}</text>
</template>
