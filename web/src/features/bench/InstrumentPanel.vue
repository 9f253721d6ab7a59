<script setup lang="ts">
import { computed, defineAsyncComponent, onMounted, ref, watch } from 'vue'
import type { Schema } from '@/api/client'
import SoundTrace from '@/looks/SoundTrace.vue'
import SpeedTrace from '@/instruments/SpeedTrace.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import TermedText from '@/words/TermedText.vue'
import { measures, text } from '@/words/words'
import InstrumentFace from './InstrumentFace.vue'
import InstrumentKeys from './InstrumentKeys.vue'
import PartFields from './PartFields.vue'
import PartPicker from './PartPicker.vue'
import { forEntry, numbers, state, type Written } from './parts'
import SetupFields from './SetupFields.vue'

// The looks come after the bench itself, and before anybody needs one.
const looks = () => import('@/looks/LookScene.vue')
const LookScene = defineAsyncComponent(looks)
onMounted(looks)
const HearIt = defineAsyncComponent(() => import('@/sound/HearIt.vue'))

/** Choose → set up → read → judge, in one place: the test in hand and its instrument. */
const props = defineProps<{ family: Schema['Family']; bench: Schema['Bench']; chosen?: string; busy?: boolean }>()
const emit = defineEmits<{ event: [event: Schema['Event']]; drop: [] }>()

const by = (id?: string) => props.family.tests.find((t) => t.id === id)
const chosen = computed(() => by(props.chosen))
const instrument = computed(() => props.bench.instrument)
const look = computed(() => props.bench.look)
const test = computed(() => chosen.value ?? by(instrument.value?.test) ?? by(look.value?.test))
const figure = computed(() => {
  const id = front.value && !first.value ? front.value.figure : test.value?.figure
  return props.bench.sheet.find((f) => f.id === id)?.figure
})
const takes = computed(() => props.bench.tray.find((t) => t.test === chosen.value?.id))
const access = computed(() => takes.value?.access_minutes ?? 0)
const covers = computed(() =>
  (chosen.value?.access ?? [])
    .filter((a) => !props.bench.open.includes(a))
    .map((a) => props.family.covers.find((c) => c.id === a)?.off),
)
const hazards = computed(() => props.family.hazards.filter((h) => test.value?.hazards.includes(h.id)))
// In a guided job the precautions that are still to be taken are named; elsewhere nothing nags.
const missing = computed(() =>
  props.bench.mode === 'guided'
    ? props.family.actions.filter(
        (a) => hazards.value.some((h) => h.precautions.includes(a.id)) && !props.bench.taken.includes(a.id),
      )
    : [],
)
const waiting = computed(() => props.bench.ledger.at(-1)?.waiting && look.value)

const onlyUnit = (id: string) => (by(id)?.units.length === 1 ? by(id)!.units[0] : '')
// What is typed outlives a reload: it is kept until it is written down.
const typed = useLocalStorage(`typed.${props.bench.id}`, {
  test: '',
  reading: '',
  unit: '',
  judged: '',
  word: '',
  parts: {} as Record<string, Written>,
})
watch(
  () => instrument.value?.test ?? (look.value && by(look.value.test)?.parts ? look.value.test : ''),
  (t) => {
    if (t && typed.value.test !== t)
      typed.value = { test: t, reading: '', unit: onlyUnit(t), judged: '', word: '', parts: {} }
  },
  { immediate: true },
)
// A reading of several parts: one at a time is in front. The instrument is held to those
// that it measures; the others are met in a word.
const parts = computed(() => test.value?.parts ?? [])
const rest = computed(() => parts.value.slice(1))
const written = computed({
  get: () => typed.value.parts ?? {},
  set: (to) => (typed.value = { ...typed.value, parts: to }),
})
const picked = ref('')
watch(
  () => test.value?.id,
  () => (picked.value = ''),
)
const front = computed(() => {
  const id = picked.value || instrument.value?.part || parts.value[0]?.id
  return parts.value.find((p) => p.id === id) ?? parts.value[0]
})
const first = computed(() => !front.value || front.value.id === parts.value[0].id)
function pick(id: string) {
  const p = parts.value.find((x) => x.id === id)
  const held = !!instrument.value && numbers(test.value).some((x) => x.id === id)
  picked.value = held || !instrument.value || !p?.units.length ? id : ''
  if (held && (instrument.value?.part || parts.value[0].id) !== id) act('part', id)
}
const filled = (p: Schema['TestPart']) =>
  p.id === parts.value[0]?.id
    ? !!(typed.value.reading.trim() || typed.value.word)
    : state(p, written.value[p.id]) === 'all'
const meter = computed(() => instrument.value?.kind === 'meter')
// What is typed of the part in front: the first part of a reading, or a reading without
// parts, is kept by itself.
const field = computed(() =>
  front.value && !first.value
    ? front.value
    : { name: text('bench.reading'), units: test.value!.units, words: [], figure: by(instrument.value?.test)?.figure },
)
const inFront = computed({
  get: (): Written => (front.value && !first.value ? (written.value[front.value.id] ?? {}) : typed.value),
  set: (to) => {
    if (front.value && !first.value) written.value = { ...written.value, [front.value.id]: to }
    else typed.value = { ...typed.value, ...filledIn(to) }
  },
})
const filledIn = (w: Written) => ({ reading: w.reading ?? '', unit: w.unit ?? '', judged: w.judged ?? '' })
const judges = computed(() => !!by(instrument.value?.test)?.figure)
/** What is still missing of what is typed, in the order in which it is asked for. */
function lacks(w: Written, units: string[], judged: boolean) {
  const reading = (w.reading ?? '').trim()
  if (!reading) return 'needs-reading'
  if (!w.unit && units.length > 1 && !/[a-zΩ°"]/i.test(reading)) return 'needs-unit'
  return judged && !w.judged ? 'needs-band' : undefined
}
/** What the button asks for; or that it can be written. */
const step = computed(() => {
  const half = rest.value.find((p) => state(p, written.value[p.id]) === 'some')
  if (half) {
    if (half.id !== front.value.id) return 'needs-part'
    return lacks(written.value[half.id] ?? {}, half.units, !!half.figure) ?? 'write'
  }
  const t = by(instrument.value?.test)
  const lack = lacks(typed.value, t?.units ?? [], judges.value)
  return lack ? (first.value ? lack : 'needs-part') : 'write'
})
const ready = computed(() => step.value === 'write')
function write() {
  if (!ready.value) return
  emit('event', {
    kind: 'entry',
    reading: typed.value.reading.trim(),
    unit: typed.value.unit || by(instrument.value?.test)!.units[0],
    judged: judges.value ? typed.value.judged : undefined,
    parts: forEntry(rest.value, written.value),
  })
}
function call(word: string) {
  typed.value = { ...typed.value, word }
  emit('event', { kind: 'entry', word: word || undefined, parts: forEntry(rest.value, written.value) })
}

// How a look or a run is gone about, before it is made; an instrument is set while it is in hand.
const setups = computed(() =>
  chosen.value && chosen.value.kind !== 'number'
    ? props.family.setups.filter((u) => u.tests.includes(chosen.value!.id))
    : [],
)
const how = ref<Record<string, unknown>>({})
watch(
  () => props.chosen,
  () =>
    (how.value = Object.fromEntries(setups.value.map((u) => [u.id, u.options?.length ? u.options[0].value : u.start]))),
  { immediate: true },
)
const verb = computed(() => {
  switch (chosen.value?.kind) {
    case 'number':
      return text('hand.fit')
    case 'run':
      return text(chosen.value.long ? 'hand.let-run' : 'hand.pull-rope')
    default:
      return text('hand.look')
  }
})
function take() {
  if (!chosen.value) return
  const e: Schema['Event'] = { kind: 'take', test: chosen.value.id }
  if (setups.value.length) e.setup = { ...how.value }
  emit('event', e)
}
const act = (name: string, value?: unknown) => emit('event', { kind: 'act', act: name, value: value as never })
const bandText = computed(() => {
  const f = figure.value
  return f ? measures(f.low, f.high, f.unit) : ''
})
</script>

<template>
  <section
    class="panel hand"
    :class="{ set: instrument && !chosen, several: parts.length > 0 }"
    :aria-label="text('hand.name')"
  >
    <template v-if="test">
      <div class="top">
        <h2>{{ test.title }}</h2>
        <span v-if="bandText" class="band">{{ text('hand.sheet', { band: bandText }) }}</span>
      </div>

      <div v-if="chosen" class="card">
        <p><TermedText :text="chosen.teaches" /></p>
        <p class="muted"><TermedText :text="chosen.cannot" /></p>
        <p class="small">
          <b>{{
            chosen.long ? text('hand.as-long') : text('hand.minutes', { minutes: takes?.minutes ?? chosen.minutes })
          }}</b>
          <template v-if="access">
            {{ text('hand.for-covers', { minutes: access })
            }}<template v-if="covers.length"> ({{ covers.join(', ') }})</template></template
          >
        </p>
        <ul v-if="hazards.length" class="cautions">
          <li v-for="h in hazards" :key="h.id">{{ h.name }}</li>
        </ul>
        <p v-if="missing.length" class="still" role="status">
          {{ text('hand.still', { what: missing.map((a) => a.name.toLowerCase()).join('; ') }) }}
        </p>
        <SetupFields :setups="setups" :at="how" :busy="busy" @set="(id, value) => (how = { ...how, [id]: value })" />
        <div class="row go">
          <main-btn class="grow" :disabled="busy" @click="take">{{ verb }}</main-btn>
          <v-btn @click="emit('drop')">{{ text('hand.not-now') }}</v-btn>
        </div>
        <p class="small muted">{{ text('hand.defer') }}</p>
      </div>

      <template v-else-if="instrument">
        <PartPicker v-if="parts.length" :parts="parts" :at="front.id" :done="filled" :busy="busy" @pick="pick" />
        <InstrumentFace :instrument="instrument" />
        <InstrumentKeys :instrument="instrument" :family="family" :busy="busy" @act="act" />

        <form v-if="instrument.ready" class="entry" @submit.prevent="write">
          <PartFields v-model="inFront" :part="field" :hint="meter ? text('bench.or-ol') : undefined" :busy="busy">
            <main-btn type="submit" class="write" :disabled="busy || !ready">{{ text(`bench.${step}`) }}</main-btn>
          </PartFields>
        </form>
      </template>

      <template v-else-if="look">
        <LookScene v-if="look.seen || look.plug || look.rope" :look="look" />
        <template v-else>
          <SpeedTrace v-if="look.trace" :trace="look.trace" />
          <figure v-else-if="look.sound" class="drawn">
            <svg viewBox="0 0 360 184" role="img" :aria-label="text('hand.heard')">
              <SoundTrace :scene="look.sound" />
            </svg>
          </figure>
          <p class="told" role="status">{{ look.text }}</p>
        </template>
        <HearIt v-if="look.heard !== undefined" :attempt="bench.id" :seq="look.heard" />
        <p v-for="p in look.parts ?? []" :key="p.id" class="also">{{ p.text }}</p>
        <template v-if="test.words.length">
          <PartPicker v-if="parts.length" :parts="parts" :at="front.id" :done="filled" :busy="busy" @pick="pick" />
          <form v-if="!first" class="names" @submit.prevent="call(typed.word)">
            <PartFields
              :model-value="written[front.id] ?? {}"
              :part="front"
              :busy="busy"
              @update:model-value="written = { ...written, [front.id]: $event }"
            >
              <main-btn type="submit" :disabled="busy || !filled(front)">{{ text('bench.write') }}</main-btn>
            </PartFields>
          </form>
        </template>
        <div v-if="test.words.length && first" class="names">
          <p class="figure">{{ text(waiting ? 'hand.call-it' : 'hand.written') }}</p>
          <div class="row wrap">
            <v-btn v-for="w in test.words" :key="w" :disabled="busy" @click="call(w)">
              {{ text(`word.${w}`) }}
            </v-btn>
          </div>
        </div>
        <p v-else-if="!test.words.length" class="small muted">
          {{ text('hand.in-ledger') }}
        </p>
      </template>
    </template>
    <div v-else class="none">
      <h2>{{ text('hand.nothing') }}</h2>
      <p>{{ text('hand.begin') }}</p>
      <ol class="loop muted">
        <li v-for="s in ['choose', 'set-up', 'read', 'judge', 'mark']" :key="s">{{ text(`hand.step-${s}`) }}</li>
      </ol>
    </div>
  </section>
</template>

<style scoped>
.hand {
  padding-block: 12px;
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-height: 0;
  overflow-y: auto;
  scrollbar-width: thin;
}
.top {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  align-items: baseline;
}
.band {
  font: 600 16px/1.1 var(--label);
  color: var(--muted);
  white-space: nowrap;
}
.card {
  display: grid;
  gap: 10px;
}
.cautions {
  margin: 0;
  padding: 8px 12px 8px 28px;
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 10px;
  font-size: 14px;
}
.still {
  padding: 8px 12px;
  border-radius: 10px;
  background: var(--good-bg);
  color: var(--good);
  font-size: 14.5px;
}
/* The next thing to do stays in sight. */
.go {
  position: sticky;
  bottom: -14px;
  background: var(--panel);
  padding: 6px 0;
}
.hand > * {
  flex-shrink: 0;
}
/* The drawing gives way where there is much to press and to write. */
.hand.set :deep(.drawn) {
  display: flex;
  flex-direction: column;
  flex: 0 1 auto;
  min-height: 0;
}
.hand.set :deep(.drawn svg) {
  flex: 0 1 154px;
  min-height: 84px;
  max-height: 154px;
}
.hand.set.several {
  gap: 5px;
  padding-block: 8px;
}
.entry {
  border-top: 1.5px solid var(--line-soft);
  padding-top: 8px;
}
.write {
  min-width: 122px;
}
.told {
  font: 600 21px/1.2 var(--label);
}
.hand.several :deep(.drawn svg) {
  max-height: 102px;
}
.also {
  font: 500 17px/1.2 var(--label);
}
.names {
  display: grid;
  gap: 6px;
}
.none {
  display: grid;
  gap: 10px;
  align-content: center;
  flex: 1;
}
.loop {
  display: flex;
  gap: 4px;
  list-style: none;
  padding: 0;
  margin: 0;
  font: 600 17px/1 var(--label);
}
.loop li + li::before {
  content: '→ ';
}
</style>
