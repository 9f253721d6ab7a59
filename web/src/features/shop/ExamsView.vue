<script setup lang="ts">
import '@/words/shop'
import '@/words/yard'
import { useMutation, useQueries, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Refusal } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import TimeField from '@/controls/TimeField.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import ProblemText from '@/words/ProblemText.vue'
import { moment, sentence, text } from '@/words/words'

/** Practical exams: those there are, and a new one. */
const queries = useQueryClient()
const router = useRouter()
const exams = useQuery({ queryKey: ['exams'], queryFn: () => ask(api.GET('/api/exams')) })
const engines = useQuery({ queryKey: ['engines'], queryFn: () => ask(api.GET('/api/engines')) })
const apprentices = useQuery({ queryKey: ['apprentices'], queryFn: () => ask(api.GET('/api/apprentices')) })

const blank = () => ({
  id: crypto.randomUUID() as string,
  title: '',
  starts: undefined as string | undefined,
  minutes: 30,
  rest: 10,
  people: [] as string[],
  machines: [] as string[],
  debrief: undefined as string | undefined,
  money: 100,
})
const draft = useLocalStorage('exam.new', blank())
const ready = computed(() =>
  (engines.data.value ?? [])
    .filter((e) => e.state === 'seen')
    .map((e) => ({ value: e.machine_id, title: `${e.name} ${e.code}` })),
)
// Their cards, which are given out with it.
const files = useQueries({
  queries: computed(() =>
    draft.value.machines.map((machine) => ({
      queryKey: ['engine', machine],
      queryFn: () => ask(api.GET('/api/engines/{machine}', { params: { path: { machine } } })),
    })),
  ),
})
const bugs = computed(() => files.value.map((f) => f.data?.cards[0]?.id))
const rounds = computed(() => {
  const { people, machines } = draft.value
  return machines.length ? Math.ceil(people.length / machines.length) * machines.length : 0
})
const ends = computed(() => {
  const at = new Date(draft.value.starts ?? '').getTime()
  return at + rounds.value * (Number(draft.value.minutes) + Number(draft.value.rest)) * 60_000
})
const not = computed(() => {
  const d = draft.value
  if (!d.title.trim()) return text('shop.exam-lacks-title')
  if (!d.starts) return text('shop.exam-lacks-start')
  if (!d.machines.length) return text('shop.exam-lacks-engines')
  if (!d.people.length) return text('shop.exam-lacks-people')
  if (!d.debrief || new Date(d.debrief).getTime() < ends.value) return text('shop.exam-debrief-early')
  return bugs.value.every(Boolean) ? '' : text('shop.fetching')
})
const refusal = ref<Refusal>()
const add = useMutation({
  mutationFn: () => {
    const d = draft.value
    return ask(
      api.POST('/api/exams', {
        body: {
          id: d.id,
          title: d.title,
          starts_at: d.starts!,
          debrief_at: d.debrief!,
          minutes: Number(d.minutes),
          rest: Number(d.rest),
          people: d.people,
          bugs: bugs.value as string[],
          limit_money: Number(d.money),
        },
      }),
    )
  },
  onSuccess: async (file) => {
    draft.value = blank()
    await queries.invalidateQueries()
    await router.push(`/yard/exams/${file.id}`)
  },
  onError: (e) => (refusal.value = e as unknown as Refusal),
})
</script>

<template>
  <div class="page stack">
    <div class="row wrap">
      <h1 class="grow">{{ text('title.exams') }}</h1>
      <v-btn to="/yard/engines">{{ text('title.engines') }}</v-btn>
    </div>
    <WaitingFor v-if="exams.isPending.value" :what="text('shop.fetching')" as="table-tbody" />
    <p v-else-if="exams.isError.value" class="panel" role="alert">{{ sentence(exams.error.value as Refusal) }}</p>
    <section v-else-if="exams.data.value?.length" class="panel" :aria-label="text('title.exams')">
      <router-link v-for="e in exams.data.value" :key="e.id" class="exam" :to="`/yard/exams/${e.id}`">
        <b class="grow">{{ e.title }}</b>
        <span>{{ moment(e.starts_at) }}</span>
        <span class="muted">{{ text('shop.exam-size', { people: e.people, engines: e.engines }) }}</span>
      </router-link>
    </section>
    <form class="panel stack" @submit.prevent="not || add.mutate()">
      <h2>{{ text('shop.exam-new') }}</h2>
      <p class="muted small">{{ text('shop.exam-lead') }}</p>
      <div class="fields">
        <v-text-field v-model="draft.title" hide-details maxlength="100" :label="text('shop.exam-title')" />
        <TimeField v-model="draft.starts" density="default" hide-details :label="text('shop.exam-starts')" />
        <v-text-field v-model="draft.minutes" inputmode="numeric" hide-details :label="text('shop.exam-minutes')" />
        <v-text-field v-model="draft.rest" inputmode="numeric" hide-details :label="text('shop.exam-rest')" />
      </div>
      <v-autocomplete
        v-model="draft.machines"
        multiple
        chips
        closable-chips
        hide-details
        :label="text('shop.exam-engines')"
        :items="ready"
        :no-data-text="text('shop.exam-no-engines')"
      />
      <v-autocomplete
        v-model="draft.people"
        multiple
        chips
        closable-chips
        hide-details
        :label="text('shop.exam-people')"
        :items="(apprentices.data.value ?? []).map((p) => ({ value: p.id, title: p.display_name }))"
      />
      <div class="fields">
        <TimeField v-model="draft.debrief" density="default" hide-details :label="text('shop.exam-debrief')" />
        <v-text-field v-model="draft.money" inputmode="numeric" hide-details :label="text('shop.limit-money')" />
      </div>
      <p v-if="rounds && draft.starts" class="muted" role="status">
        {{ text('shop.exam-comes-to', { rounds, end: moment(new Date(ends).toISOString()) }) }}
      </p>
      <WhyBtn main type="submit" :not="not" :busy="add.isPending.value">{{ text('shop.exam-plan') }}</WhyBtn>
      <p v-if="refusal" class="refusal" role="alert"><ProblemText :of="refusal" /></p>
    </form>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(180px, 1fr));
  gap: 12px;
}
.exam {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  padding: 12px 0;
  color: inherit;
  text-decoration: none;
  border-bottom: 1px solid var(--line-soft);
}
.exam:last-child {
  border-bottom: 0;
}
.exam:hover b {
  color: var(--link);
}
</style>
