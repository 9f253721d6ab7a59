<script setup lang="ts">
import { computed } from 'vue'
import type { Refusal, Schema } from '@/api/client'
import TimeField from '@/controls/TimeField.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'
import type { Draft } from './useScenario'

/** To whom it is given, and when: or tried by its author first. */
const props = defineProps<{
  apprentices: Schema['Person'][]
  classes: Schema['Class'][]
  /** How many others, as hard, are dealt with it. */
  variants: number
  refusal: Refusal | null
  busy: boolean
  /** Why it cannot be set now; empty where it can. */
  not: string
}>()
const emit = defineEmits<{ set: []; try: [] }>()
const draft = defineModel<Draft>({ required: true })

/** With a class everybody of it is chosen, who can be taken out again; with none the names stay. */
function choose(id: string | null) {
  const c = props.classes.find((x) => x.id === id)
  draft.value = {
    ...draft.value,
    class_id: c?.id,
    apprentices: c ? c.members.filter((m) => m.role === 'apprentice').map((m) => m.person) : draft.value.apprentices,
  }
}
/** Of a class its own, of none everybody. */
const offered = computed(() => {
  const c = props.classes.find((x) => x.id === draft.value.class_id)
  return c ? props.apprentices.filter((p) => c.members.some((m) => m.person === p.id)) : props.apprentices
})
const classItems = computed(() =>
  props.classes.map((c) => ({ value: c.id, title: c.title, props: { subtitle: c.term } })),
)

const times = ['opens_at', 'closes_at', 'debrief_at'] as const
</script>

<template>
  <section class="panel stack">
    <div class="row">
      <h2 class="grow">{{ text('job.give') }}</h2>
      <WhyBtn :not="not" :busy="busy" @click="emit('try')">{{ text('scene.try') }}</WhyBtn>
    </div>
    <v-select
      v-if="classes.length"
      :model-value="draft.class_id ?? null"
      density="compact"
      clearable
      hide-details
      :label="text('job.class')"
      :items="classItems"
      @update:model-value="choose"
    />
    <div class="row wrap">
      <v-checkbox v-for="p in offered" :key="p.id" v-model="draft.apprentices" :value="p.id" :label="p.display_name" />
    </div>
    <details :open="times.some((t) => draft[t])">
      <summary>{{ text('scene.times') }}</summary>
      <div class="times">
        <TimeField
          v-for="t in times"
          :key="t"
          :model-value="draft[t]"
          :label="text(`scene.${t.replace('_', '-')}`)"
          @update:model-value="draft = { ...draft, [t]: $event }"
        />
      </div>
    </details>
    <p v-if="variants" class="dealt" role="status">{{ text('scene.dealt', { n: variants }) }}</p>
    <div v-if="refusal" class="refusal" role="alert">
      <p v-for="(p, i) in refusal.all.length ? refusal.all : [refusal]" :key="i">
        <ProblemText :of="p" />
      </p>
    </div>
    <WhyBtn main class="big" :busy="busy" :not="not" @click="emit('set')">
      {{ text(draft.apprentices.length ? 'job.set-give' : 'job.set') }}
    </WhyBtn>
  </section>
</template>

<style scoped>
.times {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(240px, 1fr));
  gap: 10px;
  padding-top: 12px;
}
.refusal {
  background: var(--condemned-bg);
  color: var(--condemned-ink);
  border-radius: 10px;
  padding: 8px 12px;
}
.dealt {
  background: var(--good-bg);
  color: var(--good);
  border-radius: 10px;
  padding: 8px 12px;
}
.big {
  min-height: 52px;
  font-size: 18px;
}
</style>
