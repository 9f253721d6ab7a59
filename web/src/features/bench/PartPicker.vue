<script setup lang="ts">
import type { Schema } from '@/api/client'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import { text } from '@/words/words'

/** Which part of a reading is in hand; those written down have a tick. */
defineProps<{
  parts: Schema['TestPart'][]
  at: string
  done: (part: Schema['TestPart']) => boolean
  busy?: boolean
}>()
const emit = defineEmits<{ pick: [id: string] }>()
</script>

<template>
  <ChoiceRow
    :items="parts.map((p) => ({ value: p.id, title: `${p.name}${done(p) ? ' ✓' : ''}` }))"
    :model-value="at"
    :label="text('bench.part')"
    :disabled="busy"
    @update:model-value="emit('pick', $event!)"
  />
</template>
