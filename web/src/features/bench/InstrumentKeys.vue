<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import SetupFields from './SetupFields.vue'

/** What the hands can do with the instrument, and how it is gone about. */
const props = defineProps<{ instrument: Schema['Instrument']; family: Schema['Family']; busy?: boolean }>()
const emit = defineEmits<{ act: [name: string, value?: unknown] }>()

const at = computed(() => props.instrument)
const act = (name: string, value?: unknown) => emit('act', name, value)
const setups = computed(() => props.family.setups.filter((s) => s.tests.includes(at.value.test)))
const gap = computed(() => at.value.gap_mm ?? 4)
const oil = ref(2)
// The single act of each instrument that has one, and whether it can be done again.
const single: Record<string, [act: string, label: string]> = {
  'leak-down-pair': ['open', 'Open the air'],
  tachometer: ['start', 'Clip on and start it'],
  stopwatch: ['let-go', 'Start it, then let go'],
  'degree-mark': ['turn', 'Turn to the firing point'],
  'torque-wrench': ['pull', 'Lean on it till it moves'],
  'steel-rule': ['lay', 'Lay the rule to it'],
  jar: ['shake', 'Shake it and let it settle'],
}
</script>

<template>
  <SetupFields :setups="setups" :at="at.setup" :busy="busy" @set="(id, value) => act('set', { id, value })" />
  <template v-if="at.kind === 'compression-gauge'">
    <div v-if="at.test === 'compression-wet'" class="keys">
      <v-select
        v-model="oil"
        class="pick"
        label="Oil, ml"
        density="compact"
        :items="[0.5, 1, 2, 3, 5, 10].map((ml) => ({ title: `${ml} ml`, value: ml }))"
      />
      <v-btn class="grow" :disabled="busy" @click="act('oil', oil)">
        Oil the bore{{ at.second ? ` · ${at.second} ml in` : '' }}
      </v-btn>
    </div>
    <div class="keys">
      <v-btn :disabled="busy || !!at.pulls" @click="act('zero')">Zero it</v-btn>
      <main-btn class="grow" :disabled="busy" @click="act('pull')"> Pull the rope · {{ at.pulls ?? 0 }} </main-btn>
      <v-btn :disabled="busy || !at.pulls" @click="act('let-off')">Let off</v-btn>
      <v-btn :disabled="busy" title="Turn it over to throw out fuel" @click="act('spin')"> Purge </v-btn>
    </div>
  </template>
  <div v-else-if="at.kind === 'spark-tester'" class="keys spark">
    <v-btn :disabled="busy || gap <= 1" aria-label="Gap 0.5 mm in" @click="act('gap', gap - 0.5)"> −½ </v-btn>
    <v-btn :disabled="busy || gap >= 20" aria-label="Gap 0.5 mm out" @click="act('gap', gap + 0.5)"> +½ </v-btn>
    <v-btn :disabled="busy || gap > 18" aria-label="Gap 2 mm out" @click="act('gap', gap + 2)"> +2 mm </v-btn>
    <main-btn :disabled="busy" @click="act('pull')">Pull</main-btn>
  </div>
  <div v-else-if="at.kind === 'meter'" class="keys">
    <v-btn :disabled="busy" @click="act('null')">Hold and null</v-btn>
    <main-btn class="grow" :disabled="busy" @click="act('touch')">
      {{ at.test === 'kill-continuity' ? 'To the kill lead and earth' : 'To the winding' }}
    </main-btn>
  </div>
  <main-btn v-else-if="at.kind === 'cup'" :disabled="busy" @click="act('run')">
    {{ at.test === 'fuel-flow' ? 'Let it run into the cup' : 'Open the drain' }}
  </main-btn>
  <div v-else-if="at.kind === 'feeler' || at.kind === 'gauge'" class="blades" role="group" aria-label="Blades, mm">
    <v-btn
      v-for="b in family.blades"
      :key="b"
      :aria-pressed="at.blade_mm === b"
      :disabled="busy"
      @click="act('blade', b)"
    >
      {{ b.toFixed(2) }}
    </v-btn>
  </div>
  <div v-else-if="at.kind === 'line-gauge' || at.kind === 'crankcase-gauge'" class="keys">
    <v-btn :disabled="busy" @click="act('pump')">Pump up to 50</v-btn>
    <main-btn class="grow" :disabled="busy || !at.needle" @click="act('hold')"> Shut it and wait a minute </main-btn>
  </div>
  <div v-else-if="at.kind === 'pop-off-gauge'" class="keys">
    <v-btn :disabled="busy || at.ready" @click="act('squeeze', 5)">Squeeze a little</v-btn>
    <main-btn class="grow" :disabled="busy || at.ready" @click="act('squeeze', 25)"> Squeeze </main-btn>
  </div>
  <div v-else-if="at.kind === 'screw'" class="keys">
    <main-btn class="grow" :disabled="busy" @click="act('turn', 0.125)">In by an eighth</main-btn>
    <v-btn :disabled="busy" @click="act('turn', 0.5)">In by a half</v-btn>
  </div>
  <main-btn v-else-if="single[at.kind]" :disabled="busy" @click="act(single[at.kind][0])">
    {{ single[at.kind][1] }}
  </main-btn>
</template>

<style scoped>
.keys {
  display: flex;
  gap: 6px;
}
.keys .v-btn {
  padding: 4px 9px;
}
.spark {
  display: grid;
  grid-template-columns: 52px 52px 1fr 1.4fr;
}
.pick {
  flex: 0 0 96px;
}
.blades {
  flex-shrink: 0;
  display: flex;
  gap: 5px;
  overflow-x: auto;
  padding: 3px 3px 8px;
  scrollbar-width: thin;
}
.blades .v-btn {
  flex: 0 0 54px;
  padding: 4px;
}
</style>
