<script setup lang="ts">
import type { Schema } from '@/api/client'
import { figure, nameOf, text } from '@/words/words'
import { ofHundred } from './flow'

/** Changes of one step that save minutes and lose nothing: a press takes one, and another takes it back. */
const props = defineProps<{
  moves: Schema['Move'][] | null
  looking: boolean
  steps: Schema['ProcedureStep'][]
  /** The change that was taken last, while it can be taken back. */
  taken?: string
}>()
const emit = defineEmits<{ take: [move: Schema['Move'], says: string]; back: []; look: []; stop: [] }>()

const title = (id?: string) => nameOf('test', props.steps.find((s) => s.id === id)?.test ?? '', 'title')
function says(m: Schema['Move']) {
  const step = m.kind === 'add' ? nameOf('test', m.added?.test ?? '', 'title') : title(m.step)
  if (m.kind === 'drop') return text('desk.move-drop', { step })
  const where = m.before ? text('desk.before', { step: title(m.before) }) : text('desk.at-end')
  return text(`desk.move-${m.kind}`, { step, where })
}
function gain(m: Schema['Move']) {
  const named = m.isolates >= 0.0005 ? text('desk.more-named', { n: ofHundred(m.isolates) }) : text('desk.nothing-lost')
  return `${text('desk.less', { minutes: figure(Math.round(m.saves_minutes * 10) / 10) })}, ${named}`
}
</script>

<template>
  <section class="better" :aria-label="text('desk.better')">
    <div class="row">
      <h2 class="grow">{{ text('desk.better') }}</h2>
      <v-btn v-if="looking" variant="text" density="compact" @click="emit('stop')">{{
        text('desk.stop-looking')
      }}</v-btn>
      <v-btn v-else-if="!moves" variant="text" density="compact" @click="emit('look')">{{
        text('desk.look-now')
      }}</v-btn>
    </div>
    <v-progress-linear v-if="looking" indeterminate color="secondary" :aria-label="text('desk.looking')" />
    <p v-if="taken" class="taken">
      <span>{{ text('desk.taken', { what: taken }) }}</span>
      <v-btn density="compact" @click="emit('back')">{{ text('desk.take-back') }}</v-btn>
    </p>
    <p v-if="moves?.length === 0" class="muted small">{{ text('desk.none-better') }}</p>
    <v-btn v-for="m in moves ?? []" :key="m.kind + m.step + m.before" class="offer" @click="emit('take', m, says(m))">
      <span>{{ says(m) }}</span>
      <b>{{ gain(m) }}</b>
    </v-btn>
  </section>
</template>

<style scoped>
.better {
  display: flex;
  flex-direction: column;
  gap: 5px;
  min-height: 0;
  overflow-y: auto;
  scrollbar-width: thin;
}
h2 {
  font-size: 17px;
}
.offer {
  flex-shrink: 0;
  justify-content: start;
  height: auto;
  min-height: 44px;
  padding: 4px 10px;
}
.offer :deep(.v-btn__content) {
  display: grid;
  justify-content: start;
  justify-items: start;
  gap: 2px;
  white-space: normal;
  text-align: left;
  width: 100%;
}
.offer b {
  color: var(--good);
}
.taken {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
  background: var(--good-bg);
  color: var(--good);
  border-radius: 10px;
  padding: 6px 10px;
}
</style>
