<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import type { Schema } from '@/api/client'
import CompressionGauge from '@/instruments/CompressionGauge.vue'
import JetBore from '@/instruments/JetBore.vue'
import MeasuringCup from '@/instruments/MeasuringCup.vue'
import OhmMeter from '@/instruments/OhmMeter.vue'
import PlugFace from '@/instruments/PlugFace.vue'
import SparkTester from '@/instruments/SparkTester.vue'
import SpeedTrace from '@/instruments/SpeedTrace.vue'
import { useLocalStorage } from '@/session/useLocalStorage'

/** Choose → set up → read → judge, in one place: the test in hand and its instrument. */
const props = defineProps<{ family: Schema['Family']; bench: Schema['Bench']; chosen?: string; busy?: boolean }>()
const emit = defineEmits<{ event: [event: Schema['Event']]; drop: [] }>()

const by = (id?: string) => props.family.tests.find((t) => t.id === id)
const chosen = computed(() => by(props.chosen))
const instrument = computed(() => props.bench.instrument)
const look = computed(() => props.bench.look)
const test = computed(() => chosen.value ?? by(instrument.value?.test) ?? by(look.value?.test))
const figure = computed(() => props.bench.sheet.find((f) => f.id === test.value?.figure)?.figure)
const access = computed(() => props.bench.tray.find((t) => t.test === chosen.value?.id)?.access_minutes ?? 0)
const covers = computed(() =>
  (chosen.value?.access ?? [])
    .filter((a) => !props.bench.open.includes(a))
    .map((a) => props.family.covers.find((c) => c.id === a)?.off),
)
const cautions = computed(() =>
  (test.value?.hazards ?? []).map((h) => props.family.hazards.find((x) => x.id === h)?.name),
)
const waiting = computed(() => props.bench.ledger.at(-1)?.waiting && look.value)

// What is typed outlives a reload: it is kept until it is written down.
const typed = useLocalStorage(`typed.${props.bench.id}`, { test: '', reading: '', unit: '', judged: '' })
watch(
  () => instrument.value?.test ?? '',
  (t) => {
    if (t && typed.value.test !== t) typed.value = { test: t, reading: '', unit: '', judged: '' }
  },
  { immediate: true },
)
const ready = computed(
  () =>
    typed.value.reading.trim() !== '' &&
    typed.value.judged !== '' &&
    (typed.value.unit !== '' || /[a-zΩ°"]/i.test(typed.value.reading)),
)
function write() {
  if (!ready.value) return
  emit('event', {
    kind: 'entry',
    reading: typed.value.reading.trim(),
    unit: typed.value.unit || by(instrument.value?.test)!.units[0],
    judged: typed.value.judged,
  })
}

const setup = reactive({ minutes: 15, load: 'test', dose_ml: 2 })
const verb = computed(() => {
  switch (chosen.value?.kind) {
    case 'number':
      return 'Fit the instrument'
    case 'run':
      return chosen.value.long ? 'Start it and let it run' : 'Pull the rope'
    default:
      return 'Look'
  }
})
function take() {
  if (!chosen.value) return
  const e: Schema['Event'] = { kind: 'take', test: chosen.value.id }
  if (chosen.value.long) e.setup = { minutes: setup.minutes, load: setup.load }
  if (chosen.value.id === 'dose-intake') e.setup = { dose_ml: setup.dose_ml }
  emit('event', e)
}
const act = (name: string, value?: unknown) => emit('event', { kind: 'act', act: name, value: value as never })
const pull = ref('brisk')
const seconds = ref(60)
const bandText = computed(() => (figure.value ? `${figure.value.low}–${figure.value.high} ${figure.value.unit}` : ''))
</script>

<template>
  <section class="panel hand" aria-label="In hand">
    <template v-if="test">
      <div class="top">
        <h2>{{ test.title }}</h2>
        <span v-if="bandText" class="band">sheet {{ bandText }}</span>
      </div>

      <div v-if="chosen" class="card">
        <p>{{ chosen.teaches }}</p>
        <p class="muted">{{ chosen.cannot }}</p>
        <p class="small">
          <b>{{ chosen.long ? 'As long as it runs' : `${chosen.minutes} min` }}</b>
          <template v-if="access">
            and {{ access }} min for covers<template v-if="covers.length">
              ({{ covers.join(', ') }})</template
            ></template
          >
        </p>
        <ul v-if="cautions.length" class="cautions">
          <li v-for="c in cautions" :key="c">{{ c }}</li>
        </ul>
        <div v-if="chosen.long" class="set">
          <label class="field"
            >Minutes <input v-model.number="setup.minutes" class="plain" type="number" min="1" max="60"
          /></label>
          <label class="field"
            >Load
            <select v-model="setup.load" class="plain">
              <option value="idle">idling</option>
              <option value="none">no load</option>
              <option value="test">working load</option>
            </select>
          </label>
        </div>
        <label v-if="chosen.id === 'dose-intake'" class="field"
          >Dose, ml <input v-model.number="setup.dose_ml" class="plain" type="number" min="0" max="20" step="0.5"
        /></label>
        <div class="row go">
          <button type="button" class="key main grow" :disabled="busy" @click="take">{{ verb }}</button>
          <button type="button" class="key" @click="emit('drop')">Not now</button>
        </div>
        <p class="small muted">The machine's own manual, local codes and a licensed technician come first.</p>
      </div>

      <template v-else-if="instrument">
        <CompressionGauge v-if="instrument.kind === 'compression-gauge'" :psi="instrument.needle_psi ?? 0" />
        <SparkTester
          v-else-if="instrument.kind === 'spark-tester'"
          :gap="instrument.gap_mm ?? 0"
          :spark="instrument.spark"
          :earth="instrument.earth"
        />
        <OhmMeter
          v-else-if="instrument.kind === 'meter'"
          :display="instrument.display ?? ''"
          :range="instrument.range ?? ''"
          :leads="instrument.leads"
        />
        <MeasuringCup
          v-else-if="instrument.kind === 'cup'"
          :ml="instrument.cup_ml ?? 0"
          :seconds="instrument.seconds ?? 0"
        />

        <div v-if="instrument.kind === 'compression-gauge'" class="keys three">
          <button type="button" class="key" :disabled="busy || !!instrument.pulls" @click="act('zero')">Zero it</button>
          <button type="button" class="key main" :disabled="busy" @click="act('pull')">
            Pull the rope · {{ instrument.pulls ?? 0 }}
          </button>
          <button type="button" class="key" :disabled="busy || !instrument.pulls" @click="act('let-off')">
            Let off
          </button>
        </div>
        <div v-else-if="instrument.kind === 'spark-tester'" class="keys spark">
          <button
            type="button"
            class="key"
            :disabled="busy || (instrument.gap_mm ?? 0) <= 1"
            aria-label="Gap 0.5 mm in"
            @click="act('gap', (instrument.gap_mm ?? 4) - 0.5)"
          >
            −½
          </button>
          <button
            type="button"
            class="key"
            :disabled="busy || (instrument.gap_mm ?? 0) >= 20"
            aria-label="Gap 0.5 mm out"
            @click="act('gap', (instrument.gap_mm ?? 4) + 0.5)"
          >
            +½
          </button>
          <button
            type="button"
            class="key"
            :disabled="busy || (instrument.gap_mm ?? 0) > 18"
            aria-label="Gap 2 mm out"
            @click="act('gap', (instrument.gap_mm ?? 4) + 2)"
          >
            +2 mm
          </button>
          <button type="button" class="key main" :disabled="busy" @click="act('pull', pull)">Pull</button>
          <button
            type="button"
            class="key"
            :aria-pressed="pull === 'slow'"
            @click="pull = pull === 'slow' ? 'brisk' : 'slow'"
          >
            {{ pull }} pull
          </button>
          <button
            type="button"
            class="key wide"
            :disabled="busy"
            @click="act('earth', instrument.earth === 'good' ? 'poor' : 'good')"
          >
            {{ instrument.earth === 'good' ? 'Clip to the painted cowl' : 'Clip to bare metal' }}
          </button>
        </div>
        <div v-else-if="instrument.kind === 'meter'" class="keys meter">
          <label class="field pick"
            ><span class="sr-only">Range</span>
            <select
              class="plain"
              :value="instrument.range"
              :disabled="busy"
              @change="act('range', ($event.target as HTMLSelectElement).value)"
            >
              <option v-for="r in ['200 Ω', '2 kΩ', '20 kΩ', '200 kΩ']" :key="r">{{ r }}</option>
            </select>
          </label>
          <button type="button" class="key" :disabled="busy" @click="act('null')">Hold and null</button>
          <button type="button" class="key main" :disabled="busy" @click="act('touch')">To the winding</button>
        </div>
        <div v-else-if="instrument.kind === 'cup'" class="keys">
          <label class="field pick"
            ><span class="sr-only">Seconds</span>
            <select v-model.number="seconds" class="plain">
              <option v-for="s in [15, 30, 60]" :key="s" :value="s">{{ s }} seconds</option>
            </select>
          </label>
          <button type="button" class="key main grow" :disabled="busy" @click="act('run', seconds)">
            Let it run into the cup
          </button>
        </div>

        <form v-if="instrument.ready" class="entry" @submit.prevent="write">
          <label class="field"
            >Reading
            <input
              id="reading"
              v-model="typed.reading"
              class="plain figure"
              inputmode="decimal"
              autocomplete="off"
              maxlength="40"
              :placeholder="instrument.kind === 'meter' ? 'or OL' : ''"
          /></label>
          <div class="seg units" role="radiogroup" aria-label="Unit">
            <button
              v-for="u in test.units"
              :key="u"
              type="button"
              class="key"
              role="radio"
              :aria-checked="typed.unit === u"
              @click="typed.unit = u"
            >
              {{ u }}
            </button>
          </div>
          <div class="last">
            <div class="seg" role="radiogroup" aria-label="Against the sheet">
              <button
                v-for="j in [
                  ['below', 'Below'],
                  ['within', 'In band'],
                  ['above', 'Above'],
                ]"
                :key="j[0]"
                type="button"
                class="key"
                role="radio"
                :aria-checked="typed.judged === j[0]"
                @click="typed.judged = j[0]"
              >
                {{ j[1] }}
              </button>
            </div>
            <button type="submit" class="key main" :disabled="busy || !ready">Write it down</button>
          </div>
        </form>
      </template>

      <template v-else-if="look">
        <PlugFace v-if="look.test === 'plug-look'" :face="look.face ?? ''" :text="look.text" />
        <JetBore v-else-if="look.test === 'jet-look'" :open="look.open_share ?? 1" :text="look.text" />
        <template v-else>
          <SpeedTrace v-if="look.trace" :trace="look.trace" />
          <p class="told" role="status">{{ look.text }}</p>
        </template>
        <div v-if="test.words.length" class="names">
          <p class="figure">{{ waiting ? 'What do you call it?' : 'Written down. You can still correct it:' }}</p>
          <div class="row wrap">
            <button
              v-for="w in test.words"
              :key="w"
              type="button"
              class="key"
              :disabled="busy"
              @click="emit('event', { kind: 'entry', word: w })"
            >
              {{ w }}
            </button>
          </div>
        </div>
        <p v-else class="small muted">It is in the ledger. Mark on the board what it tells you.</p>
      </template>
    </template>
    <div v-else class="none">
      <h2>Nothing in hand</h2>
      <p>Choose a test from the tray. Then set up, read, judge, and mark the board.</p>
      <ol class="loop muted">
        <li>choose</li>
        <li>set up</li>
        <li>read</li>
        <li>judge</li>
        <li>mark</li>
      </ol>
    </div>
  </section>
</template>

<style scoped>
.hand {
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
.set {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.go .main {
  min-height: 50px;
  font-size: 18px;
}
.keys {
  display: flex;
  gap: 6px;
}
.keys .key {
  padding: 4px 10px;
}
.three .main {
  flex: 1;
}
.spark {
  display: grid;
  grid-template-columns: 52px 52px 1fr 1fr 1.2fr;
}
.spark .wide {
  grid-column: 1 / -1;
}
.pick {
  flex: 0 0 140px;
}
.pick > :last-child {
  margin: 0;
}
.meter .main {
  flex: 1;
}
.entry {
  display: grid;
  grid-template-columns: 118px 1fr;
  gap: 8px;
  align-items: end;
  border-top: 1.5px solid var(--line-soft);
  padding-top: 8px;
}
.entry input {
  font-size: 22px;
  padding: 4px 10px;
}
.seg {
  display: flex;
}
.seg .key {
  flex: 1;
  border-radius: 0;
  margin-left: -1.5px;
  padding: 4px 6px;
}
.seg .key:first-child {
  border-radius: 10px 0 0 10px;
  margin: 0;
}
.seg .key:last-child {
  border-radius: 0 10px 10px 0;
}
.entry > .last {
  grid-column: 1 / -1;
  display: grid;
  grid-template-columns: 1fr 122px;
  gap: 8px;
}
.told {
  font: 600 21px/1.2 var(--label);
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
