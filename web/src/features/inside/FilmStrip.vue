<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import ChartTable from '@/charts/ChartTable.vue'
import LineChart from '@/charts/LineChart.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { places, text } from '@/words/words'
import CutawayDrawing from './CutawayDrawing.vue'
import PressureTrace from './PressureTrace.vue'
import { useReel } from './useReel'

/** The film of a run: the cutaway, what things did against time, its minutes and one second of them slowly, alone or beside a sound machine. */
const props = defineProps<{ film: Schema['Inside'] }>()
const beside = ref(false)
const sick = computed(() => props.film.film)
/** The time line is that of whichever runs longer: one that never starts has none of its own. */
const longer = computed(() => {
  const { film, sound } = props.film
  return beside.value && sound && sound.frames.length > film.frames.length ? sound : film
})
const { at, second, playing, turning, still, last, frame, step, play, turn } = useReel(
  () => longer.value,
  () => shown.value.find((m) => m.frame.rpm > 0)?.frame.rpm ?? 0,
)
/** The place in a film of the minute that is looked at: one that has ended stands at its last. */
function placeIn(film: Schema['Film']): number {
  const i = film.frames.findIndex((f) => f.minute >= frame.value.minute - 1e-9)
  return i < 0 ? film.frames.length - 1 : i
}
const place = computed(() => placeIn(sick.value))
/** The machines that are shown, each at the same minute. */
const shown = computed(() =>
  [sick.value, ...(beside.value && props.film.sound ? [props.film.sound] : [])].map((film, i) => ({
    film,
    frame: film.frames[placeIn(film)],
    name: text(i ? 'inside.a-sound-one' : 'inside.this-one'),
  })),
)

const lines = [
  { id: 'rpm', unit: 'rpm', of: (f: Schema['Frame']) => f.rpm, digits: 0 },
  { id: 'bowl', unit: '%', of: (f: Schema['Frame']) => f.bowl_share * 100, digits: 0 },
  { id: 'tank', unit: 'kPa', of: (f: Schema['Frame']) => f.tank_vacuum_kpa, digits: 2 },
  { id: 'lambda', unit: 'λ', of: (f: Schema['Frame']) => f.lambda, digits: 2 },
  { id: 'spark-kv', unit: 'kV', of: (f: Schema['Frame']) => f.spark_kv, digits: 1 },
  { id: 'coil', unit: '°C', of: (f: Schema['Frame']) => f.coil_c, digits: 0 },
]
const points = (film: Schema['Film']) => lines.map((l) => film.frames.map((f) => ({ x: f.minute, y: l.of(f) })))
const drawn = computed(() => points(sick.value))
const sound = computed(() => (beside.value && props.film.sound ? points(props.film.sound) : undefined))
/** Goes to a minute of the time line. */
function goTo(minute: number) {
  playing.value = false
  at.value = Math.max(
    0,
    longer.value.frames.findIndex((f) => f.minute >= minute - 1e-9),
  )
}
const heads = [text('state.minutes'), ...lines.map((l) => `${text(`inside.${l.id}`)}, ${l.unit}`)]
// A line of the table every half minute, and the last.
const rows = computed(() =>
  sick.value.frames
    .filter((_, i, all) => i % 5 === 0 || i === all.length - 1)
    .map((f) => [f.minute, ...lines.map((l) => l.of(f))].map((v, i) => +v.toFixed(i ? lines[i - 1].digits : 1))),
)
</script>

<template>
  <div class="film">
    <section class="panel stack">
      <v-switch v-if="film.sound" v-model="beside" density="compact" :label="text('inside.beside')" />
      <div class="machines" :class="{ two: shown.length > 1 }">
        <div v-for="(m, i) in shown" :key="i">
          <h2 v-if="shown.length > 1">{{ m.name }}</h2>
          <CutawayDrawing
            :family="film.family"
            :film="m.film"
            :frame="m.frame"
            :second="second"
            :small="shown.length > 1"
          />
        </div>
      </div>
      <div class="clocks">
        <div class="row play" role="group" :aria-label="text('inside.moment')">
          <main-btn @click="playing ? (playing = false) : play()">
            {{ text(playing ? 'inside.pause' : 'inside.play') }}
          </main-btn>
          <WhyBtn :not="at === 0 ? text('state.first-step') : ''" :aria-label="text('state.step-back')" @click="at--"
            >←</WhyBtn
          >
          <v-slider
            v-model="at"
            class="grow"
            :name="text('inside.moment')"
            :aria-label="text('inside.moment')"
            hide-details
            :min="0"
            :max="last"
            :step="1"
            :value-format="() => text('tray.minutes', { minutes: places(frame.minute, 1) })"
            @start="playing = false"
          />
          <WhyBtn :not="at >= last ? text('state.last-step') : ''" :aria-label="text('state.step-on')" @click="at++"
            >→</WhyBtn
          >
          <span class="figure when">{{ text('tray.minutes', { minutes: places(frame.minute, 1) }) }}</span>
        </div>
        <div class="row slow" role="group" :aria-label="text('inside.one-second')">
          <v-btn v-if="!still" color="secondary" @click="turning = !turning">{{
            text(turning ? 'inside.hold' : 'inside.slowly')
          }}</v-btn>
          <span v-else>{{ text('inside.one-second') }}</span>
          <v-btn :aria-label="text('inside.turn-back')" @click="turn(-1)">↺</v-btn>
          <v-slider
            v-model="second"
            class="grow"
            :aria-label="text('inside.one-second')"
            hide-details
            :min="0"
            :max="0.9999"
            :step="step / 2"
            :value-format="() => text('inside.seconds', { seconds: places(second, 3) })"
            @start="turning = false"
          />
          <v-btn :aria-label="text('inside.turn-on')" @click="turn(1)">↻</v-btn>
          <span class="figure when">{{ text('inside.seconds', { seconds: places(second, 3) }) }}</span>
        </div>
      </div>
    </section>
    <section class="panel traces" :aria-label="text('inside.against-time')">
      <PressureTrace :films="shown.map((s) => s.film)" :frames="shown.map((s) => s.frame)" :second="second" />
      <figure v-for="(l, i) in lines" :key="l.id">
        <figcaption>
          {{ text(`inside.${l.id}`) }} <b class="figure">{{ places(l.of(shown[0].frame), l.digits) }} {{ l.unit }}</b>
        </figcaption>
        <LineChart
          class="trace"
          :label="text('inside.line', { name: text(`inside.${l.id}`) })"
          :points="drawn[i]"
          :beside="sound?.[i]"
          :at="place"
          @at="goTo(sick.frames[$event].minute)"
        />
      </figure>
      <ChartTable :label="text('inside.against-time')" :heads="heads" :rows="rows" />
    </section>
  </div>
</template>

<style scoped>
.film {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 280px;
  gap: 12px;
}
.machines.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 380px), 1fr));
  gap: 10px;
}
.clocks {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 330px), 1fr));
  gap: 10px 22px;
}
.when {
  min-width: 64px;
  text-align: right;
  font-size: 19px;
}
.traces {
  display: grid;
  gap: 8px;
  align-content: start;
}
figure {
  margin: 0;
}
figcaption {
  display: flex;
  justify-content: space-between;
  font: 500 16px var(--label);
}
.trace {
  height: 58px;
}
@media (max-width: 900px) {
  .film {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
