<script setup lang="ts">
import { computed } from 'vue'
import { scatter, upTo } from './seed'
import { mix, type Seen } from './seen'
import { text } from '@/words/words'

/** The oil stick wiped, dipped and drawn: where the film ends against its two marks. */
const props = defineProps<{ seen: Seen }>()
/** The level is 1 at the upper mark and 0.75 at the lower one. */
const at = (level: number) => 300 - (level - 0.2) * 172
const x = computed(() => Math.max(34, at(props.seen.level)))
const film = computed(() => mix([93, 58, 18], [196, 146, 62], props.seen.thin))
</script>

<template>
  <rect x="30" y="70" width="280" height="34" rx="10" fill="#aeb7b4" stroke="#39423f" stroke-width="2.5" />
  <path :d="`M${x} 72q6 8 0 16t4 15H300q9 0 9-10V82q0-10-9-10z`" :fill="film" :opacity="0.92 - 0.45 * seen.thin" />
  <path d="M40 76H296" stroke="#fff" stroke-width="3" :opacity="0.25 + 0.4 * seen.thin" />
  <path
    v-for="i in upTo(seen.thin ? Math.round(2 + 6 * seen.thin) : 0)"
    :key="i"
    :d="`M${x + 14 + i * 22} 103v${10 + 34 * scatter(i, 2)}`"
    :stroke="film"
    stroke-width="5"
    stroke-linecap="round"
    opacity="0.7"
  />
  <g v-for="m in [0.75, 1]" :key="m">
    <path :d="`M${at(m)} 62v50`" stroke="#20302e" stroke-width="4" />
    <text :x="at(m)" y="48">{{ text(m === 1 ? 'look.upper' : 'look.lower') }}</text>
  </g>
  <path d="M30 87H6" stroke="#39423f" stroke-width="10" stroke-linecap="round" />
</template>
