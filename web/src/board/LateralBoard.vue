<script setup lang="ts">
import { mdiCloseThick, mdiHelp } from '@mdi/js'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { text } from '@/words/words'
import { arrives, lanes, MARKS, said, walk, type Lateral, type Mark, type Marks, type Reach } from './marks'

/**
 * The four channels from source to cylinder. The same component marks, hides,
 * plays back and shows; it holds no state of its own but the focus.
 */
const props = defineProps<{
  laterals: Lateral[]
  reaches: Reach[]
  marks: Marks
  /** The reach in focus. */
  at?: string
  /** Only to be looked at. */
  still?: boolean
  /** Smaller, for a pair side by side. */
  small?: boolean
  /** Without the count of what arrives. */
  dry?: boolean
  label?: string
  /** Reaches that something elsewhere bears on. */
  lit?: string[]
  /** A line under a lateral's name. */
  notes?: Record<string, string>
}>()
const emit = defineEmits<{ at: [reach: string]; mark: [reach: string, mark: Mark]; through: [reach: string] }>()

const rows = computed(() => lanes(props.laterals, props.reaches))
const here = computed(() => props.at ?? rows.value[0]?.reaches[0]?.id)
const count = computed(() => rows.value.filter((r) => arrives(r.reaches, props.marks)).length)
const root = useTemplateRef<HTMLElement>('root')
// What has changed is said, however it was marked.
const announced = ref('')
watch(
  () => ({ ...props.marks }),
  (now, was) => {
    if (props.still) return
    const changed = props.reaches.filter((r) => (now[r.id] ?? '') !== (was[r.id] ?? ''))
    if (changed.length) announced.value = changed.map((r) => `${r.name}: ${said(now[r.id])}`).join(', ')
  },
)

async function key(e: KeyboardEvent, id: string) {
  if (e.ctrlKey || e.metaKey || e.altKey) return
  const to = walk(rows.value, id, e.key)
  if (to !== id || e.key.startsWith('Arrow')) {
    e.preventDefault()
    emit('at', to)
    await nextTick()
    root.value?.querySelector<HTMLElement>(`[data-reach="${to}"]`)?.focus()
    return
  }
  const mark = MARKS.find((m) => m.key === e.key.toLowerCase())
  if (!mark || props.still) return
  e.preventDefault()
  if (mark.mark === 'clear' && e.shiftKey) emit('through', id)
  else emit('mark', id, mark.mark)
}
</script>

<template>
  <div ref="root" class="board" :class="{ small, still }" role="group" :aria-label="label ?? text('board.name')">
    <div class="lanes">
      <div v-for="row in rows" :key="row.id" class="lane" role="group" :aria-label="row.name">
        <div class="head">
          <h3>{{ row.name }}</h3>
          <span v-if="notes?.[row.id]" class="note">{{ notes[row.id] }}</span>
        </div>
        <ul class="channel">
          <li
            v-for="r in row.reaches"
            :key="r.id"
            :class="[marks[r.id] || 'dry', { beside: r.beside, lit: lit?.includes(r.id) }]"
          >
            <component
              :is="still ? 'div' : 'button'"
              class="bed"
              :class="{ here: !still && r.id === here }"
              :type="still ? undefined : 'button'"
              :data-reach="r.id"
              :title="small ? `${r.name}: ${said(marks[r.id])}` : undefined"
              :tabindex="still ? undefined : r.id === here ? 0 : -1"
              :aria-label="
                still
                  ? undefined
                  : `${r.name}, ${said(marks[r.id])}${lit?.includes(r.id) ? `, ${text('bench.lit')}` : ''}`
              "
              :aria-current="!still && r.id === here ? 'true' : undefined"
              @click="!still && emit('at', r.id)"
              @keydown="!still && key($event, r.id)"
            >
              <span class="plate">
                <span class="name">{{ r.name }}</span>
                <span v-if="still" class="sr-only">, {{ said(marks[r.id]) }}</span>
                <v-icon v-if="marks[r.id] === 'suspect'" :icon="mdiHelp" size="15" aria-hidden="true" />
                <v-icon v-if="marks[r.id] === 'condemned'" :icon="mdiCloseThick" size="15" aria-hidden="true" />
              </span>
            </component>
            <span class="gate" aria-hidden="true"><i></i></span>
          </li>
        </ul>
        <div class="mouth" :class="{ wet: arrives(row.reaches, marks) }" aria-hidden="true"></div>
      </div>
    </div>
    <div class="basin">
      <p class="figure">
        <template v-if="!dry">{{ text('board.arrive', { n: count, all: rows.length }) }}</template>
      </p>
      <svg viewBox="0 0 80 150" aria-hidden="true">
        <path d="M8 0v92M72 0v92" class="wall" />
        <rect x="12" y="26" width="56" height="44" rx="4" class="piston" />
        <path d="M12 35h56M12 43h56" class="ring" />
        <path d="M36 62h8l4 62h-16z" class="piston" />
        <circle cx="40" cy="128" r="14" class="crank" />
        <rect
          v-for="(row, i) in rows"
          :key="row.id"
          :x="14 + i * 14"
          y="4"
          width="10"
          height="14"
          rx="2"
          :class="arrives(row.reaches, marks) ? 'in' : 'out'"
        />
      </svg>
    </div>
    <span class="sr-only" role="status">{{ announced }}</span>
  </div>
</template>

<style scoped>
.board {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 72px;
  min-height: 0;
}
.lanes {
  display: grid;
  grid-auto-rows: 1fr;
  gap: 10px;
  min-height: 0;
}
.lane {
  display: grid;
  grid-template-columns: 86px minmax(0, 1fr) 12px;
  align-items: stretch;
  min-height: 62px;
}
.head {
  align-self: center;
  min-width: 0;
  padding-right: 8px;
}
.head h3 {
  font-size: 16.5px;
}
.note {
  font: 500 14px/1.15 var(--label);
  color: var(--muted);
}
.channel {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  min-width: 0;
  border-block: 4px solid var(--bank);
  border-radius: 3px;
}
.channel li {
  position: relative;
  flex: 1 1 0;
  min-width: 0;
  display: flex;
}
.bed {
  flex: 1;
  min-width: 0;
  border: 0;
  padding: 0 5px 0 1px;
  display: grid;
  place-items: center;
  font: 600 13.5px/1.05 var(--label);
  color: var(--ink);
  background-color: var(--dry);
  background-image: radial-gradient(var(--dry-dot) 1.1px, transparent 1.3px);
  background-size: 9px 9px;
  background-repeat: repeat;
}
button.bed {
  cursor: pointer;
}
.plate {
  display: grid;
  justify-items: center;
  gap: 2px;
  max-width: 100%;
  padding: 2px;
  border-radius: 5px;
}
.dry .plate {
  background: color-mix(in srgb, var(--dry) 88%, transparent);
}
.name {
  overflow-wrap: anywhere;
  hyphens: auto;
}
.clear .bed {
  color: #fff;
  background-color: #17606c;
  background-image:
    url('data:image/svg+xml;utf8,<svg xmlns="http://www.w3.org/2000/svg" width="36" height="13"><path d="M0 7q9-6 18 0t18 0" fill="none" stroke="white" stroke-opacity=".34" stroke-width="1.6"/></svg>'),
    linear-gradient(#1f7885, #155663);
  background-size:
    36px 13px,
    100% 100%;
  animation: run-on 0.9s ease-out;
}
.clear .plate {
  background: rgb(18 82 94 / 0.86);
}
@keyframes run-on {
  from {
    background-position:
      -72px 0,
      0 0;
    clip-path: inset(0 100% 0 0);
  }
}
.suspect .bed {
  color: var(--suspect-ink);
  background: repeating-linear-gradient(-45deg, var(--suspect) 0 4px, var(--suspect-bg) 4px 11px);
}
.suspect .plate {
  background: var(--suspect-bg);
}
.condemned .bed {
  color: var(--condemned-ink);
  background:
    repeating-linear-gradient(45deg, var(--condemned) 0 3px, transparent 3px 12px),
    repeating-linear-gradient(-45deg, var(--condemned) 0 3px, var(--condemned-bg) 3px 12px);
}
.condemned .plate {
  background: var(--condemned-bg);
}
/* What a line of the ledger bears on. */
.lit .bed {
  box-shadow: inset 0 0 0 4px var(--good);
}
/* A gate stands down in the channel until what lies before it is proved. */
.gate {
  position: absolute;
  z-index: 1;
  right: -4px;
  top: -9px;
  bottom: -9px;
  width: 8px;
  pointer-events: none;
}
.gate i {
  position: absolute;
  inset: 13px 0 13px;
  background: var(--gate);
  border-radius: 1px;
}
.gate::before {
  content: '';
  position: absolute;
  left: 2.5px;
  width: 3px;
  inset-block: 2px;
  background: var(--gate);
}
.clear .gate i {
  inset: 0 -4px auto;
  height: 9px;
  border-radius: 3px;
  background: var(--ink);
}
.clear .gate::before {
  background: var(--ink);
}
.here {
  position: relative;
  z-index: 2;
  outline: 3px solid var(--ink);
  outline-offset: -1px;
  border-radius: 4px;
}
.bed:focus-visible {
  z-index: 3;
  outline: 3px solid var(--suspect);
  outline-offset: 1px;
}
/* Ponds: what stands beside a lateral has its place at the end, and no gate. */
.beside {
  margin-left: 5px;
  flex-grow: 0.9 !important;
}
.beside .bed {
  border-radius: 9px;
  padding: 0 1px;
}
.beside .plate {
  padding: 2px 1px;
}
.beside .gate {
  display: none;
}
.mouth {
  margin: 4px 0 4px 3px;
  background: var(--dry);
}
.mouth.wet {
  background: #1f7885;
}
.basin {
  border: 3px solid var(--ink);
  border-radius: 14px;
  display: grid;
  grid-template-rows: auto 1fr;
  justify-items: center;
  padding: 12px 4px 8px;
  text-align: center;
  min-height: 0;
}
.basin p {
  font-size: 16px;
  line-height: 1.1;
}
.basin svg {
  height: 100%;
  max-height: 190px;
  width: 100%;
  align-self: end;
}
.wall {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
}
.piston {
  fill: var(--gate);
}
.ring {
  stroke: var(--panel);
  stroke-width: 3;
}
.crank {
  fill: var(--panel);
  stroke: var(--gate);
  stroke-width: 7;
}
.in {
  fill: #1f7885;
}
.out {
  fill: var(--dry-dot);
}
.small {
  grid-template-columns: 1fr;
}
.small .basin {
  display: none;
}
.small .lanes {
  padding-top: 8px;
}
.small .lanes {
  gap: 9px;
}
.small .lane {
  grid-template-columns: 92px 1fr 8px;
  min-height: 40px;
}
.small .head h3 {
  font-size: 15px;
}
.small .bed {
  font-size: 12.5px;
  padding: 0 5px 0 2px;
}
.small .plate {
  padding: 1px 3px;
  z-index: 2;
}
/* Too small for every name: only what is accused is named. */
.small .dry .name,
.small .clear .name {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}
.small .dry .plate,
.small .clear .plate {
  background: none;
}
.small .suspect .bed,
.small .condemned .bed {
  overflow: visible;
}
.small .name {
  hyphens: manual;
  overflow-wrap: normal;
}
.small .gate {
  top: -6px;
  bottom: -6px;
}
/* On a phone the board stands up: four columns, water running down. */
@media (max-width: 640px) {
  .board {
    grid-template-columns: 1fr;
  }
  .basin {
    display: none;
  }
  .lanes {
    grid-template-columns: repeat(4, 1fr);
    grid-auto-rows: auto;
    gap: 8px;
  }
  .lane,
  .small .lane {
    grid-template-columns: 1fr;
    grid-template-rows: auto 1fr 10px;
  }
  .head {
    padding: 0 0 6px;
    min-height: 44px;
  }
  .channel {
    flex-direction: column;
    border-block: 0;
    border-inline: 4px solid var(--bank);
  }
  .channel li {
    min-height: 48px;
  }
  .bed {
    padding: 0 1px 6px;
    font-size: 13px;
  }
  .plate {
    padding: 2px 1px;
  }
  .gate {
    top: auto;
    left: -8px;
    right: -8px;
    bottom: -4px;
    width: auto;
    height: 8px;
  }
  .gate i {
    inset: 0 12px;
  }
  .gate::before {
    inset: 2.5px 0;
    width: auto;
    height: 3px;
  }
  .clear .gate i {
    inset: -3px auto -3px 0;
    height: auto;
    width: 9px;
  }
  .mouth {
    margin: 3px 4px 0;
  }
}
</style>
