<script setup lang="ts">
import WhyBtn from '@/controls/WhyBtn.vue'
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Schema } from '@/api/client'
import ChartTable from '@/charts/ChartTable.vue'
import LineChart from '@/charts/LineChart.vue'
import CutawayDrawing from './CutawayDrawing.vue'
import { places, text } from '@/words/words'

/** The film of a run: the cutaway, what four things did against time, and play, pause and a scrubber. */
const props = defineProps<{ film: Schema['Inside'] }>()

const at = ref(0)
const playing = ref(false)
const frames = computed(() => props.film.frames)
const last = computed(() => frames.value.length - 1)
const frame = computed(() => frames.value[Math.min(at.value, last.value)])
const reel = useIntervalFn(
  () => {
    if (at.value >= last.value) playing.value = false
    else at.value++
  },
  120,
  { immediate: false },
)
function play() {
  if (at.value >= last.value) at.value = 0
  playing.value = true
}
watch(playing, (on) => (on ? reel.resume() : reel.pause()))
watch(
  () => props.film,
  () => ((at.value = 0), (playing.value = false)),
)

const lines = [
  { id: 'rpm', unit: 'rpm', of: (f: Schema['Frame']) => f.rpm, digits: 0 },
  { id: 'bowl', unit: '%', of: (f: Schema['Frame']) => f.bowl_share * 100, digits: 0 },
  { id: 'tank', unit: 'kPa', of: (f: Schema['Frame']) => f.tank_vacuum_kpa, digits: 2 },
  { id: 'lambda', unit: 'λ', of: (f: Schema['Frame']) => f.lambda, digits: 2 },
  { id: 'spark', unit: 'kV', of: (f: Schema['Frame']) => f.spark_kv, digits: 1 },
  { id: 'coil', unit: '°C', of: (f: Schema['Frame']) => f.coil_c, digits: 0 },
]
const drawn = computed(() => lines.map((l) => frames.value.map((f) => ({ x: f.minute, y: l.of(f) }))))
const heads = [text('state.minutes'), ...lines.map((l) => `${text(`inside.${l.id}`)}, ${l.unit}`)]
// A line of the table every half minute, and the last.
const rows = computed(() =>
  frames.value
    .filter((_, i) => i % 5 === 0 || i === last.value)
    .map((f) => [f.minute, ...lines.map((l) => l.of(f))].map((v, i) => +v.toFixed(i ? lines[i - 1].digits : 1))),
)
</script>

<template>
  <div class="film">
    <section class="panel">
      <CutawayDrawing :family="film.family" :frame="frame" />
      <div class="row play">
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
          :min="0"
          :max="last"
          :step="1"
          :value-format="() => text('inside.minutes', { minutes: frame.minute.toFixed(1) })"
          @start="playing = false"
        />
        <WhyBtn :not="at >= last ? text('state.last-step') : ''" :aria-label="text('state.step-on')" @click="at++"
          >→</WhyBtn
        >
        <span class="figure when">{{ text('tray.minutes', { minutes: frame.minute.toFixed(1) }) }}</span>
      </div>
    </section>
    <section class="panel traces" :aria-label="text('inside.against-time')">
      <figure v-for="(l, i) in lines" :key="l.id">
        <figcaption>
          {{ text(`inside.${l.id}`) }} <b class="figure">{{ places(l.of(frame), l.digits) }} {{ l.unit }}</b>
        </figcaption>
        <LineChart
          class="trace"
          :label="text('inside.line', { name: text(`inside.${l.id}`) })"
          :points="drawn[i]"
          :at="Math.min(at, last)"
          @at="((at = $event), (playing = false))"
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
.play {
  margin-top: 8px;
}
.when {
  min-width: 74px;
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
