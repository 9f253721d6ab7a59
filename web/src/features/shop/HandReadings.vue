<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schema } from '@/api/client'
import PartFields from '@/features/bench/PartFields.vue'
import type { Written } from '@/features/bench/parts'
import WhyBtn from '@/controls/WhyBtn.vue'
import { nameOf, text } from '@/words/words'
import GaugePick from './GaugePick.vue'
import { fieldsOf, lacking, read, said, type HandReading } from './hand'

/** Readings of an engine as its instructor takes them, one of each test. */
const props = defineProps<{
  family: Schema['Family']
  title: string
  /** Tests that are worth reading again, because they were read before. */
  again?: string[]
}>()
const at = defineModel<HandReading[]>({ required: true })
const test = ref<string>()
const written = ref<Record<string, Written>>({})
const gauge = ref('')
watch(test, () => {
  written.value = {}
  gauge.value = ''
})
const chosen = computed(() => props.family.tests.find((t) => t.id === test.value))
const fields = computed(() => (chosen.value ? fieldsOf(chosen.value) : []))
const left = computed(() =>
  props.family.tests
    .filter((t) => t.kind !== 'run' && !at.value.some((r) => r.test === t.id))
    .map((t) => ({ value: t.id, title: t.title }))
    .sort((a, b) => Number(props.again?.includes(b.value)) - Number(props.again?.includes(a.value))),
)
const not = computed(() => {
  if (!chosen.value) return text('shop.choose-a-test')
  const part = lacking(chosen.value, written.value, false)
  return part ? text('shop.lacks', { part }) : ''
})
function add() {
  const r = read(chosen.value!, written.value, false)
  if (gauge.value) r.gauge = { id: gauge.value }
  at.value = [...at.value, r]
  test.value = undefined
}
</script>

<template>
  <fieldset class="stack">
    <legend>{{ title }}</legend>
    <ul v-if="at.length">
      <li v-for="r in at" :key="r.test">
        <span class="grow">{{ nameOf('test', r.test, 'title') }}</span>
        <b class="figure">{{ said(r) }}</b>
        <v-btn @click="at = at.filter((x) => x !== r)">{{ text('shop.take-out') }}</v-btn>
      </li>
    </ul>
    <p v-if="again?.some((t) => !at.some((r) => r.test === t))" class="muted small">
      {{
        text('shop.read-again', {
          tests: again
            .filter((t) => !at.some((r) => r.test === t))
            .map((t) => nameOf('test', t, 'title'))
            .join(', '),
        })
      }}
    </p>
    <v-autocomplete v-model="test" :items="left" hide-details :label="text('shop.test')" />
    <template v-for="p in fields" :key="p.id">
      <h4 v-if="fields.length > 1">{{ p.name }}</h4>
      <PartFields
        :model-value="written[p.id] ?? {}"
        :part="{ ...p, figure: undefined }"
        @update:model-value="written = { ...written, [p.id]: $event }"
      />
    </template>
    <GaugePick v-if="chosen?.kind === 'number'" v-model="gauge" :test="chosen" />
    <WhyBtn v-if="chosen" :not="not" @click="add">{{ text('shop.add-reading') }}</WhyBtn>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 1.5px solid var(--line);
  border-radius: 12px;
  padding: 12px;
}
legend {
  font: 600 16px/1 var(--label);
  padding: 0 6px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 12px;
  align-items: center;
  border-bottom: 1px solid var(--line-soft);
  padding: 4px 0;
}
</style>
