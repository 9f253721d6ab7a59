<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { places, text } from '@/words/words'

/** A run heard from beside it: how its speed went against time. */
const props = defineProps<{ trace: Schema['Sample'][] }>()

const end = computed(() => Math.max(1, ...props.trace.map((s) => s.minute)))
const top = computed(() => Math.max(1000, ...props.trace.map((s) => s.rpm)) * 1.1)
// The same in words: a few of its points as a table, for who does not see it.
const SAID = 12
const said = computed(() => {
  const every = Math.ceil(props.trace.length / SAID)
  return props.trace.filter((_, i) => i % every === 0 || i === props.trace.length - 1)
})
const line = computed(() =>
  props.trace
    .map(
      (s, i) =>
        `${i ? 'L' : 'M'}${(36 + (s.minute / end.value) * 310).toFixed(1)} ${(150 - (s.rpm / top.value) * 130).toFixed(1)}`,
    )
    .join(''),
)
</script>

<template>
  <svg viewBox="0 0 360 180" role="img" :aria-label="text('face.speed-time')">
    <path d="M36 10V150H350" class="axis" />
    <path :d="line" class="line" />
    <text x="36" y="170">0</text>
    <text x="346" y="170" class="end">{{ end < 10 ? places(end, 1) : Math.round(end) }} min</text>
    <text x="40" y="20">{{ text('face.speed') }}</text>
  </svg>
  <table class="sr-only">
    <caption>
      {{
        text('face.speed-time')
      }}
    </caption>
    <tr>
      <th scope="col">{{ text('state.minutes') }}</th>
      <th scope="col">{{ text('face.speed') }}</th>
    </tr>
    <tr v-for="s in said" :key="s.minute">
      <td>{{ places(s.minute, 1) }}</td>
      <td>{{ Math.round(s.rpm / 100) * 100 }}</td>
    </tr>
  </table>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-height: 170px;
}
.axis {
  fill: none;
  stroke: var(--muted);
}
.line {
  fill: none;
  stroke: var(--link);
  stroke-width: 3;
  stroke-linejoin: round;
}
text {
  font: 500 14px var(--label);
  fill: var(--muted);
}
.end {
  text-anchor: end;
}
</style>
