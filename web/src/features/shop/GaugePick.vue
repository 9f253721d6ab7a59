<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { text } from '@/words/words'
import { caution, useInstruments } from './useInstruments'

/** Which instrument of the register a reading was made with, and what is known of it. */
const props = defineProps<{ test: Schema['Test']; busy?: boolean }>()
const code = defineModel<string>({ default: '' })
const { reading } = useInstruments()
const here = computed(() => reading(props.test.id))
const items = computed(() => [
  { value: '', title: text('shop.no-gauge') },
  ...here.value.map((i) => ({ value: i.code, title: `${i.code} ${i.name}` })),
])
const taken = computed(() => here.value.find((i) => i.code === code.value))
const says = computed(() => (taken.value ? caution(taken.value, props.test.id, props.test.unit ?? '') : ''))
</script>

<template>
  <div v-if="here.length" class="stack">
    <v-select v-model="code" :items="items" hide-details :label="text('shop.gauge')" :disabled="busy" />
    <p v-if="says" class="caution" role="status"><b aria-hidden="true">!</b> {{ says }}</p>
  </div>
</template>

<style scoped>
.caution {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 10px;
  padding: 8px 12px;
}
</style>
