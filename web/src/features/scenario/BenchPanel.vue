<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { api, ask, type Schema } from '@/api/client'
import NumberField from '@/controls/NumberField.vue'
import ProblemText from '@/words/ProblemText.vue'
import { nameOf, text } from '@/words/words'
import type { Draft } from './useScenario'

/** What the job is worked with: weather and fuel, the kit on the bench, limits, and how it is given. */
const props = defineProps<{ fam: Schema['Family']; family?: string; problems: Schema['Problem'][] }>()
const draft = defineModel<Draft>({ required: true })

const modes = ['open', 'guided', 'exam'].map((m) => ({ value: m, title: text(`job.${m}`) }))
// What has been given out for this kind of engine can be followed in the job.
const procedures = useQuery({ queryKey: ['procedures'], queryFn: () => ask(api.GET('/api/procedures')) })
const pages = computed(() =>
  (procedures.data.value ?? [])
    .filter((p) => !p.archived && p.family === props.family && p.given_out.length > 0)
    .map((p) => ({
      title: text('page.revision-of', { title: p.title, n: p.given_out.length }),
      value: { id: p.id, revision: p.given_out.length },
    })),
)
watch(pages, (all) => {
  const mine = draft.value.procedure
  if (mine && procedures.isSuccess.value && !all.some((p) => p.value.id === mine.id)) draft.value.procedure = undefined
})

// The kit is told by its instruments; a test that takes none can always be made.
const instruments = computed(() => {
  const by = new Map<string, string[]>()
  for (const t of props.fam.tests) if (t.instrument) by.set(t.instrument, [...(by.get(t.instrument) ?? []), t.id])
  return [...by].map(([id, tests]) => ({ id, tests }))
})
const has = (tests: string[]) => !draft.value.kit || tests.some((t) => draft.value.kit!.includes(t))
function put(id: string) {
  const kept = instruments.value.filter((x) => (x.id === id ? !has(x.tests) : has(x.tests)))
  draft.value.kit = kept.length === instruments.value.length ? undefined : kept.flatMap((x) => x.tests)
}

const weights = ['readings', 'conclusion', 'economy', 'order', 'safety', 'proof', 'threshold'] as const
const usual: Schema['Rubric'] = {
  readings: 20,
  conclusion: 35,
  economy: 10,
  order: 10,
  safety: 15,
  proof: 10,
  threshold: 60,
}
const wrong = computed(() =>
  props.problems.filter((p) => !/^(faults|distractors|words|history|claim|complaint)/.test(p.path)),
)
</script>

<template>
  <section class="panel stack">
    <h2>{{ text('scene.bench') }}</h2>
    <div class="five">
      <v-number-input v-model="draft.limit_minutes" :label="text('job.minutes')" :min="10" :max="600" />
      <v-number-input v-model="draft.limit_money" :label="text('job.money')" :min="0" :precision="2" />
      <v-number-input v-model="draft.temperature_c" :label="text('job.air')" :min="-40" :max="55" />
      <v-number-input v-model="draft.altitude_m" :label="text('job.altitude')" :min="-430" :max="5000" :step="50" />
      <NumberField
        :label="text('scene.fuel')"
        :model-value="draft.fuel_ml"
        @update:model-value="draft.fuel_ml = $event"
      />
    </div>
    <div class="row wrap">
      <v-select v-model="draft.mode" class="grow" :label="text('job.given')" :items="modes" />
      <v-checkbox v-model="draft.proper_only" :label="text('job.proper')" />
    </div>
    <div class="row">
      <v-select
        class="grow"
        :label="text('page.give')"
        :items="[{ title: text(pages.length ? 'page.give-none' : 'page.none-for'), value: null }, ...pages]"
        :model-value="draft.procedure ?? null"
        :value-comparator="(a, b) => a?.id === b?.id"
        @update:model-value="draft.procedure = $event ?? undefined"
      />
      <v-checkbox
        v-if="draft.mode === 'exam' && draft.procedure"
        v-model="draft.page_in_exam"
        :label="text('page.in-exam')"
      />
    </div>
    <div class="kit" role="group" :aria-label="text('scene.kit')">
      <span class="muted">{{ text('scene.kit') }}</span>
      <v-btn
        v-for="x in instruments"
        :key="x.id"
        density="compact"
        :class="has(x.tests) ? 'in' : 'gone'"
        :aria-pressed="has(x.tests)"
        @click="put(x.id)"
        >{{ nameOf('instrument', x.id) }}</v-btn
      >
    </div>
    <details :open="!!draft.rubric">
      <summary>{{ text('scene.rubric') }}</summary>
      <div class="weights">
        <NumberField
          v-for="w in weights"
          :key="w"
          :label="text(`scene.w-${w}`)"
          :model-value="(draft.rubric ?? usual)[w]"
          @update:model-value="draft.rubric = { ...(draft.rubric ?? usual), [w]: $event ?? 0 }"
        />
      </div>
      <v-btn v-if="draft.rubric" @click="draft.rubric = undefined">{{ text('scene.usual') }}</v-btn>
    </details>
    <p v-for="p in wrong" :key="p.path + p.code" class="hint"><ProblemText :of="p" /></p>
  </section>
</template>

<style scoped>
.five,
.weights {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(118px, 1fr));
  gap: 10px;
}
.weights {
  margin-block: 10px;
}
.kit {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
.kit .in {
  background: var(--good-bg);
  color: var(--good);
  border-color: transparent;
}
.kit .gone {
  border-style: dashed;
  color: var(--muted);
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
