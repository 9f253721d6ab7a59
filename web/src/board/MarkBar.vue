<script setup lang="ts">
import { computed } from 'vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { MARKS, upTo, type Mark, type Marks, type Reach } from './marks'
import { text } from '@/words/words'

/** What can be said of the reach in focus, by hand. */
const props = defineProps<{ reaches: Reach[]; marks: Marks; at: string; busy?: boolean; undo?: boolean }>()
const emit = defineEmits<{ mark: [reach: string, mark: Mark]; through: [reach: string]; undo: [] }>()

const reach = computed(() => props.reaches.find((r) => r.id === props.at))
const through = computed(() => upTo(props.reaches, props.at, props.marks).length)
</script>

<template>
  <div v-if="reach" class="bar" role="group" :aria-label="text('board.mark', { name: reach.name })">
    <span class="figure name">{{ reach.name }}</span>
    <v-btn
      v-for="m in MARKS"
      :key="m.name"
      :class="m.mark || 'none'"
      :aria-pressed="(marks[at] ?? '') === m.mark"
      :disabled="busy"
      :title="text('board.key', { key: m.key.toUpperCase() })"
      @click="emit('mark', at, m.mark)"
    >
      {{ m.name }}
    </v-btn>
    <WhyBtn
      :busy="busy"
      :not="through < 2 ? text('board.through-not') : ''"
      :title="through < 2 ? undefined : text('board.through-why')"
      @click="emit('through', at)"
    >
      {{ text('board.through') }}
    </WhyBtn>
    <WhyBtn
      :busy="busy"
      :not="undo ? '' : text('board.undo-not')"
      :title="undo ? text('board.key', { key: 'Z' }) : undefined"
      @click="emit('undo')"
    >
      {{ text('board.undo') }}
    </WhyBtn>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 6px;
  flex-wrap: wrap;
}
.name {
  font-size: 17px;
  width: 80px;
}
.v-btn {
  flex: 1 1 auto;
  padding-inline: 8px;
}
.clear[aria-pressed='true'] {
  background: #17606c;
  border-color: #17606c;
  color: #fff;
}
.suspect[aria-pressed='true'] {
  background: var(--suspect-bg);
  border-color: var(--suspect);
  color: var(--suspect-ink);
}
.condemned[aria-pressed='true'] {
  background: var(--condemned-bg);
  border-color: var(--condemned);
  color: var(--condemned-ink);
}
</style>
