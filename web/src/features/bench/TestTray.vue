<script setup lang="ts">
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import TermedText from '@/words/TermedText.vue'
import { has, text } from '@/words/words'
import TestCard from './TestCard.vue'

/** What can be done next: tests at the reach in focus and beyond, work, covers, and letting it stand. */
const props = defineProps<{
  family: Schema['Family']
  bench: Schema['Bench']
  at: string
  chosen?: string
  busy?: boolean
}>()
const emit = defineEmits<{ choose: [test: string]; event: [event: Schema['Event']] }>()

const tabs = ['tests', 'work', 'covers', 'care', 'wait'] as const
const tab = ref<(typeof tabs)[number]>('tests')
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
    if (next.value.length === 0) hint.value = text('tray.nothing-tells')
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
const takes = computed(() => Object.fromEntries(props.bench.tray.map((t) => [t.test, t.minutes])))
const tests = computed(() => {
  const words = find.value.trim().toLowerCase().split(/\s+/)
  // What the tray does not list, this machine has not.
  return props.family.tests.filter((t) => t.id in access.value && words.every((w) => t.title.toLowerCase().includes(w)))
})
// By path, by kind, by what is in the hand, by what is open already, and what was made
// last: a press each.
const by = ref('here')
const groups = computed(() => [
  { value: 'here', title: text('tray.here') },
  ...props.family.laterals.map((l) => ({ value: l.id, title: text(`tray.${l.id}`) })),
  ...['runs', 'looks', 'tool', 'open', 'last'].map((id) => ({ value: id, title: text(`tray.${id}`) })),
])
const tool = computed(() => {
  const inHand = props.chosen ?? props.bench.instrument?.test
  return props.family.tests.find((t) => t.id === inHand)?.instrument
})
const last = computed(() =>
  props.bench.ledger
    .map((l) => l.test)
    .filter((id): id is string => !!id)
    .reverse(),
)
function within(t: Schema['Test']) {
  switch (by.value) {
    case 'runs':
      return t.kind === 'run'
    case 'looks':
      return t.kind === 'look' || t.kind === 'feel'
    case 'tool':
      return !!tool.value && t.instrument === tool.value
    case 'open':
      return access.value[t.id] === 0
    case 'last':
      return last.value.includes(t.id)
  }
  return t.lateral === by.value
}
const near = computed(() => {
  if (find.value) return tests.value
  if (next.value.length) return next.value.flatMap((n) => tests.value.filter((t) => t.id === n.test))
  if (by.value === 'here') return tests.value.filter((t) => t.reaches.includes(props.at))
  const found = tests.value.filter(within)
  return by.value === 'last' ? found.sort((a, b) => last.value.indexOf(a.id) - last.value.indexOf(b.id)) : found
})
// The tests elsewhere are many and out of sight: the rest of the bench comes first.
const settled = ref(false)
onMounted(() => setTimeout(() => (settled.value = true), 0))
const far = computed(() =>
  !settled.value || find.value || by.value !== 'here' ? [] : tests.value.filter((t) => !near.value.includes(t)),
)
// A part can be the maker's or a copy, where one is fitted.
const grade = ref<'maker' | 'copy'>('maker')
const price = (w: { cost: number; copy_cost?: number }) => (grade.value === 'copy' ? (w.copy_cost ?? w.cost) : w.cost)
const work = computed(() =>
  props.family.repairs
    .filter((r) => r.reach === props.at && !(r.verdict && props.bench.proper_only))
    .map((r) => ({ ...r, id: r.act, name: props.family.acts.find((a) => a.id === r.act)!.name })),
)
const hinted = computed(() => tab.value === 'tests' && props.bench.mode === 'guided')
const minutes = (n: number) => text('tray.minutes', { minutes: Math.round(n * 10) / 10 })
const asked = ref('')
const cards = useTemplateRef<HTMLElement>('cards')
watch(
  () => props.at,
  () => {
    asked.value = ''
    by.value = 'here'
  },
)
watch([() => props.at, by, find], () => cards.value?.scrollTo({ top: 0 }))

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
  <section class="panel tray" :aria-label="text('tray.name')">
    <div class="bar">
      <!-- Where there is more to press, the board says alone which reach it is. -->
      <h2 v-if="!hinted"><TermedText :text="reach?.name ?? ''" /></h2>
      <v-tabs v-model="tab" :aria-label="text('tray.kind')">
        <v-tab v-for="t in tabs" :key="t" :value="t">{{ text(`tray.${t}`) }}</v-tab>
      </v-tabs>
      <span class="grow"></span>
      <ChoiceRow
        v-if="tab === 'work'"
        v-model="grade"
        :label="text('tray.grade')"
        :items="[
          { value: 'maker', title: text('tray.maker') },
          { value: 'copy', title: text('tray.copy') },
        ]"
      />
      <v-btn
        v-if="hinted"
        :aria-pressed="next.length > 0"
        :disabled="busy || asking"
        @click="next.length ? (next = []) : askNext()"
      >
        {{ text(asking ? 'tray.weighing' : 'tray.tells-most') }}
      </v-btn>
      <v-text-field
        v-if="tab === 'tests'"
        id="find-test"
        v-model="find"
        class="find"
        density="compact"
        type="search"
        :label="text('tray.find')"
        autocomplete="off"
        :persistent-placeholder="false"
        single-line
      />
    </div>
    <ChoiceRow v-if="tab === 'tests'" v-model="by" class="by" :items="groups" :label="text('tray.which')" />
    <div v-if="tab === 'tests'" ref="cards" class="cards" tabindex="0" role="group" :aria-label="text('tray.tests')">
      <template v-for="(group, i) in [near, far]" :key="i">
        <span v-if="i === 1 && near.length && far.length" class="split" aria-hidden="true"></span>
        <TestCard
          v-for="t in group"
          :key="t.id"
          :title="t.title"
          :minutes="takes[t.id]"
          :long="t.long"
          :access="access[t.id]"
          :halves="tells(t.id)?.halves"
          :near="i === 0"
          :chosen="chosen === t.id"
          :busy="busy"
          @choose="emit('choose', t.id)"
        />
      </template>
      <p v-if="hint" class="muted note" role="status">{{ hint }}</p>
      <p v-if="near.length + far.length === 0" class="muted">
        {{ text(find ? 'tray.none-called' : has(`tray.none-${by}`) ? `tray.none-${by}` : 'tray.none') }}
      </p>
    </div>
    <div v-else-if="tab === 'work'" class="cards" tabindex="0" role="group" :aria-label="text('tray.work-here')">
      <v-btn
        v-for="w in work"
        :key="w.id"
        class="card near"
        :class="{ ask: asked === w.id, makeshift: w.verdict }"
        :disabled="busy"
        @click="repair(w.id)"
      >
        <b>{{
          asked === w.id
            ? text('tray.sure', { work: w.name })
            : w.verdict
              ? w.name
              : `${w.name} ${reach?.name.toLowerCase()}`
        }}</b>
        <span
          ><template v-if="w.verdict">{{ text('tray.makeshift') }} </template>{{ minutes(w.minutes)
          }}{{ w.cost ? text('tray.in-parts', { money: price(w).toFixed(2) }) : '' }}</span
        >
      </v-btn>
      <p class="muted small note">{{ text('tray.sound-costs') }}</p>
    </div>
    <div v-else-if="tab === 'covers'" class="cards" tabindex="0" role="group" :aria-label="text('tray.covers')">
      <v-btn
        v-for="c in family.covers"
        :key="c.id"
        class="card near wide"
        :aria-pressed="bench.open.includes(c.id)"
        :disabled="busy"
        @click="emit('event', { kind: 'cover', cover: c.id, off: !bench.open.includes(c.id) })"
      >
        <b>{{ c.name }}</b>
        <span>{{ bench.open.includes(c.id) ? text('tray.is-off') : text('tray.is-on', { note: c.note }) }}</span>
      </v-btn>
    </div>
    <div v-else-if="tab === 'care'" class="cards" tabindex="0" role="group" :aria-label="text('tray.precautions')">
      <v-btn
        v-for="x in family.actions"
        :key="x.id"
        class="card"
        :class="{ near: !bench.taken.includes(x.id) }"
        :disabled="busy"
        @click="emit('event', { kind: 'do', do: x.id })"
      >
        <b>{{ x.name }}</b>
        <span>{{
          bench.taken.includes(x.id)
            ? x.id === 'block-driven'
              ? text('tray.block-in')
              : text('tray.done')
            : x.minutes
              ? minutes(x.minutes)
              : text('tray.as-long')
        }}</span>
      </v-btn>
    </div>
    <div v-else class="cards" tabindex="0" role="group" :aria-label="text('tray.stand')">
      <v-btn
        v-for="m in [1, 5, 15, 60]"
        :key="m"
        class="card near"
        :disabled="busy"
        @click="emit('event', { kind: 'wait', minutes: m })"
      >
        <b>{{ text('tray.stand-for', { minutes: m }) }}</b>
        <span>{{ text('tray.stands') }}</span>
      </v-btn>
    </div>
  </section>
</template>

<style scoped>
.tray {
  display: flex;
  flex-direction: column;
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
.tray > :last-child {
  min-height: 0;
}
.by :deep(.v-btn) {
  padding-inline: 4px;
}
@media (min-width: 1200px) {
  .by :deep(.v-btn.v-btn--density-default) {
    min-height: 35px;
  }
}
.find {
  flex: 0 1 190px;
  min-width: 150px;
}
.cards {
  flex: 1;
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
.cards .card {
  content-visibility: auto;
  contain-intrinsic-size: auto 50px;
  justify-content: start;
  min-height: max-content;
  padding: 5px 10px;
  border: 1.5px solid var(--line);
  border-radius: 11px;
  background: var(--plaster);
  color: var(--ink);
  text-align: left;
}
.card :deep(.v-btn__content) {
  display: grid;
  gap: 2px;
  justify-items: start;
  justify-content: start;
}
.card.wide {
  grid-column: span 2;
}
.card :deep(b) {
  font: 600 16.5px/1.1 var(--label);
}
.card :deep(span) {
  font-size: 13.5px;
  line-height: 1.2;
  color: var(--muted);
}
.cards .card.near {
  border-color: var(--gate);
}
.cards .card.on,
.cards .card[aria-pressed='true'] {
  border-color: var(--link);
  box-shadow: inset 0 0 0 1.5px var(--link);
}
.cards .card.ask {
  background: var(--suspect-bg);
  border-color: var(--suspect);
}
.card.ask :deep(b),
.card.ask :deep(span) {
  color: var(--suspect-ink);
}
.split {
  grid-column: 1 / -1;
  height: 1.5px;
  align-self: center;
  background: var(--line);
}
.cards .makeshift {
  border-style: dashed;
}
.note {
  align-self: center;
  padding-left: 8px;
}
@media (max-width: 640px) {
  .cards {
    max-height: 216px;
  }
}
/* Beside the instrument on a tablet: which reach it is stands under the board too. */
@media (min-width: 641px) and (max-width: 1099px) {
  h2 {
    display: none;
  }
  .find {
    flex: 1 1 96px;
    min-width: 96px;
  }
  .by :deep(.v-btn) {
    padding-inline: 1px;
  }
  .bar :deep(.v-tab) {
    padding-inline: 6px;
  }
}
@media (max-width: 640px) {
  .by :deep(.v-btn) {
    flex: 1 0 19%;
  }
  .bar {
    flex-wrap: wrap;
    gap: 4px 10px;
  }
  .find {
    flex-basis: 100%;
  }
}
</style>
