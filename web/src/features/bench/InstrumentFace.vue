<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { text } from '@/words/words'
import CompressionGauge from '@/instruments/CompressionGauge.vue'
import DialFace from '@/instruments/DialFace.vue'
import DigitReadout from '@/instruments/DigitReadout.vue'
import FeelerSet from '@/instruments/FeelerSet.vue'
import LeakDownPair from '@/instruments/LeakDownPair.vue'
import MeasuringCup from '@/instruments/MeasuringCup.vue'
import OhmMeter from '@/instruments/OhmMeter.vue'
import ScrewTurns from '@/instruments/ScrewTurns.vue'
import SparkTester from '@/instruments/SparkTester.vue'
import SteelRule from '@/instruments/SteelRule.vue'
import WaterJar from '@/instruments/WaterJar.vue'

/** The instrument in hand, as it would be seen. */
const props = defineProps<{ instrument: Schema['Instrument'] }>()

const at = computed(() => props.instrument)
const needle = computed(() => at.value.needle ?? 0)
const second = computed(() => at.value.second ?? 0)
const setup = (id: string) => String(at.value.setup[id] ?? '')
const hiss = computed(() => (at.value.seen?.hiss ? text(`seen.hiss.${at.value.seen.hiss}`) : ''))
const notes = computed(() =>
  Object.entries(at.value.seen ?? {})
    .filter(([part]) => part !== 'hiss')
    .map(([part, word]) => text(`seen.${part}.${word}`)),
)
</script>

<template>
  <CompressionGauge v-if="at.kind === 'compression-gauge'" :psi="needle" :scale="at.scale!" :beyond="at.beyond" />
  <SparkTester
    v-else-if="at.kind === 'spark-tester'"
    :gap="at.gap_mm ?? 0"
    :spark="at.spark"
    :earth="setup('earth')"
    :scale="at.scale!"
  />
  <OhmMeter
    v-else-if="at.kind === 'meter'"
    :display="at.display ?? ''"
    :range="setup('range')"
    :leads="at.leads"
    :coil="at.coil_c"
  />
  <MeasuringCup
    v-else-if="at.kind === 'cup'"
    :ml="needle"
    :scale="at.scale!"
    :seconds="at.seconds ?? 0"
    :timed="at.test === 'fuel-flow'"
  />
  <LeakDownPair
    v-else-if="at.kind === 'leak-down-pair'"
    :supply="second"
    :lost="needle"
    :scale="at.scale!"
    :heard="hiss"
  />
  <DigitReadout v-else-if="at.kind === 'tachometer'" :display="at.display ?? ''" :per-turn="setup('pulses_per_rev')" />
  <FeelerSet
    v-else-if="at.kind === 'feeler' || at.kind === 'gauge'"
    :blade="at.blade_mm"
    :heard="at.heard"
    :wire="setup('gauge_form') === 'wire'"
  />
  <DialFace
    v-else-if="at.kind === 'stopwatch'"
    name="Stopwatch"
    :value="at.seconds ?? 0"
    :scale="at.scale!"
    :beyond="at.beyond"
    unit="s"
    :from="0"
    :to="360"
    :said="at.heard === 'runs-on' ? text('face.runs-on') : ''"
  />
  <DialFace
    v-else-if="at.kind === 'degree-mark'"
    name="Degree wheel"
    :value="needle"
    :scale="at.scale!"
    :beyond="at.beyond"
    unit="° before top"
    :from="-180"
    :to="180"
  />
  <DialFace
    v-else-if="at.kind === 'torque-wrench'"
    name="Torque wrench"
    :value="needle"
    :scale="at.scale!"
    :beyond="at.beyond"
    unit="N·m"
  />
  <DialFace
    v-else-if="at.kind === 'pop-off-gauge'"
    name="Pop-off gauge"
    :value="needle"
    :highest="second"
    :scale="at.scale!"
    :beyond="at.beyond"
    unit="kPa"
    :said="at.heard === 'lets-go' ? text('face.has-let-go') : ''"
  />
  <DialFace
    v-else-if="at.kind === 'line-gauge' || at.kind === 'crankcase-gauge'"
    name="Pressure gauge"
    :value="needle"
    :highest="second"
    :scale="at.scale!"
    :beyond="at.beyond"
    unit="kPa"
    :said="at.seconds ? 'A minute has gone by.' : ''"
  />
  <WaterJar v-else-if="at.kind === 'jar'" :boundary="needle" :water="second" :shaken="at.ready" :scale="at.scale!" />
  <SteelRule v-else-if="at.kind === 'steel-rule'" :mm="at.ready ? needle : undefined" :scale="at.scale!" />
  <ScrewTurns v-else-if="at.kind === 'screw'" :turns="at.turns ?? 0" :seated="at.heard === 'seats'" />
  <p v-for="n in notes" :key="n" class="note" role="status">{{ n }}</p>
</template>

<style scoped>
.note {
  text-align: center;
  font: 500 16px var(--label);
}
</style>
