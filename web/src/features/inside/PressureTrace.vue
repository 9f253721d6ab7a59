<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { text } from '@/words/words'
import { momentOf, STEP } from './cycle'

/** Pressure in the cylinder through a cycle, by the degrees of the crank, and where the crank is in it; of one machine or two. */
const props = defineProps<{ films: Schema['Film'][]; frames: Schema['Frame'][]; second: number }>()
const WIDE = 264
const HIGH = 110
const degrees = computed(() => props.films[0].degrees)
const moments = computed(() => props.films.map((f, i) => momentOf(f, props.frames[i], props.second)))
const curve = (m: NonNullable<(typeof moments.value)[number]>) => (m.fires ? m.turn.fires : m.turn.misses)
/** One scale for both, and for all of their cycles, so that they can be told apart by eye. */
const most = computed(() => Math.max(1500, ...props.films.flatMap((f) => f.turns.flatMap((t) => t.fires))))
const x = (d: number) => 6 + (d / degrees.value) * (WIDE - 12)
const y = (kpa: number) => HIGH - 6 - (Math.max(0, kpa) / most.value) * (HIGH - 16)
const lines = computed(() =>
  moments.value.map((m) =>
    m
      ? {
          path: curve(m)
            .map((p, i) => `${i ? 'L' : 'M'}${x(i * STEP).toFixed(1)} ${y(p).toFixed(1)}`)
            .join(''),
          at: x(m.degree),
          spark: x(m.turn.spark_at),
        }
      : undefined,
  ),
)
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${WIDE} ${HIGH}`" role="img" :aria-label="text('inside.pressure-trace')">
      <path :d="`M6 ${HIGH - 6}H${WIDE - 6}M${x(films[0].top)} 6V${HIGH - 6}`" class="axis" />
      <template v-for="(l, i) in lines" :key="i">
        <g v-if="l" :class="i ? 'sound' : 'sick'">
          <path :d="l.path" class="line" />
          <path :d="`M${l.spark} 8l-4 9h5l-3 9`" class="spark" />
          <path v-if="!i" :d="`M${l.at} 6V${HIGH - 6}`" class="now" />
        </g>
      </template>
    </svg>
    <figcaption class="small muted">
      {{ text('inside.pressure-trace')
      }}<template v-if="films.length > 1">. {{ text('inside.dashed-is-sound') }}</template>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  display: block;
  width: 100%;
  max-height: 130px;
}
.axis {
  stroke: var(--line);
  fill: none;
}
.line {
  fill: none;
  stroke: var(--link);
  stroke-width: 2.5;
}
.spark {
  fill: none;
  stroke: var(--condemned);
  stroke-width: 2;
}
.now {
  stroke: var(--condemned);
  stroke-width: 1.5;
}
.sound .line {
  stroke: var(--muted);
  stroke-dasharray: 6 4;
}
.sound .spark {
  stroke: var(--muted);
}
</style>
