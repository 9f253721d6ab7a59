<script setup lang="ts">
import { computed } from 'vue'

/** The business end of a plug, from its state. The words for it are the reader's to find. */
const props = defineProps<{ face: string; text: string }>()

const look = computed(() => {
  const nose =
    {
      tan: '#c9a276',
      dry: '#efe6d6',
      damp: '#b9a58a',
      wet: '#8f8168',
      sooty: '#2b2724',
      oily: '#1d1a17',
      white: '#fbfaf5',
      cracked: '#d8c3a0',
    }[props.face] ?? '#d8c3a0'
  const shell = ['sooty', 'oily'].includes(props.face) ? '#3a3632' : '#9aa39d'
  return {
    nose,
    shell,
    wet: props.face === 'wet',
    damp: props.face === 'damp',
    oily: props.face === 'oily',
    soot: props.face === 'sooty',
    crack: props.face === 'cracked',
    burnt: props.face === 'white',
  }
})
</script>

<template>
  <figure class="drawn">
    <svg viewBox="0 0 360 190" role="img" :aria-label="text">
      <circle cx="180" cy="95" r="88" :fill="look.shell" stroke="var(--ink)" stroke-width="3" />
      <circle cx="180" cy="95" r="62" fill="#1c2322" />
      <circle cx="180" cy="95" r="44" :fill="look.nose" />
      <circle
        v-if="look.damp || look.wet || look.oily"
        cx="172"
        cy="84"
        r="40"
        fill="#fff"
        :opacity="look.oily ? 0.16 : look.wet ? 0.28 : 0.12"
      />
      <g v-if="look.soot" fill="#0d0b0a">
        <circle
          v-for="i in 46"
          :key="i"
          :cx="180 + ((i * 71) % 83) * Math.cos(i * 2.4)"
          :cy="95 + ((i * 53) % 83) * Math.sin(i * 2.4)"
          :r="1.5 + (i % 4)"
        />
      </g>
      <g v-if="look.wet" fill="#d9a441" fill-opacity="0.75" stroke="#fff" stroke-opacity="0.5">
        <path
          d="M212 118q10 16 0 22q-10-6 0-22zM150 128q8 14 0 19q-8-5 0-19zM196 152q7 12 0 16q-7-4 0-16zM232 96q7 12 0 16q-7-4 0-16z"
        />
      </g>
      <path v-if="look.crack" d="M150 72l14 12-4 14 16 18" fill="none" stroke="#20302e" stroke-width="1.6" />
      <g v-if="look.burnt" fill="#cfd6d2">
        <circle v-for="i in 18" :key="i" :cx="180 + 34 * Math.cos(i)" :cy="95 + 34 * Math.sin(i * 1.7)" r="1.6" />
      </g>
      <circle cx="180" cy="95" :r="look.burnt ? 9 : 12" fill="#6d746f" stroke="#20302e" stroke-width="1.5" />
      <path
        d="M262 128q-30 22-66-10l-6-22q-4-10-10-2"
        fill="none"
        stroke="#7d857f"
        stroke-width="15"
        stroke-linecap="round"
      />
    </svg>
    <figcaption>{{ text }}</figcaption>
  </figure>
</template>

<style scoped>
svg {
  max-height: 190px;
}
figcaption {
  margin-top: 6px;
}
</style>
