<script setup lang="ts">
import '@/words/hear'
import { computed, type Component } from 'vue'
import type { Schema } from '@/api/client'
import ChokePlate from './ChokePlate.vue'
import CoolingFins from './CoolingFins.vue'
import FeelTrace from './FeelTrace.vue'
import FilterPleats from './FilterPleats.vue'
import FloatBowl from './FloatBowl.vue'
import FuelGlass from './FuelGlass.vue'
import GasketPrint from './GasketPrint.vue'
import HeadDeck from './HeadDeck.vue'
import JetBore from './JetBore.vue'
import KeyWay from './KeyWay.vue'
import MembraneSheet from './MembraneSheet.vue'
import MeshScreen from './MeshScreen.vue'
import OilStick from './OilStick.vue'
import PistonPort from './PistonPort.vue'
import PlugFace from './PlugFace.vue'
import RopePull from './RopePull.vue'
import SoundTrace from './SoundTrace.vue'
import SparkShow from './SparkShow.vue'
import SprayTrace from './SprayTrace.vue'

/** What an eye, ear or finger meets, drawn where it can be drawn, and always in words that do not name it. */
const props = defineProps<{ look: Schema['Look'] }>()

const scenes: Record<string, Component> = {
  'look-filter': FilterPleats,
  'look-choke': ChokePlate,
  'look-arrestor': MeshScreen,
  'look-fins': CoolingFins,
  'look-oil': OilStick,
  'look-fuel': FuelGlass,
  'bowl-look': FloatBowl,
  'look-piston': PistonPort,
  'diaphragm-look': MembraneSheet,
  'gasket-look': GasketPrint,
  'jet-look': JetBore,
  'key-look': KeyWay,
  'passage-trace': SprayTrace,
  'head-look': HeadDeck,
  'spark-plug-earthed': SparkShow,
  'oil-lead-off': SparkShow,
  'spark-inline': SparkShow,
  'thumb-hole': FeelTrace,
  'vent-blow': FeelTrace,
  'filter-blow': FeelTrace,
  'primer-press': FeelTrace,
  'magnet-pull': FeelTrace,
  'joint-wiggle': FeelTrace,
  'vent-hiss': SoundTrace,
  'fuel-cut-click': SoundTrace,
}
const scene = computed(() => (props.look.seen ? scenes[props.look.test] : undefined))
const extra = computed(() => {
  const { test, seen } = props.look
  switch (scene.value) {
    case FeelTrace:
      return { seen, test }
    case SparkShow:
      return { seen, lamp: test === 'spark-inline' }
    case SoundTrace:
      return seen!.click ? { scene: 'clicks' } : { scene: seen!.hiss ? 'hiss' : 'silent', loudness: seen!.hiss }
  }
  return { seen }
})
</script>

<template>
  <PlugFace v-if="look.plug" :plug="look.plug" :says="look.text" :class="{ dim: look.dim }" />
  <RopePull v-else-if="look.rope" :rope="look.rope" :says="look.text" />
  <figure v-else-if="scene" class="drawn" :class="{ dim: look.dim }">
    <svg viewBox="0 0 360 184" role="img" :aria-label="look.text">
      <rect width="360" height="184" rx="10" class="ground" />
      <component :is="scene" v-bind="extra" />
    </svg>
    <figcaption>
      <span role="status">{{ look.text }}</span>
    </figcaption>
  </figure>
  <p v-else class="told" role="status">{{ look.text }}</p>
</template>

<style scoped>
/* By little light there is less to see: darker, and hardly any colour. */
.dim :deep(svg) {
  filter: brightness(0.32) saturate(0.35) contrast(0.8);
}
svg {
  max-height: 180px;
}
.ground {
  fill: #e8e2d2;
}
:deep(text) {
  font: 600 14px var(--label);
  fill: #20302e;
  text-anchor: middle;
  dominant-baseline: central;
}
:deep(.light) {
  fill: #dfe9e4;
}
:deep(.start) {
  text-anchor: start;
}
:deep(.end) {
  text-anchor: end;
}
figcaption {
  margin-top: 6px;
}
.told {
  font: 600 21px/1.25 var(--label);
}
</style>
