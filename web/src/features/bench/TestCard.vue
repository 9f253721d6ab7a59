<script setup lang="ts">
import { text } from '@/words/words'

/**
 * A test in the tray: what it is, and what it costs here and now. All that it shows comes
 * one by one and not as objects, so that an act at the bench draws no card anew that says
 * the same as before.
 */
defineProps<{
  title: string
  minutes: number
  /** It lasts as long as one lets it. */
  long?: boolean
  /** Minutes for the covers that are still on. */
  access?: number
  /** What share of the doubt it is expected to take away, where that has been asked. */
  halves?: number
  near?: boolean
  chosen?: boolean
  busy?: boolean
}>()
const emit = defineEmits<{ choose: [] }>()
const tenths = (n: number) => Math.round(n * 10) / 10
</script>

<template>
  <v-btn class="card" :class="{ on: chosen, near }" :aria-pressed="chosen" :disabled="busy" @click="emit('choose')">
    <b>{{ title }}</b>
    <span
      >{{ long ? text('tray.up-to-you') : text('tray.minutes', { minutes: tenths(minutes) })
      }}<template v-if="access">{{ text('tray.and-covers', { minutes: access }) }}</template
      ><template v-if="halves !== undefined">{{
        text('tray.takes-off', { percent: Math.round(halves * 100) })
      }}</template></span
    >
  </v-btn>
</template>
