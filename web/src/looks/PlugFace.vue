<script setup lang="ts">
import '@/words/hear'
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import { scatter } from './seed'
import { mix } from './seen'
import { text } from '@/words/words'

/**
 * The business end of a plug from its state, end on and from the side, where it can be turned.
 * The words for it are the reader's to find.
 */
const props = defineProps<{ plug: Schema['PlugSeen']; says: string }>()
const turn = ref(70) // so that the strap shows from the side, and the gap under it

const SOOT = [40, 36, 32]
const TAN = [201, 162, 118]
const WHITE = [251, 250, 245]
const nose = computed(() => {
  const { tone, wet, oil } = props.plug
  const black = tone > -0.4 ? -0.5 * tone : 0.6 + 0.8 * (-tone - 0.5)
  const base = tone < 0 ? mix(TAN, SOOT, black) : mix(TAN, WHITE, tone)
  if (oil) return mix([90, 74, 52], [26, 22, 18], oil)
  return wet ? mix([185, 165, 138], [120, 106, 80], wet) : base
})
const shell = computed(() => {
  const dark = Math.max(props.plug.oil, Math.max(0, -props.plug.tone - 0.25))
  return mix([154, 163, 157], [52, 48, 43], Math.min(1, dark))
})
/** Soot lies in flakes, and burnt white in small beads. */
const flakes = computed(() => (props.plug.oil ? 0 : Math.round(Math.max(0, -props.plug.tone - 0.3) * 130)))
const beads = computed(() => Math.round(Math.max(0, props.plug.tone - 0.3) * 24))
const drops = computed(() => Math.round(props.plug.wet * 7))
const shine = computed(() => 0.34 * Math.max(props.plug.wet, props.plug.oil * 0.6))
/** How far the strap stands off, in the drawing: a tenth of a millimetre shows. */
const gap = computed(() => Math.min(34, 4 + 18 * props.plug.gap_mm))

/** From the side: the strap goes round with the plug, and a crack is on one side of the nose. */
const CRACK_AT = 140
const angle = computed(() => (turn.value * Math.PI) / 180)
const strap = computed(() => 270 + 34 * Math.sin(angle.value))
const before = computed(() => Math.cos(angle.value) > 0)
const crack = computed(() => {
  const at = angle.value - (CRACK_AT * Math.PI) / 180
  return props.plug.cracked && Math.cos(at) > 0.15 ? 270 + 20 * Math.sin(at) : undefined
})
</script>

<template>
  <figure class="drawn">
    <svg viewBox="0 0 360 190" role="img" :aria-label="says">
      <circle cx="94" cy="95" r="86" :fill="shell" stroke="var(--ink)" stroke-width="3" />
      <circle cx="94" cy="95" r="60" fill="#1c2322" />
      <circle cx="94" cy="95" r="43" :fill="nose" />
      <circle v-if="shine" cx="86" cy="84" r="38" fill="#fff" :opacity="shine" />
      <circle
        v-for="i in flakes"
        :key="`f${i}`"
        fill="#0d0b0a"
        :cx="94 + 82 * Math.sqrt(scatter(i)) * Math.cos(i * 2.4)"
        :cy="95 + 82 * Math.sqrt(scatter(i)) * Math.sin(i * 2.4)"
        :r="1.4 + 3 * scatter(i, 3)"
      />
      <circle
        v-for="i in beads"
        :key="`b${i}`"
        fill="#c4ccc8"
        :cx="94 + 36 * Math.cos(i * 2.1)"
        :cy="95 + 36 * Math.sin(i * 1.7)"
        r="1.7"
      />
      <path
        v-for="i in drops"
        :key="`d${i}`"
        fill="#d9a441"
        fill-opacity="0.75"
        stroke="#fff"
        stroke-opacity="0.5"
        :d="`M${60 + 66 * scatter(i, 5)} ${96 + 50 * scatter(i, 8)}q9 14 0 20q-9-6 0-20z`"
      />
      <circle cx="94" cy="95" :r="plug.tone > 0.4 ? 9 : 12" fill="#6d746f" stroke="#20302e" stroke-width="1.5" />
      <path
        d="M174 126q-30 22-66-8l-6-22q-4-10-10-2"
        fill="none"
        stroke="#7d857f"
        stroke-width="14"
        stroke-linecap="round"
      />

      <!-- From the side -->
      <rect x="222" y="112" width="96" height="74" rx="4" :fill="shell" stroke="var(--ink)" stroke-width="2" />
      <path v-for="i in 5" :key="`t${i}`" :d="`M222 ${112 + i * 13}h96`" stroke="#20302e" stroke-opacity="0.5" />
      <path
        v-if="!before"
        :d="`M${strap} 112V${58 - gap}H270`"
        fill="none"
        stroke="#7d857f"
        stroke-width="13"
        stroke-linejoin="round"
      />
      <path d="M238 112L254 62h32l16 50z" :fill="nose" stroke="#20302e" stroke-width="1.2" />
      <path v-if="shine" d="M250 108l12-44h10l-8 44z" fill="#fff" :opacity="shine" />
      <circle
        v-for="i in flakes"
        :key="`s${i}`"
        fill="#0d0b0a"
        :cx="246 + 48 * scatter(i, 11)"
        :cy="72 + 40 * scatter(i, 13)"
        :r="1 + 2 * scatter(i, 3)"
      />
      <path
        v-for="i in drops"
        :key="`e${i}`"
        fill="#d9a441"
        fill-opacity="0.75"
        :d="`M${248 + 44 * scatter(i, 17)} ${74 + 24 * scatter(i, 19)}q6 10 0 14q-6-4 0-14z`"
      />
      <path
        v-if="crack !== undefined"
        :d="`M${crack} 66l5 12-4 13 6 19`"
        fill="none"
        stroke="#20302e"
        stroke-width="1.8"
      />
      <rect x="264" y="50" width="12" height="14" fill="#6d746f" stroke="#20302e" />
      <path
        v-if="before"
        :d="`M${strap} 112V${46 - gap}H270`"
        fill="none"
        stroke="#7d857f"
        stroke-width="13"
        stroke-linejoin="round"
      />
    </svg>
    <div class="below">
      <figcaption>{{ says }}</figcaption>
      <v-slider
        v-model="turn"
        hide-details
        density="compact"
        :min="0"
        :max="360"
        :step="10"
        :aria-label="text('plug.turn')"
        :title="text('plug.turn')"
      />
    </div>
  </figure>
</template>

<style scoped>
svg {
  max-height: 190px;
}
.below {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 116px;
  gap: 10px;
  align-items: center;
}
</style>
