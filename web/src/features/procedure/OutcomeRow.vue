<script setup lang="ts">
import { mdiChevronUp, mdiClose, mdiPencilOutline } from '@mdi/js'
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import NumberField from '@/controls/NumberField.vue'
import { figure, nameOf, text } from '@/words/words'
import { ofHundred } from './flow'
import { said } from './said'
import { leadsTo } from './step'

/** One for all: a list that is new would be laid out anew. */
const NONE: string[] = []
const OVER = 'over-limit'
type Outcome = Schema['ProcedureOutcome']

/**
 * What a test says, and where that leads: one of a step's bands, in a line. A press opens
 * it to be changed.
 */
const props = defineProps<{
  outcome: Outcome
  family: Schema['Family']
  test?: Schema['Test']
  /** What it can say, in words with a space between; of a number, where it can lie against the sheet. */
  words: string
  /** It gives a number, which can have bands of its own. */
  number: boolean
  unit?: string
  /** The step that is gone to, in words. */
  goes?: string
  /** Steps that can be gone to, by id. */
  steps: { value: string; title: string }[]
  /** The step that is gone to until another is chosen. */
  ahead: string
  /** Parts of the procedure that lie ahead, with a space between. */
  sections: string
  /** What of all machines takes it, and what of all comes to the step. */
  share?: number
  comes?: number
  /** Which of the step's it is. */
  place: number
  /** It is being changed. */
  open: boolean
}>()
const emit = defineEmits<{ change: [f: (o: Outcome) => void, name?: string]; remove: []; open: [open: boolean] }>()

const parting = computed(() => props.sections.split(' ').filter(Boolean))
const ways = computed(() =>
  ['next', 'goto', 'leave', ...(parting.value.length ? ['section'] : []), 'conclude', 'stop'].map((value) => ({
    value,
    title: text(`desk.then-${value}`),
  })),
)
const otherwise = computed(() => !!props.outcome.when?.includes('otherwise'))
const whens = computed(() =>
  props.words
    .split(' ')
    .filter(Boolean)
    .map((value) => ({ value, title: said(value) })),
)
const faults = computed(() =>
  props.family.faults.map((f) => ({ value: f.id, title: f.name })).sort((a, b) => a.title.localeCompare(b.title)),
)
const parts = computed(() => (props.test?.parts ?? []).map((p) => ({ value: p.id, title: p.name })))
/** What is nothing is left out, so that a pack carries only what is said. */
function set(key: 'from' | 'to', v?: number) {
  const change = (o: Outcome) => {
    if (v === undefined) delete o[key]
    else {
      o[key] = v
      // A band of its own does not go by the sheet as well; past the scale it may lie.
      if (o.when?.includes(OVER)) o.when = [OVER]
      else delete o.when
    }
  }
  emit('change', change, `${props.place} ${key}`)
}
function says(words: string[]) {
  emit('change', (o) => {
    delete o.when
    if (!words.length) return
    o.when = words
    if (words.every((w) => w === OVER)) return
    delete o.from
    delete o.to
  })
}
function then(way: string) {
  emit('change', (o) => {
    o.then = way
    for (const k of ['step', 'section', 'faults', 'reach', 'lateral', 'why'] as const) delete o[k]
    if (way === 'conclude') o.faults = []
    if (way === 'goto') o.step = props.ahead
    if (way === 'section') o.section = parting.value[0]
  })
}
const title = computed(() => {
  const o = props.outcome
  if (otherwise.value) return text('desk.otherwise')
  const band =
    o.from !== undefined && o.to !== undefined
      ? text('desk.from-to', { low: figure(o.from), high: figure(o.to) })
      : o.from !== undefined
        ? text('desk.or-more', { low: figure(o.from) })
        : o.to !== undefined
          ? text('desk.under', { high: figure(o.to) })
          : ''
  const part = o.part ? `${nameOf('part', o.part)}: ` : ''
  return part + ([...(o.when ?? []).map(said), band].filter(Boolean).join(', ') || text('desk.when-empty'))
})
const leads = computed(() => {
  const o = props.outcome
  if (o.then === 'conclude' || o.then === 'stop') return leadsTo(o) || text('desk.nothing-found')
  if (o.then === 'goto') return text('desk.goes-to', { step: props.goes ?? '' })
  if (o.then === 'section') return text('desk.goes-to', { step: o.section ?? '' })
  return text(`desk.then-${o.then}`)
})
</script>

<template>
  <fieldset class="outcome">
    <legend class="sr-only">{{ text('desk.band', { n: place + 1 }) }}</legend>
    <v-btn variant="text" class="line" :aria-expanded="open" @click="emit('open', !open)">
      <span class="says">
        <b>{{ title }}</b>
        <span>→ {{ leads }}</span>
      </span>
      <span v-if="share !== undefined && comes" class="figure muted share">{{
        text('desk.share-of', { share: ofHundred(share), all: ofHundred(comes) })
      }}</span>
      <v-icon :icon="open ? mdiChevronUp : mdiPencilOutline" size="20" />
    </v-btn>
    <template v-if="open">
      <div v-if="!otherwise" class="fields">
        <v-select
          v-if="parts.length"
          density="compact"
          :label="text('desk.part')"
          :items="parts"
          :model-value="outcome.part || parts[0].value"
          @update:model-value="
            emit('change', (o) => {
              if ($event === parts[0].value) delete o.part
              else o.part = $event
              o.when = []
              delete o.from
              delete o.to
            })
          "
        />
        <v-select
          v-if="whens.length"
          density="compact"
          multiple
          :label="text(number ? 'desk.by-sheet' : 'desk.says')"
          :items="whens"
          :model-value="outcome.when ?? NONE"
          @update:model-value="says"
        />
        <template v-if="number">
          <NumberField
            :label="text('desk.from')"
            :suffix="unit"
            :model-value="outcome.from"
            @update:model-value="set('from', $event)"
          />
          <NumberField
            :label="text('desk.to')"
            :suffix="unit"
            :model-value="outcome.to"
            @update:model-value="set('to', $event)"
          />
        </template>
      </div>
      <div class="fields">
        <v-select
          density="compact"
          :label="text('desk.then')"
          :items="ways"
          :model-value="outcome.then"
          @update:model-value="then"
        />
        <v-select
          v-if="outcome.then === 'goto'"
          density="compact"
          :label="text('desk.step')"
          :items="steps"
          :model-value="outcome.step"
          @update:model-value="emit('change', (o) => (o.step = $event))"
        />
        <v-select
          v-else-if="outcome.then === 'section'"
          density="compact"
          :label="text('desk.section')"
          :items="parting"
          :model-value="outcome.section"
          @update:model-value="emit('change', (o) => (o.section = $event))"
        />
        <v-autocomplete
          v-else-if="outcome.then === 'conclude'"
          class="wide"
          density="compact"
          multiple
          chips
          clear-on-select
          :label="text('desk.found')"
          :items="faults"
          :model-value="outcome.faults ?? NONE"
          @update:model-value="emit('change', (o) => (o.faults = $event))"
        />
        <v-text-field
          v-else-if="outcome.then === 'stop'"
          class="wide"
          density="compact"
          maxlength="1000"
          :label="text('desk.why')"
          :model-value="outcome.why ?? ''"
          @update:model-value="emit('change', (o) => (o.why = $event), `${place} why`)"
        />
      </div>
      <v-btn v-if="!otherwise" variant="text" density="compact" :prepend-icon="mdiClose" @click="emit('remove')">{{
        text('desk.remove-band')
      }}</v-btn>
    </template>
  </fieldset>
</template>

<style scoped>
.outcome {
  border: 1.5px solid var(--line);
  border-radius: 11px;
  background: var(--plaster);
  margin: 0;
  padding: 0 10px;
  min-width: 0;
}
.outcome:has(.fields) {
  padding-bottom: 10px;
}
.line {
  width: calc(100% + 20px);
  max-width: none;
  margin: 0 -10px;
  padding: 4px 10px;
  height: auto;
  min-height: 44px;
}
.line :deep(.v-btn__content) {
  width: 100%;
  display: flex;
  gap: 10px;
  text-align: left;
  white-space: normal;
  font: 500 16px/1.2 var(--label);
  letter-spacing: 0;
  text-transform: none;
}
.says {
  flex: 1;
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
  min-width: 0;
}
.share {
  white-space: nowrap;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 6px;
  padding-top: 8px;
}
.fields > * {
  flex: 1 1 88px;
  min-width: 0;
}
.fields > .wide {
  flex-basis: 100%;
}
</style>
