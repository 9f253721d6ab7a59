<script setup lang="ts">
import { mdiAlertCircleOutline, mdiDragVertical } from '@mdi/js'
import { useSortable } from '@vueuse/integrations/useSortable'
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import type { Schema } from '@/api/client'
import { nameOf, text } from '@/words/words'

/**
 * The steps in order. One is dragged by its grip with a mouse or a finger, or moved with
 * Alt and an arrow; the arrows alone go from one to the next.
 */
const props = defineProps<{
  steps: Schema['ProcedureStep'][]
  /** The place of the step in focus. */
  at: number
  row: number
  /** How many remarks each step has. */
  remarks: number[]
  serious: boolean[]
}>()
const emit = defineEmits<{ at: [place: number]; move: [from: number, to: number] }>()
const list = useTemplateRef<HTMLElement>('list')
const said = ref('')

const titles = computed(() => props.steps.map((s) => (s.test ? nameOf('test', s.test, 'title') : text('desk.no-test'))))
function move(from: number, to: number) {
  if (to < 0 || to >= props.steps.length || from === to) return
  said.value = text('desk.moved', { step: titles.value[from], place: to + 1 })
  emit('move', from, to)
}
const order = computed({
  get: () => props.steps.map((_, i) => i),
  set: (places) => {
    // The one that was dragged: every other keeps its neighbours.
    const from = places.find(
      (p, i) => places.filter((x) => x !== p).every((x, k, rest) => k === 0 || x > rest[k - 1]) && p !== i,
    )
    if (from !== undefined) move(from, places.indexOf(from))
  },
})
useSortable(list, order, { handle: '.grip', animation: 120, watchElement: true })

async function key(e: KeyboardEvent, i: number) {
  const by = { ArrowUp: -1, ArrowDown: 1 }[e.key]
  if (!by || e.ctrlKey || e.metaKey) return
  e.preventDefault()
  const to = i + by
  if (to < 0 || to >= props.steps.length) return
  if (e.altKey) move(i, to)
  else emit('at', to)
  await nextTick()
  list.value?.querySelectorAll<HTMLElement>('.step')[to]?.focus()
}
</script>

<template>
  <div>
    <ol ref="list" class="steps" :aria-label="text('desk.steps')">
      <li v-for="(s, i) in steps" :key="s.id" :style="{ height: `${row}px` }">
        <span class="grip" aria-hidden="true"><v-icon :icon="mdiDragVertical" size="22" /></span>
        <button
          type="button"
          class="step"
          :class="{ on: i === at }"
          :aria-current="i === at ? 'step' : undefined"
          :aria-label="
            text('desk.step-of', { place: i + 1, all: steps.length, step: titles[i] }) +
            (remarks[i] ? `, ${text('desk.remarks-of', { n: remarks[i] })}` : '')
          "
          :aria-keyshortcuts="'Alt+ArrowUp Alt+ArrowDown'"
          :tabindex="i === at ? 0 : -1"
          @click="emit('at', i)"
          @keydown="key($event, i)"
        >
          <b>{{ i + 1 }}</b><span class="title">{{ titles[i] }}</span>
          <v-icon
            v-if="remarks[i]"
            :class="{ serious: serious[i] }"
            class="flag"
            :icon="mdiAlertCircleOutline"
            size="18"
          />
        </button>
      </li>
    </ol>
    <span class="sr-only" role="status">{{ said }}</span>
  </div>
</template>

<style scoped>
.steps {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 26px minmax(0, 1fr);
  align-items: center;
  background: var(--panel);
}
.grip {
  display: grid;
  place-items: center;
  height: 100%;
  color: var(--muted);
  cursor: grab;
  touch-action: none;
}
.step {
  display: flex;
  align-items: center;
  gap: 7px;
  height: calc(100% - 5px);
  min-width: 0;
  padding: 0 9px;
  border: 1.5px solid var(--line);
  border-radius: 10px;
  background: var(--plaster);
  color: var(--ink);
  font: 600 16.5px/1.1 var(--label);
  text-align: left;
  cursor: pointer;
}
.step b {
  min-width: 15px;
  color: var(--muted);
  font-variant-numeric: tabular-nums;
}
.title {
  flex: 1;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.step.on {
  background: var(--deep);
  border-color: var(--deep);
  color: var(--panel);
}
.step.on b {
  color: inherit;
}
.flag {
  color: var(--suspect);
}
.flag.serious {
  color: var(--condemned);
}
.on .flag {
  color: inherit;
}
</style>
