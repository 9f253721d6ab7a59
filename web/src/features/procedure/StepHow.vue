<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import SetupFields from '@/features/bench/SetupFields.vue'
import { nameOf, text } from '@/words/words'

type Step = Schema['ProcedureStep']
// One for all: a list that is new would be laid out anew at every change.
const NOTHING: string[] = []
const UNSET = {}

/** How a step is gone about: the set-up to teach, a note, and the precautions before it. */
const props = defineProps<{
  step: Step
  family: Schema['Family']
  /** Precautions that its hazards ask for and that are nowhere on the way, with a space between. */
  asked: string
}>()
const emit = defineEmits<{ edit: [f: (s: Step) => void, name?: string] }>()

const test = computed(() => props.family.tests.find((t) => t.id === props.step.test))
const setups = computed(() => props.family.setups.filter((s) => test.value && s.tests.includes(test.value.id)))
const taught = computed(() => Object.keys(props.step.setup ?? {}).length)
const precautions = computed(() => props.family.actions.map((a) => ({ value: a.id, title: a.name })))
const cautions = computed(() => props.family.hazards.filter((h) => test.value?.hazards.includes(h.id)))
const wanted = computed(() => props.asked.split(' ').filter(Boolean))
</script>

<template>
  <div class="how">
    <template v-if="setups.length">
      <h2>{{ text('desk.to-teach') }}</h2>
      <SetupFields
        :setups="setups"
        :at="step.setup ?? UNSET"
        @set="(id, value) => emit('edit', (s) => (s.setup = { ...s.setup, [id]: value }), `setup ${id}`)"
      />
      <v-btn v-if="taught" variant="text" @click="emit('edit', (s) => delete s.setup)">{{
        text('desk.as-master')
      }}</v-btn>
    </template>
    <v-textarea
      density="compact"
      maxlength="1000"
      :label="text('desk.note')"
      :model-value="step.note ?? ''"
      @update:model-value="emit('edit', (s) => ($event ? (s.note = $event) : delete s.note), 'note')"
    />
    <v-autocomplete
      density="compact"
      multiple
      chips
      clear-on-select
      :label="text('desk.precautions')"
      :items="precautions"
      :model-value="step.precautions ?? NOTHING"
      @update:model-value="emit('edit', (s) => (s.precautions = $event))"
    />
    <v-btn v-for="a in wanted" :key="a" @click="emit('edit', (s) => (s.precautions = [...(s.precautions ?? []), a]))">
      {{ text('desk.add-precaution', { action: nameOf('action', a) }) }}
    </v-btn>
    <p v-for="h in cautions" :key="h.id" class="caution small">{{ h.name }}</p>
  </div>
</template>

<style scoped>
.how {
  display: grid;
  gap: 9px;
}
h2 {
  font-size: 17px;
}
.caution {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 10px;
  padding: 8px 12px;
}
</style>
