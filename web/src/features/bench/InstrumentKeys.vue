<script setup lang="ts">
import WhyBtn from '@/controls/WhyBtn.vue'
import { computed, defineAsyncComponent, ref } from 'vue'
import type { Schema } from '@/api/client'
import SetupFields from './SetupFields.vue'
import { places, text } from '@/words/words'

const RopePull = defineAsyncComponent(() => import('@/looks/RopePull.vue'))

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
  'leak-down-pair': ['open', 'open-air'],
  tachometer: ['start', 'clip-and-start'],
  stopwatch: ['let-go', 'start-let-go'],
  'degree-mark': ['turn', 'to-firing'],
  'torque-wrench': ['pull', 'lean'],
  'steel-rule': ['lay', 'lay-rule'],
  jar: ['shake', 'shake-settle'],
}
</script>

<template>
  <SetupFields :setups="setups" :at="at.setup" :busy="busy" @set="(id, value) => act('set', { id, value })" />
  <template v-if="at.kind === 'compression-gauge'">
    <div v-if="at.test === 'compression-wet'" class="keys">
      <v-select
        v-model="oil"
        class="pick"
        :label="text('keys.oil-ml')"
        density="compact"
        :items="[0.5, 1, 2, 3, 5, 10].map((ml) => ({ title: `${ml} ml`, value: ml }))"
      />
      <v-btn class="grow" :disabled="busy" @click="act('oil', oil)">
        {{ at.second ? text('keys.oil-bore-in', { ml: at.second }) : text('keys.oil-bore') }}
      </v-btn>
    </div>
    <div class="keys">
      <WhyBtn :busy="busy" :not="at.pulls ? text('keys.zero-not') : ''" @click="act('zero')">{{
        text('keys.zero')
      }}</WhyBtn>
      <main-btn class="grow" :disabled="busy" @click="act('pull')">
        {{ text('keys.pull-rope', { pulls: at.pulls ?? 0 }) }}
      </main-btn>
      <WhyBtn :busy="busy" :not="at.pulls ? '' : text('keys.let-off-not')" @click="act('let-off')">{{
        text('keys.let-off')
      }}</WhyBtn>
      <v-btn :disabled="busy" :title="text('keys.purge-why')" @click="act('spin')"> {{ text('keys.purge') }} </v-btn>
    </div>
  </template>
  <div v-else-if="at.kind === 'spark-tester'" class="keys spark">
    <WhyBtn
      v-for="k in [
        { by: -0.5, id: 'in', sign: '−½' },
        { by: 0.5, id: 'out', sign: '+½' },
        { by: 2, id: 'out-2', sign: text('keys.mm-more', { mm: 2 }) },
      ]"
      :key="k.id"
      :busy="busy"
      :not="gap + k.by < 1 || gap + k.by > 20 ? text('keys.gap-not') : ''"
      :aria-label="text(`keys.gap-${k.id}`)"
      @click="act('gap', gap + k.by)"
    >
      {{ k.sign }}
    </WhyBtn>
    <main-btn :disabled="busy" @click="act('pull')">{{ text('keys.pull') }}</main-btn>
    <RopePull class="rope" :says="text('rope.by-hand')" :busy="busy" @drawn="act('pull', $event)" />
  </div>
  <div v-else-if="at.kind === 'meter'" class="keys">
    <v-btn :disabled="busy" @click="act('null')">{{ text('keys.null') }}</v-btn>
    <main-btn class="grow" :disabled="busy" @click="act('touch')">
      {{ text(at.test === 'kill-continuity' ? 'keys.to-kill' : 'keys.to-winding') }}
    </main-btn>
  </div>
  <main-btn v-else-if="at.kind === 'cup'" :disabled="busy" @click="act('run')">
    {{ text(at.test === 'fuel-flow' ? 'keys.into-cup' : 'keys.drain') }}
  </main-btn>
  <div
    v-else-if="at.kind === 'feeler' || at.kind === 'gauge'"
    class="blades"
    role="group"
    :aria-label="text(at.kind === 'gauge' ? 'keys.wires' : 'keys.blades')"
  >
    <v-btn
      v-for="b in family.blades"
      :key="b"
      :aria-pressed="at.blade_mm === b"
      :disabled="busy"
      @click="act('blade', b)"
    >
      {{ places(b, 2) }}
    </v-btn>
  </div>
  <div v-else-if="at.kind === 'line-gauge' || at.kind === 'crankcase-gauge'" class="keys">
    <v-btn :disabled="busy" @click="act('pump')">{{ text('keys.pump') }}</v-btn>
    <WhyBtn main class="grow" :busy="busy" :not="at.needle ? '' : text('keys.hold-not')" @click="act('hold')">
      {{ text('keys.hold') }}
    </WhyBtn>
  </div>
  <div v-else-if="at.kind === 'pop-off-gauge'" class="keys">
    <WhyBtn :busy="busy" :not="at.ready ? text('keys.squeeze-not') : ''" @click="act('squeeze', 5)">{{
      text('keys.squeeze-little')
    }}</WhyBtn>
    <WhyBtn
      main
      class="grow"
      :busy="busy"
      :not="at.ready ? text('keys.squeeze-not') : ''"
      @click="act('squeeze', 25)"
      >{{ text('keys.squeeze') }}</WhyBtn
    >
  </div>
  <div v-else-if="at.kind === 'screw'" class="keys">
    <main-btn class="grow" :disabled="busy" @click="act('turn', 0.125)">{{ text('keys.in-eighth') }}</main-btn>
    <v-btn :disabled="busy" @click="act('turn', 0.5)">{{ text('keys.in-half') }}</v-btn>
  </div>
  <main-btn v-else-if="single[at.kind]" :disabled="busy" @click="act(single[at.kind][0])">
    {{ text(`keys.${single[at.kind][1]}`) }}
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
.rope {
  grid-column: 1 / -1;
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
