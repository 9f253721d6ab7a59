<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import LateralBoard from '@/board/LateralBoard.vue'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'
import HiddenRow from './HiddenRow.vue'
import type { Draft, Hidden } from './useScenario'

/** Where faults are hidden, and in the other hand what is also wrong and brings no complaint. */
const props = defineProps<{
  fam: Schema['Family']
  machines: { title: string; value: string }[]
  /** Faults that this machine cannot have. */
  lacks: string[]
  problems: Schema['Problem'][]
  /** Two reaches of a lesson that are being touched, or none. */
  lesson?: string[]
}>()
const emit = defineEmits<{ touch: [reach: string] }>()
const draft = defineModel<Draft>({ required: true })

type Hand = 'faults' | 'distractors'
const hand = ref<Hand>('faults')
const hands: { value: Hand; title: string }[] = [
  { value: 'faults', title: text('scene.brings') },
  { value: 'distractors', title: text('scene.also-wrong') },
]
const at = ref('jets')
const kind = (id: string) => props.fam.faults.find((f) => f.id === id)
const marks = computed(() => {
  const out: Record<string, string> = {}
  for (const id of props.lesson ?? []) out[id] = 'clear'
  const mark = (fs: Hidden[], as: string) => fs.forEach((f) => kind(f.id) && (out[kind(f.id)!.reach] = as))
  mark(draft.value.distractors, 'suspect')
  mark(draft.value.faults, 'condemned')
  return out
})
const here = computed(() => props.fam.faults.filter((f) => f.reach === at.value && !props.lacks.includes(f.id)))
const withFaults = computed(() => new Set(props.fam.faults.map((f) => f.reach)))
const inHand = (id: string): Hand | undefined =>
  (['faults', 'distractors'] as Hand[]).find((h) => draft.value[h].some((f) => f.id === id))
function hide(id: string) {
  const was = inHand(id)
  if (was) draft.value[was] = draft.value[was].filter((f) => f.id !== id)
  else {
    // What is only to distract is slight at first.
    const severity = kind(id)?.graded ? (hand.value === 'faults' ? 0.6 : 0.3) : 1
    draft.value[hand.value] = [...draft.value[hand.value], { id, severity, mode: kind(id)?.modes[0] }]
  }
}
function go(reach: string) {
  at.value = reach
  if (props.lesson) emit('touch', reach)
}
const wrong = computed(() => props.problems.filter((p) => /^(faults|distractors)/.test(p.path)))
</script>

<template>
  <section class="panel stack">
    <div class="row wrap">
      <h2>{{ text('job.hide') }}</h2>
      <ChoiceRow v-model="hand" class="grow hands" :items="hands" :label="text('scene.hand')" />
      <v-select v-model="draft.machine_id" class="which" :label="text('job.machine')" :items="machines" />
    </div>
    <LateralBoard
      class="board"
      dry
      :laterals="fam.laterals"
      :reaches="fam.reaches"
      :marks="marks"
      :at="at"
      :label="text('job.where')"
      @at="go"
      @mark="() => undefined"
    />
    <div class="here">
      <b class="figure">{{ fam.reaches.find((r) => r.id === at)?.name }}</b>
      <v-btn v-for="f in here" :key="f.id" :aria-pressed="!!inHand(f.id)" @click="hide(f.id)">{{ f.name }}</v-btn>
      <span v-if="here.length === 0" class="muted">{{
        text('job.nothing-here', {
          reaches: fam.reaches
            .filter((r) => withFaults.has(r.id))
            .map((r) => r.name.toLowerCase())
            .join(', '),
        })
      }}</span>
    </div>
    <template v-for="h in ['faults', 'distractors'] as const" :key="h">
      <HiddenRow
        v-for="(f, i) in draft[h]"
        :key="f.id"
        v-model="draft[h][i]"
        :kind="kind(f.id)"
        :causes="fam.causes"
        :faults="fam.faults"
        :also="h === 'distractors'"
        @out="hide(f.id)"
      />
    </template>
    <p v-for="p in wrong" :key="p.path + p.code" class="hint"><ProblemText :of="p" /></p>
  </section>
</template>

<style scoped>
.which {
  flex: 0 0 230px;
}
.hands {
  max-width: 420px;
}
.board {
  height: 290px;
}
@media (max-width: 700px) {
  .board {
    height: auto; /* its lanes stand on end */
  }
}
.here {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
  min-height: 48px;
}
.here > b {
  font-size: 18px;
}
.hint {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 10px;
  padding: 8px 12px;
}
.hint::first-letter {
  text-transform: uppercase;
}
</style>
