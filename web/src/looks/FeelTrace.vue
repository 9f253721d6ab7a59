<script setup lang="ts">
import { computed } from 'vue'
import type { Seen } from './seen'
import { has, text } from '@/words/words'

/** How hard something holds against the hand over time: a thumb, a bulb, a breath. */
const props = defineProps<{ test: string; seen: Seen }>()

/** From 0 to 1 at a moment from 0 to 1. */
function held(t: number): number {
  const { holds, returns } = props.seen
  if (props.test === 'thumb-hole') return Math.max(0.03, holds) * Math.max(0, Math.sin(t * 19)) ** 3
  const pressed = Math.min(t * 5, 1) * holds
  // What is pressed in stands against the hand, and as it is let go comes back, or does not.
  return returns === undefined || t < 0.5 ? pressed : pressed + (1 - returns) * 0.4 * Math.min(1, (t - 0.5) * 4)
}
const path = computed(() => {
  let d = 'M40 150'
  for (let i = 0; i <= 120; i++)
    d += `L${(40 + i * 2.4).toFixed(1)} ${(150 - 118 * Math.min(1, held(i / 120))).toFixed(1)}`
  return d
})
const holds = computed(() => text(has(`holds.${props.test}`) ? `holds.${props.test}` : 'holds.bulb'))
</script>

<template>
  <rect width="360" height="184" rx="10" fill="#22302e" />
  <path d="M40 22V150H336" fill="none" stroke="#9fb0a6" stroke-width="1.5" />
  <path :d="`${path}L328 150Z`" fill="#57aeb4" opacity="0.25" />
  <path :d="path" fill="none" stroke="#8fd9e0" stroke-width="3.5" stroke-linejoin="round" />
  <!-- what gives way as it is pressed, and where: a crack, a new hole -->
  <g v-if="seen.leaks || seen.bored" fill="none" stroke="#e9a26a" stroke-width="3">
    <path v-for="i in 4" :key="i" :d="`M${70 + i * 56} 140q8-14 0-26t4-24`" />
  </g>
  <path v-if="seen.seal" :d="`M44 146H328`" stroke="#e9a26a" :stroke-width="3 + 8 * seen.seal" opacity="0.7" />
  <text x="48" y="13" class="light start">{{ holds }}</text>
  <text x="334" y="172" class="light end">{{ text('face.time') }}</text>
</template>
