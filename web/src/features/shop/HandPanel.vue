<script setup lang="ts">
import '@/words/shop'
import { computed, watch } from 'vue'
import type { Schema } from '@/api/client'
import PartFields from '@/features/bench/PartFields.vue'
import type { Written } from '@/features/bench/parts'
import { useLocalStorage } from '@/session/useLocalStorage'
import TermedText from '@/words/TermedText.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { capital, measures, text } from '@/words/words'
import DeviceHear from './DeviceHear.vue'
import GaugePick from './GaugePick.vue'
import PhotoPanel from './PhotoPanel.vue'
import { fieldsOf, lacking, read } from './hand'

/** A test on a real engine: what it wants, ticked as done, and what was read of it. */
const props = defineProps<{
  family: Schema['Family']
  bench: Schema['Bench']
  chosen?: string
  busy?: boolean
  /** Something that was sent from here was refused. */
  refused?: boolean
}>()
const emit = defineEmits<{ event: [event: Schema['Event']]; drop: [] }>()

const blank = (test: string) => ({
  test,
  ticked: [] as string[],
  written: {} as Record<string, Written>,
  ran: '',
  faltered: '',
  minute: '',
  /** What sent the reading, and the figure that it sent: another one is a hand's. */
  device: '',
  sent: '',
  gauge: '',
  /** The last test is written anew. */
  again: false,
})
// What is typed outlives a reload: it is kept until it is written down.
const typed = useLocalStorage(`by-hand.${props.bench.id}`, blank(''))
watch(
  () => props.chosen,
  (t) => t && (typed.value.test !== t || typed.value.again) && (typed.value = blank(t)),
  { immediate: true },
)
// What is refused is laid back into the fields; once it stands in the ledger it is let go.
const sent = useLocalStorage<ReturnType<typeof blank> | null>(`by-hand-sent.${props.bench.id}`, null)
watch(
  () => props.refused,
  (no) => {
    if (no && sent.value && !typed.value.test) typed.value = sent.value
    if (no) sent.value = null
  },
)
watch(
  () => props.bench.ledger.length,
  () => (sent.value = null),
)
// What was written last is put right as long as nothing else was done.
const wrote = useLocalStorage<ReturnType<typeof blank> | null>(`by-hand-wrote.${props.bench.id}`, null)
const last = computed(() => {
  const line = props.bench.ledger.at(-1)
  return line?.test ? line : undefined
})
function putRight() {
  const test = last.value!.test!
  typed.value = { ...(wrote.value?.test === test ? wrote.value : blank(test)), again: true }
}
const test = computed(() => props.family.tests.find((t) => t.id === typed.value.test))
const fields = computed(() => (test.value ? fieldsOf(test.value) : []))
const figure = computed(() => props.bench.sheet.find((f) => f.id === test.value?.figure)?.figure)
const hazards = computed(() => props.family.hazards.filter((h) => test.value?.hazards.includes(h.id)))
const set = (part: string, w: Written) =>
  (typed.value = { ...typed.value, written: { ...typed.value.written, [part]: w } })
const number = (s: string) => Number(s.replace(',', '.'))

const not = computed(() => {
  if (!test.value) return text('shop.choose-a-test')
  const start = props.bench.holds?.find((h) => h.item === 'first-start')
  if (test.value.kind === 'run' && start && !start.by && !typed.value.again)
    return `${text('shop.hold.first-start')}: ${text('shop.not-signed')}`
  const part = lacking(test.value, typed.value.written, true)
  if (part) return text('shop.lacks', { part })
  if (test.value.long && !typed.value.again && !(number(typed.value.ran) > 0))
    return text('shop.lacks', { part: text('shop.ran') })
  return ''
})
/** A bar that is tied stays held with nobody behind it: that waits for a signature. */
const tied = computed(() => props.bench.controls.bar === 'tied')
const notTied = computed(() =>
  props.bench.holds?.find((h) => h.item === 'bar-tied')?.by
    ? ''
    : `${text('shop.hold.bar-tied')}: ${text('shop.not-signed')}`,
)
const tie = () => emit('event', { kind: 'control', control: { bar: tied.value ? 'held' : 'tied' } })
function heard(r: { test: string; reading: string; unit: string; device: string }) {
  if (typed.value.test !== r.test) return
  set('', { ...typed.value.written[''], reading: r.reading, unit: r.unit })
  typed.value = { ...typed.value, device: r.device, sent: r.reading }
}
/** The test as it was made, or only what was read of it put right. */
function made(t: Schema['Test']): Schema['Event'] {
  if (typed.value.again) {
    const { reading, unit, word, judged, parts } = read(t, typed.value.written, true)
    return { kind: 'entry', reading, unit, word, judged, parts }
  }
  const e: Schema['Event'] = {
    kind: 'by-hand',
    ...read(t, typed.value.written, true),
    missed: t.conditions.filter((c) => !typed.value.ticked.includes(c)),
  }
  if (typed.value.device && e.reading === typed.value.sent) e.device = typed.value.device
  if (typed.value.gauge) e.gauge = { id: typed.value.gauge }
  if (t.long) e.ran_min = number(typed.value.ran)
  if (number(typed.value.faltered) > 0) e.faltered_min = number(typed.value.faltered)
  if (number(typed.value.minute) > 0) e.clock_min = number(typed.value.minute)
  return e
}
function write() {
  const e = made(test.value!)
  sent.value = wrote.value = typed.value
  typed.value = blank('')
  emit('event', e)
}
function drop() {
  typed.value = blank('')
  emit('drop')
}
</script>

<template>
  <section class="panel hand stack" :aria-label="text('shop.hand')">
    <ul v-if="!test && bench.holds" class="holds" :aria-label="text('shop.holds')">
      <li v-for="h in bench.holds" :key="h.item">
        <b class="grow">{{ text(`shop.hold.${h.item}`) }}</b>
        <span v-if="h.by" class="good">✓ {{ text('shop.seen-by', { initials: h.initials, by: h.by }) }}</span>
        <span v-else class="muted">{{ text('shop.not-signed') }}</span>
      </li>
    </ul>
    <WhyBtn v-if="!test && bench.has.includes('bar')" :not="tied ? '' : notTied" :busy="busy" @click="tie">{{
      text(tied ? 'shop.untie-bar' : 'shop.tie-bar')
    }}</WhyBtn>
    <template v-if="test">
      <div class="row">
        <h2 class="grow">{{ test.title }}</h2>
        <span v-if="figure" class="muted">{{
          text('hand.sheet', { band: measures(figure.low, figure.high, figure.unit) })
        }}</span>
      </div>
      <p v-if="typed.again" role="status">{{ text('shop.putting-right') }}</p>
      <p v-else class="small"><TermedText :text="test.teaches" /></p>
      <ul v-if="hazards.length && !typed.again" class="hazard">
        <li v-for="h in hazards" :key="h.id">{{ h.name }}</li>
      </ul>
      <fieldset v-if="test.conditions.length && !typed.again">
        <legend>{{ text('shop.done') }}</legend>
        <v-checkbox
          v-for="(c, i) in test.conditions"
          :key="c"
          v-model="typed.ticked"
          :value="c"
          :label="capital(test.valid[i])"
          :disabled="busy"
        />
      </fieldset>
      <template v-for="p in fields" :key="p.id">
        <h3 v-if="fields.length > 1">{{ p.name }}</h3>
        <PartFields
          :model-value="typed.written[p.id] ?? {}"
          :part="p"
          :busy="busy"
          @update:model-value="set(p.id, $event)"
        />
      </template>
      <template v-if="test.kind === 'number' && !typed.again">
        <GaugePick v-model="typed.gauge" :test="test" :busy="busy" />
        <DeviceHear :key="test.id" :attempt="bench.id" :test="test" :busy="busy" @heard="heard" />
        <p v-if="typed.device" class="small" role="status">{{ text('shop.heard', { device: typed.device }) }}</p>
      </template>
      <div v-if="!typed.again" class="row times">
        <v-text-field
          v-if="test.long"
          v-model="typed.ran"
          inputmode="decimal"
          hide-details
          :label="text('shop.ran')"
          :disabled="busy"
        />
        <v-text-field
          v-if="test.long"
          v-model="typed.faltered"
          inputmode="decimal"
          hide-details
          :label="text('shop.faltered')"
          :disabled="busy"
        />
        <v-text-field
          v-model="typed.minute"
          inputmode="decimal"
          hide-details
          :label="text('shop.minute')"
          :placeholder="text('shop.now')"
          :disabled="busy"
        />
      </div>
      <div class="row">
        <WhyBtn main class="grow" :not="not" :busy="busy" @click="write">{{ text('bench.write') }}</WhyBtn>
        <v-btn @click="drop">{{ text('hand.not-now') }}</v-btn>
      </div>
    </template>
    <template v-else>
      <h2>{{ text('shop.hand') }}</h2>
      <p>{{ text('shop.hand-lead') }}</p>
      <p class="muted small">{{ text('shop.cautions') }}</p>
      <div v-if="last" class="row">
        <span class="grow"
          >{{ text('shop.last-written', { test: last.title }) }} <b>{{ last.result }}</b></span
        >
        <v-btn :disabled="busy" @click="putRight">{{ text('shop.put-right') }}</v-btn>
      </div>
      <PhotoPanel :attempt="bench.id" :busy="busy" />
    </template>
  </section>
</template>

<style scoped>
.hand {
  overflow-y: auto;
  align-content: start;
}
fieldset {
  border: 1.5px solid var(--line);
  border-radius: 12px;
  padding: 4px 12px 8px;
}
legend {
  font: 600 16px/1 var(--label);
  padding: 0 6px;
}
.hazard {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 10px;
  margin: 0;
  padding: 8px 12px 8px 28px;
}
.times {
  gap: 10px;
}
.holds {
  list-style: none;
  margin: 0;
  padding: 0;
}
.holds li {
  display: flex;
  gap: 10px;
  padding: 6px 0;
  border-bottom: 1px solid var(--line-soft);
}
.good {
  color: var(--good);
}
</style>
