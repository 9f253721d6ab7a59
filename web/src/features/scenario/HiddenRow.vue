<script setup lang="ts">
import type { Schema } from '@/api/client'
import { text, wordOf } from '@/words/words'
import type { Hidden } from './useScenario'

/** A defect that is hidden: how far gone, which way, and what led to it. */
const props = defineProps<{
  kind?: Schema['FaultKind']
  causes: Schema['Named'][]
  /** A fault may be the cause of another. */
  faults: Schema['FaultKind'][]
  /** It is there, and has no part in the complaint. */
  also?: boolean
}>()
const emit = defineEmits<{ out: [] }>()
const f = defineModel<Hidden>({ required: true })
const causeName = (id: string) =>
  (props.causes.find((c) => c.id === id) ?? props.faults.find((x) => x.id === id))?.name.toLowerCase() ??
  id.replaceAll('-', ' ')
</script>

<template>
  <div class="fault" :class="{ also }">
    <b>{{ kind?.name ?? f.id }}</b>
    <template v-if="kind?.graded">
      <v-slider
        v-model="f.severity"
        class="gone"
        :color="also ? 'warning' : 'error'"
        :min="0.05"
        :max="1"
        :step="0.05"
        :name="text('job.gone', { item: kind?.name })"
        :value-format="({ value }) => `${Math.round(value * 100)} %`"
      />
      <span class="figure">{{ Math.round(f.severity * 100) }} %</span>
    </template>
    <span v-else class="muted">{{ text('job.there') }}</span>
    <v-select
      v-if="kind?.modes.length"
      v-model="f.mode"
      class="mode"
      density="compact"
      :aria-label="text('job.way', { item: kind?.name })"
      :items="kind?.modes.map((m) => ({ title: wordOf(m), value: m }))"
    />
    <v-select
      v-if="kind?.causes.length && !also"
      :model-value="f.cause ?? ''"
      class="mode"
      density="compact"
      :aria-label="text('job.led', { item: kind?.name })"
      :items="[
        { title: text('job.cause-open'), value: '' },
        ...(kind?.causes ?? []).map((c) => ({ title: causeName(c), value: c })),
      ]"
      @update:model-value="f = { ...f, cause: $event || undefined }"
    />
    <span v-if="also" class="small">{{ text('scene.no-part') }}</span>
    <v-btn @click="emit('out')">{{ text('job.take-out') }}</v-btn>
  </div>
</template>

<style scoped>
.fault {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
  min-height: 48px;
  background: var(--condemned-bg);
  color: var(--condemned-ink);
  border-radius: 10px;
  padding: 4px 6px 4px 14px;
}
.also {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.fault b {
  flex: 1 1 130px;
}
.gone {
  flex: 1 1 110px;
}
.mode {
  flex: 0 1 160px;
}
.muted {
  color: inherit;
}
.figure {
  min-width: 52px;
  font-size: 19px;
}
</style>
