<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import TermedText from '@/words/TermedText.vue'

/** What can be done next: tests at the reach in focus and beyond, work, covers, and letting it stand. */
const props = defineProps<{
  family: Schema['Family']
  bench: Schema['Bench']
  at: string
  chosen?: string
  busy?: boolean
}>()
const emit = defineEmits<{ choose: [test: string]; event: [event: Schema['Event']] }>()

const tabs = ['Tests', 'Work', 'Covers', 'Care', 'Wait'] as const
const tab = ref<(typeof tabs)[number]>('Tests')
const find = ref('')
// In a guided job the bench says what would tell most, for as long as nothing new is known.
const next = ref<Schema['NextTest'][]>([])
const asking = ref(false)
const hint = ref('')
async function askNext() {
  asking.value = true
  hint.value = ''
  try {
    next.value = await ask(api.GET('/api/attempts/{attempt}/next', { params: { path: { attempt: props.bench.id } } }))
    if (next.value.length === 0) hint.value = 'No test would tell much now: repair, or prove.'
  } catch (e) {
    hint.value = `${(e as Refusal).what}.`
  } finally {
    asking.value = false
  }
}
watch(
  () => props.bench.seq,
  () => ((next.value = []), (hint.value = '')),
)
const tells = (id: string) => next.value.find((n) => n.test === id)
const reach = computed(() => props.family.reaches.find((r) => r.id === props.at))
const access = computed(() => Object.fromEntries(props.bench.tray.map((t) => [t.test, t.access_minutes])))
const tests = computed(() => {
  const words = find.value.trim().toLowerCase().split(/\s+/)
  // What the tray does not list, this machine has not.
  return props.family.tests.filter((t) => t.id in access.value && words.every((w) => t.title.toLowerCase().includes(w)))
})
const near = computed(() => {
  if (find.value) return tests.value
  if (next.value.length) return next.value.flatMap((n) => tests.value.filter((t) => t.id === n.test))
  return tests.value.filter((t) => t.reaches.includes(props.at))
})
const far = computed(() => (find.value ? [] : tests.value.filter((t) => !near.value.includes(t))))
// A part can be the maker's or a copy, where one is fitted.
const grade = ref<'maker' | 'copy'>('maker')
const price = (w: { cost: number; copy_cost?: number }) => (grade.value === 'copy' ? (w.copy_cost ?? w.cost) : w.cost)
const work = computed(() =>
  props.family.repairs
    .filter((r) => r.reach === props.at && !(r.verdict && props.bench.proper_only))
    .map((r) => ({ ...r, id: r.act, name: props.family.acts.find((a) => a.id === r.act)!.name })),
)
const minutes = (n: number) => `${Math.round(n * 10) / 10} min`
const asked = ref('')
const cards = useTemplateRef<HTMLElement>('cards')
watch(
  () => props.at,
  () => {
    asked.value = ''
    cards.value?.scrollTo({ top: 0 })
  },
)

function repair(act: string) {
  if (asked.value !== act) {
    asked.value = act
    return
  }
  asked.value = ''
  const e: Schema['Event'] = { kind: 'repair', repair: act, reach: props.at }
  if (act === 'replace') e.grade = grade.value
  emit('event', e)
}
</script>

<template>
  <section class="panel tray" aria-label="What to do next">
    <div class="bar">
      <h2><TermedText :text="reach?.name ?? ''" /></h2>
      <div class="tabs" role="tablist" aria-label="Kind of act">
        <button
          v-for="t in tabs"
          :key="t"
          type="button"
          role="tab"
          class="tab"
          :aria-selected="tab === t"
          @click="tab = t"
        >
          {{ t }}
        </button>
      </div>
      <span class="grow"></span>
      <div v-if="tab === 'Work'" class="grade" role="radiogroup" aria-label="Grade of part">
        <button
          v-for="g in ['maker', 'copy'] as const"
          :key="g"
          type="button"
          role="radio"
          class="key"
          :aria-checked="grade === g"
          @click="grade = g"
        >
          {{ g === 'maker' ? 'maker’s part' : 'copy' }}
        </button>
      </div>
      <button
        v-if="tab === 'Tests' && bench.mode === 'guided'"
        type="button"
        class="key"
        :aria-pressed="next.length > 0"
        :disabled="busy || asking"
        @click="next.length ? (next = []) : askNext()"
      >
        {{ asking ? 'Weighing …' : 'What tells most?' }}
      </button>
      <label v-if="tab === 'Tests'" class="find">
        <span class="sr-only">Find a test</span>
        <input id="find-test" v-model="find" class="plain" type="search" placeholder="Find a test" autocomplete="off" />
      </label>
    </div>
    <div v-if="tab === 'Tests'" ref="cards" class="cards" tabindex="0" role="group" aria-label="Tests">
      <template v-for="(group, i) in [near, far]" :key="i">
        <span v-if="i === 1 && near.length && far.length" class="split" aria-hidden="true"></span>
        <button
          v-for="t in group"
          :key="t.id"
          type="button"
          class="card"
          :class="{ on: chosen === t.id, near: i === 0 }"
          :aria-pressed="chosen === t.id"
          :disabled="busy"
          @click="emit('choose', t.id)"
        >
          <b>{{ t.title }}</b>
          <span
            >{{ t.long ? 'up to you' : minutes(t.minutes)
            }}<template v-if="access[t.id]"> + {{ access[t.id] }} covers</template
            ><template v-if="tells(t.id)">, takes {{ Math.round(tells(t.id)!.halves * 100) }} % off</template></span
          >
        </button>
      </template>
      <p v-if="hint" class="muted note" role="status">{{ hint }}</p>
      <p v-if="near.length + far.length === 0" class="muted">No test is called that. Clear the search to see all.</p>
    </div>
    <div v-else-if="tab === 'Work'" class="cards" tabindex="0" role="group" aria-label="Work at this reach">
      <button
        v-for="w in work"
        :key="w.id"
        type="button"
        class="card near"
        :class="{ ask: asked === w.id, makeshift: w.verdict }"
        :disabled="busy"
        @click="repair(w.id)"
      >
        <b>{{ asked === w.id ? `${w.name}: sure?` : w.verdict ? w.name : `${w.name} ${reach?.name.toLowerCase()}` }}</b>
        <span
          ><template v-if="w.verdict">makeshift, </template>{{ minutes(w.minutes)
          }}{{ w.cost ? `, ${price(w).toFixed(2)} in parts` : '' }}</span
        >
      </button>
      <p class="muted small note">A part that was sound costs its money all the same.</p>
    </div>
    <div v-else-if="tab === 'Covers'" class="cards" tabindex="0" role="group" aria-label="Covers">
      <button
        v-for="c in family.covers"
        :key="c.id"
        type="button"
        class="card near wide"
        :aria-pressed="bench.open.includes(c.id)"
        :disabled="busy"
        @click="emit('event', { kind: 'cover', cover: c.id, off: !bench.open.includes(c.id) })"
      >
        <b>{{ c.name }}</b>
        <span>{{ bench.open.includes(c.id) ? 'is off; put it back' : `is on. ${c.note}` }}</span>
      </button>
    </div>
    <div v-else-if="tab === 'Care'" class="cards" tabindex="0" role="group" aria-label="Precautions and other acts">
      <button
        v-for="x in family.actions"
        :key="x.id"
        type="button"
        class="card"
        :class="{ near: !bench.taken.includes(x.id) }"
        :disabled="busy"
        @click="emit('event', { kind: 'do', do: x.id })"
      >
        <b>{{ x.name }}</b>
        <span>{{
          bench.taken.includes(x.id)
            ? x.id === 'block-driven'
              ? 'is in; take it out'
              : 'done; do it again'
            : x.minutes
              ? minutes(x.minutes)
              : 'as long as it takes'
        }}</span>
      </button>
    </div>
    <div v-else class="cards" tabindex="0" role="group" aria-label="Let it stand">
      <button
        v-for="m in [1, 5, 15, 60]"
        :key="m"
        type="button"
        class="card near"
        :disabled="busy"
        @click="emit('event', { kind: 'wait', minutes: m })"
      >
        <b>Let it stand {{ m }} min</b>
        <span>it cools, dries, and breathes</span>
      </button>
    </div>
  </section>
</template>

<style scoped>
.grade {
  display: flex;
  gap: 6px;
}
.tray {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 6px;
  padding: 6px 12px 8px;
  min-width: 0;
}
.bar {
  display: flex;
  align-items: center;
  gap: 8px;
  min-width: 0;
}
h2 {
  font-size: 18px;
  min-width: 84px;
}
.tabs {
  display: flex;
}
.tab {
  border: 0;
  background: none;
  color: var(--muted);
  font: 600 17px/1 var(--label);
  min-height: 44px;
  padding: 0 10px;
  border-bottom: 3px solid transparent;
  cursor: pointer;
}
.tab[aria-selected='true'] {
  color: var(--ink);
  border-color: var(--link);
}
.find {
  min-width: 0;
}
.find input {
  width: 100%;
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(146px, 1fr));
  grid-auto-rows: minmax(min-content, max-content);
  align-content: start;
  gap: 6px;
  overflow-y: auto;
  padding: 3px 3px 6px;
  min-height: 0;
  scrollbar-width: thin;
  scrollbar-color: var(--gate) transparent;
}
.card {
  display: grid;
  align-content: center;
  min-height: max-content;
  gap: 2px;
  text-align: left;
  padding: 5px 10px;
  border: 1.5px solid var(--line);
  border-radius: 11px;
  background: var(--plaster);
  color: var(--ink);
  cursor: pointer;
}
.card.wide {
  grid-column: span 2;
}
.card b {
  font: 600 16.5px/1.1 var(--label);
}
.card span {
  font-size: 13.5px;
  line-height: 1.2;
  color: var(--muted);
}
.card.near {
  border-color: var(--gate);
}
.card.on,
.card[aria-pressed='true'] {
  border-color: var(--link);
  box-shadow: inset 0 0 0 1.5px var(--link);
}
.card.ask {
  background: var(--suspect-bg);
  border-color: var(--suspect);
}
.card.ask b,
.card.ask span {
  color: var(--suspect-ink);
}
.split {
  grid-column: 1 / -1;
  height: 1.5px;
  align-self: center;
  background: var(--line);
}
.makeshift {
  border-style: dashed;
}
.note {
  align-self: center;
  padding-left: 8px;
}
@media (max-width: 1099px) {
  .cards {
    max-height: 216px;
  }
}
@media (max-width: 700px) {
  .bar {
    flex-wrap: wrap;
    gap: 4px 10px;
  }
  .find,
  .find input {
    width: 100%;
  }
}
</style>
