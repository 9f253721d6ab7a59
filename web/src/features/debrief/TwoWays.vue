<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { nameOf, text } from '@/words/words'

/** The way that was taken, and under it the way of somebody competent, by the same minutes. */
const { of, at, step } = defineProps<{
  of: Schema['Assessment']
  at: number
  step: (p: Schema['Point']) => string
}>()
const emit = defineEmits<{ at: [index: number] }>()

type Piece = { kind: string; from: number; minutes: number; says: string; index: number }

function kindOf(p: Schema['Point']) {
  if (p.seq === of.hand_over.proof_seq) return 'proof'
  return p.step.kind === 'repair' ? 'work' : p.step.kind === 'take' ? 'test' : 'care'
}
const theirs = computed<Piece[]>(() =>
  of.points.slice(1).map((p, i) => ({
    kind: kindOf(p),
    from: of.points[i].minutes,
    minutes: p.minutes - of.points[i].minutes,
    says: step(p),
    index: i + 1,
  })),
)
const reference = computed<Piece[]>(() => {
  let from = 0
  return of.economy.reference.map((s) => {
    const piece = {
      kind: s.repair ? 'work' : s.proof ? 'proof' : 'test',
      from,
      minutes: s.minutes,
      says: s.test ? nameOf('test', s.test, 'title') : text('line.repair', { repair: s.repair, reach: s.reach }),
      index: -1,
    }
    from += s.minutes
    return piece
  })
})
const most = computed(() =>
  Math.max(of.minutes, of.economy.reference_minutes, ...reference.value.map((p) => p.from + p.minutes), 1),
)
const share = (n: number) => `${(100 * n) / most.value}%`
const ways = computed(() => [
  { id: 'yours', pieces: theirs.value, minutes: of.economy.minutes },
  { id: 'reference', pieces: reference.value, minutes: reference.value.reduce((s, p) => s + p.minutes, 0) },
])
/** A name stands in its piece where there is room for some of it. */
const ROOM = 0.06
</script>

<template>
  <div class="ways">
    <template v-for="w in ways" :key="w.id">
      <span class="who">{{ text(`debrief.way-${w.id}`) }}</span>
      <ol :aria-label="text(`debrief.way-${w.id}`)">
        <li
          v-for="(p, i) in w.pieces"
          :key="i"
          :class="[p.kind, { here: p.index === at }]"
          :style="{ left: share(p.from), width: share(p.minutes) }"
          :title="text('debrief.piece', { says: p.says, minutes: Math.round(p.minutes * 10) / 10 })"
          @click="p.index >= 0 && emit('at', p.index)"
        >
          <span :class="{ 'sr-only': p.minutes / most < ROOM }">{{ p.says }}</span>
        </li>
      </ol>
      <span class="figure">{{ text('tray.minutes', { minutes: Math.round(w.minutes) }) }}</span>
    </template>
    <span></span>
    <p class="key muted small no-print">
      <span v-for="k in ['test', 'work', 'proof', 'care']" :key="k"
        ><i :class="k" aria-hidden="true"></i>{{ text(`debrief.piece-${k}`) }}</span
      >
    </p>
  </div>
</template>

<style scoped>
.ways {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) 64px;
  gap: 8px 12px;
  align-items: center;
  margin-top: 12px;
}
.who {
  font: 600 16px/1 var(--label);
}
ol {
  position: relative;
  height: 30px;
  margin: 0;
  padding: 0;
  list-style: none;
  background: var(--plaster);
  border-radius: 6px;
  overflow: hidden;
}
li {
  position: absolute;
  inset-block: 0;
  padding: 7px 5px 0;
  border-right: 2px solid var(--panel);
  font: 500 14.5px/1.1 var(--label);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.test {
  background: color-mix(in srgb, var(--water-2) 28%, var(--panel));
  color: var(--ink);
}
.work {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.proof {
  background: var(--good-bg);
  color: var(--good);
}
.care {
  background: var(--dry);
  color: var(--ink);
}
.here {
  box-shadow: inset 0 -4px var(--condemned);
}
.figure {
  text-align: right;
}
.key {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin: 0;
}
.key i {
  display: inline-block;
  width: 14px;
  height: 14px;
  border-radius: 3px;
  margin-right: 6px;
  vertical-align: -2px;
}
</style>
