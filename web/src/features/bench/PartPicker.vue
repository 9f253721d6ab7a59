<script setup lang="ts">
import type { Schema } from '@/api/client'
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
  <VBtnToggle
    role="group"
    class="parts"
    :model-value="at"
    :aria-label="text('bench.part')"
    mandatory
    @update:model-value="emit('pick', $event)"
  >
    <VBtn v-for="p in parts" :key="p.id" :value="p.id" :disabled="busy">{{ p.name }}{{ done(p) ? ' ✓' : '' }}</VBtn>
  </VBtnToggle>
</template>

<style scoped>
.parts {
  flex-wrap: wrap;
  height: auto;
}
.parts .v-btn {
  flex: 1;
  height: 38px;
}
</style>
