<script setup lang="ts">
import { computed } from 'vue'
import { nameOf, text } from '@/words/words'
import MiniBoard from './MiniBoard.vue'
import { actWords, needOf, standsFor } from './needs'
import type { Bench } from './useFloor'

/** One bench of the floor: whose, how far, its board, and what is to know of it. */
const props = defineProps<{ bench: Bench; now: number; chosen?: boolean }>()
const emit = defineEmits<{ choose: [] }>()
/** A sign beside each colour, so that nothing hangs on the colour alone. */
const SIGNS = { unsafe: '▲', asks: '?', still: '◷', over: '!', stopped: '✕', paused: '‖', handed: '✓' } as Record<
  string,
  string
>

const need = computed(() => needOf(props.bench, props.now))
const line = computed(() => {
  const b = props.bench
  switch (need.value) {
    case 'unsafe':
      return nameOf('test', b.unsafe!.test, 'title')
    case 'asks':
      return `“${b.asks}”`
    case 'still':
      return text('office.floor.still', { minutes: standsFor(b, props.now) })
    case 'handed':
      return b.of ? text('office.floor.handed-mark', { mark: b.mark, of: b.of }) : text(`office.stands.${b.stands}`)
    case 'at-work':
      return b.last ? actWords(b.last) : text('office.stands.at-work')
    default:
      return text(need.value === 'paused' ? 'office.floor.paused' : `office.stands.${b.stands}`)
  }
})
</script>

<template>
  <button type="button" class="bench" :class="[need, { chosen }]" :aria-pressed="chosen" @click="emit('choose')">
    <span class="top">
      <b>{{ bench.display_name }}</b>
      <span class="figure">{{ text('office.floor.minutes', { minutes: Math.round(bench.minutes) }) }}</span>
    </span>
    <MiniBoard :family="bench.family" :marks="bench.marks" />
    <span class="line"
      ><span v-if="SIGNS[need]" class="sign" aria-hidden="true">{{ SIGNS[need] }}</span>
      <span v-if="need === 'unsafe'" class="sr-only">{{ text('office.floor.unsafe') }}</span> {{ line }}</span
    >
  </button>
</template>

<style scoped>
.bench {
  display: grid;
  gap: 5px;
  align-content: space-between;
  min-width: 0;
  padding: 5px 10px;
  border: 2px solid var(--line-soft);
  border-radius: 8px;
  background: color-mix(in srgb, var(--panel) 60%, var(--plaster));
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.top {
  display: flex;
  gap: 8px;
  align-items: baseline;
  justify-content: space-between;
}
.top b,
.line {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.top b {
  font: 600 17px/1.2 var(--label);
}
.top .figure {
  flex: none;
  font: 500 15px/1.2 var(--label);
}
.line {
  font-size: 13.5px;
  color: var(--muted);
}
.sign {
  font-weight: 700;
}
.unsafe {
  border-color: var(--condemned);
  background: var(--condemned-bg);
}
.unsafe .line {
  color: var(--condemned-ink);
  font-weight: 600;
}
.still,
.over {
  border-color: var(--suspect);
  background: var(--suspect-bg);
}
.still .line,
.over .line {
  color: var(--suspect-ink);
}
.asks {
  border-color: var(--water-2);
}
.asks .line,
.handed .line {
  color: var(--ink);
}
.stopped,
.paused {
  border-style: dashed;
  border-color: var(--gate);
}
.chosen {
  outline: 3px solid var(--deep);
  outline-offset: 1px;
}
.bench:focus-visible {
  outline: 3px solid var(--link);
  outline-offset: 2px;
}
</style>
