<script setup lang="ts">
import { nextTick, useTemplateRef, watch } from 'vue'
import type { Schema } from '@/api/client'
import { figure, text } from '@/words/words'

/** What was done, in order. A line is pressed to light the reaches that it bears on; lines that bear on the reach in focus stand out. */
const props = defineProps<{
  lines: Schema['LedgerLine'][]
  waiting?: { id: string; text: string }[]
  /** Lines that bear on the reach in focus, by their place. */
  bearing?: number[]
  /** The line that is pointed at. */
  pointed?: number
}>()
const emit = defineEmits<{ point: [seq: number] }>()
const list = useTemplateRef<HTMLElement>('list')

watch(
  () => props.lines.length + (props.waiting?.length ?? 0),
  async () => {
    await nextTick()
    list.value?.scrollTo({ top: list.value.scrollHeight })
  },
  { immediate: true },
)
</script>

<template>
  <section class="panel ledger" :aria-label="text('ledger.name')">
    <h2>{{ text('ledger.name') }}</h2>
    <p v-if="lines.length === 0 && !waiting?.length" class="muted">
      {{ text('ledger.empty') }}
    </p>
    <ol v-else ref="list" tabindex="0" :aria-label="text('ledger.lines')">
      <li v-for="l in lines" :key="l.seq" :class="[l.kind, { waiting: l.waiting, bears: bearing?.includes(l.seq) }]">
        <span class="at figure">{{ figure(l.at_min) }}</span>
        <v-btn
          v-if="l.test"
          variant="text"
          class="title"
          :aria-pressed="pointed === l.seq"
          :title="text('bench.show')"
          @click="emit('point', l.seq)"
        >
          {{ l.title }}
        </v-btn>
        <span v-else class="title">{{ l.title }}</span>
        <span class="result"
          ><small v-if="l.step" class="step" :title="text('page.of-step', { n: l.step })">{{ l.step }}</small
          >{{ l.result }}<i v-if="l.judged" :class="l.judged">{{ text(`band.${l.judged}`) }}</i></span
        >
      </li>
      <li v-for="w in waiting" :key="w.id" class="unsent">
        <span class="at figure">…</span>
        <span class="title">{{ w.text }}</span>
        <span class="result">{{ text('ledger.unsent') }}</span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.step {
  display: inline-block;
  min-width: 17px;
  margin-right: 5px;
  border-radius: 5px;
  background: var(--water-2);
  color: #fff;
  font: 600 12.5px/15px var(--label);
  text-align: center;
}
.ledger {
  display: grid;
  grid-template-rows: auto 1fr;
  gap: 4px;
  min-height: 0;
  padding-bottom: 8px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  overflow-y: auto;
  min-height: 0;
  scrollbar-width: thin;
}
li {
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr);
  gap: 1px 4px;
  padding: 4px 0;
  border-top: 1px solid var(--line-soft);
  align-items: baseline;
  font-size: 14.5px;
  line-height: 1.2;
}
.title {
  font: 500 16px/1.15 var(--label);
}
li .title.v-btn {
  justify-content: start;
  min-height: 20px;
  padding: 0;
  font: 500 16px/1.15 var(--label);
  text-align: left;
}
li .title.v-btn[aria-pressed='true'] {
  background: none;
  color: inherit;
  text-decoration: underline;
  text-decoration-thickness: 2px;
  text-underline-offset: 3px;
}
.bears {
  background: var(--good-bg);
  box-shadow:
    -6px 0 0 var(--good-bg),
    6px 0 0 var(--good-bg);
}
.at {
  color: var(--muted);
  font-size: 15px;
}
.result {
  grid-column: 2;
  font: 600 16px/1.15 var(--label);
}
i {
  font-style: normal;
  margin-left: 6px;
  color: var(--good);
}
i.below,
i.above {
  color: var(--condemned-ink);
}
.waiting .result {
  color: var(--suspect-ink);
}
.unsent .result {
  color: var(--suspect-ink);
}
.cover .title,
.wait .title {
  color: var(--muted);
}
</style>
