<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { figure, text } from '@/words/words'
import { timeEffect, traps } from './said'

/** How hard it is: the level, and each part of it. */
const props = defineProps<{ of: Schema['ScenarioCheck']['difficulty'] }>()
const LEVELS = 5
/** Each part with the share of its bar: full is what hardly any job goes beyond. */
const parts = computed(() => {
  const d = props.of
  const share = (v: number, most: number) => Math.min(v / most, 1)
  return [
    { id: 'bits', share: share(d.bits, 6), value: text('scene.bits-of', { n: figure(d.bits) }) },
    {
      id: 'rate',
      share: share(1 / Math.max(d.best_bits_per_minute, 0.1), 5),
      value: text('scene.rate-of', { n: figure(d.best_bits_per_minute) }),
    },
    { id: 'others', share: share(d.explanations, 50), value: String(d.explanations) },
    { id: 'traps', share: share(d.traps.length, 5), value: traps(d.traps) || text('scene.none') },
    {
      id: 'time',
      share: share(d.time_effects.length, 3),
      value: d.time_effects.map(timeEffect).join(', ') || text('scene.none'),
    },
    { id: 'faults', share: share(d.faults - 1, 2), value: String(d.faults) },
    { id: 'also', share: share(d.distractors, 3), value: d.distractors ? String(d.distractors) : text('scene.none') },
  ]
})
</script>

<template>
  <div class="level">
    <span class="boxes" aria-hidden="true"><i v-for="n in LEVELS" :key="n" :class="{ on: n <= of.level }"></i></span>
    <b class="figure">{{ text('scene.level', { n: of.level }) }}</b>
  </div>
  <dl>
    <div v-for="p in parts" :key="p.id">
      <dt>{{ text(`scene.${p.id}`) }}</dt>
      <dd>
        <span class="bar" aria-hidden="true"><i :style="{ width: `${p.share * 100}%` }"></i></span>
        <span>{{ p.value }}</span>
      </dd>
    </div>
  </dl>
</template>

<style scoped>
.level {
  display: flex;
  align-items: center;
  gap: 12px;
}
.boxes {
  display: flex;
  gap: 5px;
}
.boxes i {
  width: 26px;
  height: 17px;
  border-radius: 4px;
  background: var(--line-soft);
}
.boxes .on {
  background: var(--deep);
}
dl {
  display: grid;
  gap: 5px;
  margin: 0;
}
dl > div {
  display: grid;
  grid-template-columns: 132px minmax(0, 1fr);
  gap: 10px;
}
dt {
  color: var(--muted);
}
dd {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  gap: 10px;
  margin: 0;
  line-height: 1.25;
}
.bar {
  height: 8px;
  margin-top: 6px;
  border-radius: 4px;
  background: var(--line-soft);
  overflow: hidden;
}
.bar i {
  display: block;
  height: 100%;
  background: var(--water-2);
}
</style>
