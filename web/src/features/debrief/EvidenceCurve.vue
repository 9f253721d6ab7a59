<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import ChartTable from '@/charts/ChartTable.vue'
import LineChart from '@/charts/LineChart.vue'
import { text } from '@/words/words'

/** What each minute taught: bits left to know against minutes spent, a step down for each thing learned. */
const props = defineProps<{ points: Schema['Point'][]; at: number; step: (p: Schema['Point']) => string }>()
const emit = defineEmits<{ at: [i: number] }>()

const line = computed(() => props.points.map((p) => ({ x: p.minutes, y: p.bits })))
const rows = computed(() => props.points.map((p) => [props.step(p), p.minutes, +p.bits.toFixed(1), p.candidates]))
const heads = ['step', 'minutes', 'bits-left', 'suspects-left'].map((h) => text(`debrief.${h}`))
</script>

<template>
  <LineChart
    class="curve"
    steps
    :label="text('debrief.curve')"
    :points="line"
    :at="at"
    :axes="{ x: text('state.minutes') }"
    @at="emit('at', $event)"
  />
  <div class="as-table"><ChartTable :label="text('debrief.curve')" :heads="heads" :rows="rows" /></div>
</template>

<style scoped>
.curve {
  height: 150px;
}
/* On the line of the axis' name. */
.as-table {
  position: relative;
  margin-top: -34px;
}
</style>
