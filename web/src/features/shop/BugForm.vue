<script setup lang="ts">
import { computed, watch } from 'vue'
import type { Schema } from '@/api/client'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import ProblemText from '@/words/ProblemText.vue'
import { nameOf, text, wordOf } from '@/words/words'
import HandReadings from './HandReadings.vue'
import type { HandReading } from './hand'

/** The card of a fault that goes into an engine, begun with how the sound one reads. */
const props = defineProps<{
  machine: string
  family: Schema['Family']
  busy?: boolean
  problems: Schema['Problem'][]
}>()
const emit = defineEmits<{ keep: [id: string, bug: Schema['Bug']] }>()

const draft = useLocalStorage(`engine.bug.${props.machine}`, {
  id: crypto.randomUUID() as string,
  fault: undefined as string | undefined,
  mode: undefined as string | undefined,
  done: '',
  undo: '',
  complaint: undefined as string | undefined,
  words: '',
  sound: [] as HandReading[],
})
const kind = computed(() => props.family.faults.find((f) => f.id === draft.value.fault))
watch(
  () => draft.value.fault,
  () => (draft.value.mode = kind.value?.modes[0]),
)
watch(
  () => draft.value.complaint,
  (now, was) => {
    const d = draft.value
    if (now && (!d.words.trim() || d.words === nameOf('complaint', was ?? '', 'said')))
      d.words = nameOf('complaint', now, 'said')
  },
)
const not = computed(() => {
  const d = draft.value
  if (!d.sound.length) return text('shop.read-one')
  if (!d.fault) return text('shop.choose-a-fault')
  if (!d.done.trim() || !d.undo.trim()) return text('shop.say-what')
  return d.complaint ? '' : text('shop.choose-a-complaint')
})
function keep() {
  const d = draft.value
  emit('keep', d.id, {
    fault: { id: d.fault!, severity: 1, mode: d.mode },
    done: d.done,
    undo: d.undo,
    complaint: d.complaint!,
    words: d.words,
    sound: d.sound,
  })
}
</script>

<template>
  <form class="panel stack" @submit.prevent="not || keep()">
    <h2>{{ text('shop.bug-it') }}</h2>
    <p class="muted small">{{ text('shop.bug-lead') }}</p>
    <HandReadings v-model="draft.sound" :family="family" :title="text('shop.reads.sound')" />
    <div class="row wrap">
      <v-autocomplete
        v-model="draft.fault"
        class="grow"
        hide-details
        :label="text('shop.fault')"
        :items="family.faults.map((f) => ({ value: f.id, title: f.name }))"
      />
      <v-select
        v-if="kind?.modes.length"
        v-model="draft.mode"
        class="grow"
        hide-details
        :label="text('shop.way')"
        :items="kind.modes.map((m) => ({ value: m, title: wordOf(m) }))"
      />
    </div>
    <v-textarea v-model="draft.done" rows="2" auto-grow hide-details maxlength="500" :label="text('shop.done-what')" />
    <v-textarea v-model="draft.undo" rows="2" auto-grow hide-details maxlength="500" :label="text('shop.undo')" />
    <div class="row wrap">
      <v-select
        v-model="draft.complaint"
        class="grow"
        hide-details
        :label="text('shop.complaint')"
        :items="family.complaints.map((c) => ({ value: c.id, title: c.name }))"
      />
      <v-text-field v-model="draft.words" class="grow" hide-details maxlength="500" :label="text('shop.words')" />
    </div>
    <p class="muted small">{{ text('shop.cautions') }}</p>
    <p v-for="p in problems" :key="p.path + p.code" class="refusal" role="alert"><ProblemText :of="p" /></p>
    <WhyBtn main type="submit" :not="not" :busy="busy">{{ text('shop.keep-bug') }}</WhyBtn>
  </form>
</template>
