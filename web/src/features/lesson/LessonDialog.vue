<script setup lang="ts">
import '@/words/lesson'
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, reactive, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useFamily } from '@/features/bench/useFamily'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'

/** Puts two machines before a class: one has what is asked for, the other something else or nothing. */
const props = defineProps<{ class: string }>()
const open = defineModel<boolean>({ required: true })
const router = useRouter()
const machines = useQuery({ queryKey: ['machines'], queryFn: () => ask(api.GET('/api/machines')), enabled: open })
type Fault = Schema['LessonFault']
const SIDES = ['asked', 'beside'] as const
const draft = reactive({
  machine: undefined as string | undefined,
  test: 'start-attempt' as string | null,
  asked: { id: null as string | null, far: 0.6 },
  beside: { id: null as string | null, far: 0.6 },
})
const machine = computed(() => machines.data.value?.find((m) => m.id === draft.machine))
watch(
  () => machines.data.value,
  (all) => (draft.machine ??= all?.[0]?.id),
  { immediate: true },
)
const family = useFamily(() => machine.value?.family)
/** Runs are heard, looks seen and feels felt; what is measured is no matter of sense. */
const tests = computed(() =>
  (family.data.value?.tests ?? [])
    .filter((t) => t.kind === 'run' || (t.kind !== 'number' && t.words.length > 1))
    .map((t) => ({ value: t.id, title: t.title })),
)
const faults = computed(() => (family.data.value?.faults ?? []).map((f) => ({ value: f.id, title: f.name })))
const graded = (id: string | null) => family.data.value?.faults.find((f) => f.id === id)?.graded
const fault = (f: { id: string | null; far: number }): Fault | undefined =>
  f.id ? { id: f.id, severity: graded(f.id) ? f.far : 1 } : undefined
const begin = useMutation({
  mutationFn: async () => {
    const id = crypto.randomUUID()
    await ask(
      api.POST('/api/lessons', {
        body: {
          id,
          class_id: props.class,
          machine_id: draft.machine!,
          test: draft.test!,
          asked: fault(draft.asked)!,
          beside: fault(draft.beside),
        },
      }),
    )
    await router.push(`/lesson/${id}`)
  },
})
const not = computed(() =>
  !draft.machine || !draft.test ? text('lesson.lacks-test') : draft.asked.id ? '' : text('lesson.lacks-fault'),
)
const percent = (x: number) => `${Math.round(100 * x)} %`
</script>

<template>
  <v-dialog v-model="open" max-width="640" scrollable :aria-label="text('lesson.begin')">
    <section class="panel stack">
      <h2>{{ text('lesson.begin') }}</h2>
      <p>{{ text('lesson.begin-says') }}</p>
      <v-select
        v-model="draft.machine"
        hide-details
        :label="text('lesson.machine')"
        :items="(machines.data.value ?? []).map((m) => ({ value: m.id, title: `${m.name} ${m.code}` }))"
      />
      <v-autocomplete v-model="draft.test" hide-details :label="text('lesson.test')" :items="tests" />
      <template v-for="side in SIDES" :key="side">
        <v-autocomplete
          v-model="draft[side].id"
          hide-details
          persistent-placeholder
          :clearable="side === 'beside'"
          :label="text(`lesson.${side}-it`)"
          :placeholder="side === 'beside' ? text('lesson.sound') : undefined"
          :items="faults"
        />
        <v-slider
          v-if="graded(draft[side].id)"
          v-model="draft[side].far"
          hide-details
          :min="0.05"
          :max="1"
          :step="0.05"
          :label="text('lesson.far')"
          :value-format="({ value }) => percent(value)"
        />
      </template>
      <p v-if="begin.error.value" role="alert" class="refusal">
        <ProblemText :of="begin.error.value as unknown as Refusal" />
      </p>
      <div class="row">
        <span class="grow"></span>
        <v-btn variant="text" @click="open = false">{{ text('lesson.leave') }}</v-btn>
        <WhyBtn main :not="not" :busy="begin.isPending.value" @click="begin.mutate()">{{
          text('lesson.put-up')
        }}</WhyBtn>
      </div>
    </section>
  </v-dialog>
</template>
