<script setup lang="ts">
import '@/words/yard'
import WhyBtn from '@/controls/WhyBtn.vue'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, Refusal } from '@/api/client'
import { useLocalStorage } from '@/session/useLocalStorage'
import { useSession } from '@/session/session'
import { capital, explain, sentence, text, wordOf } from '@/words/words'
import { entriesOf, rowsOf, useSheetCheck, type Draft } from './useSheet'
import ProblemText from '@/words/ProblemText.vue'

const session = useSession()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const id = route.params.machine as string | undefined

const machines = useQuery({ queryKey: ['machines'], queryFn: () => ask(api.GET('/api/machines')) })
const machine = computed(() => machines.data.value?.find((m) => m.id === id))
// A sheet being written outlives a reload; it is this instructor's and this device's.
const draft = useLocalStorage<Draft | null>(`sheet.${session.me?.id}.${id ?? 'new'}`, null)
const family = computed(() => draft.value?.family ?? machine.value?.family ?? (id ? undefined : 'f4-bowl'))
const form = useQuery({
  queryKey: ['sheet-form', family],
  queryFn: () => ask(api.GET('/api/sheets/{family}', { params: { path: { family: family.value! } } })),
  enabled: () => !!family.value,
  staleTime: Infinity,
})

/** The draft as it is stored: the machine's own, or the family's for a new one. */
const stored = computed<Draft | null>(() => {
  const m = machine.value
  if (m)
    return {
      name: m.name,
      code: m.code,
      duty: m.duty,
      family: m.family,
      rows: rowsOf(m.sheet),
      revision: m.revision,
    }
  if (id || !form.data.value) return null
  return { name: '', code: '', duty: '', family: form.data.value.family, rows: rowsOf(form.data.value.own) }
})
watch(stored, (s) => s && !draft.value && (draft.value = structuredClone(s)), { immediate: true })
const changed = computed(
  () => !!stored.value && !!draft.value && JSON.stringify(draft.value) !== JSON.stringify(stored.value),
)
const touched = (figure: string) =>
  JSON.stringify(draft.value?.rows[figure]) !== JSON.stringify(stored.value?.rows[figure])

/** Takes the figures of a family or of another machine to begin from. */
async function from(what: string) {
  if (!draft.value) return
  const twin = machines.data.value?.find((m) => m.id === what)
  const of = twin?.family ?? what
  const own = await ask(api.GET('/api/sheets/{family}', { params: { path: { family: of } } }))
  draft.value = { ...draft.value, family: of, rows: rowsOf(twin?.sheet ?? own.own) }
}

const { check, working, trouble, problem, reading, disagree } = useSheetCheck(draft)
const groupIds = ['engine', 'spark', 'fuel', 'running', 'fastenings', 'facts']
const groups = computed(() =>
  groupIds
    .map((group) => ({
      title: text(`sheet.${group}`),
      kinds: (form.data.value?.kinds ?? []).filter((k) => k.group === group && draft.value?.rows[k.id]),
    }))
    .filter((g) => g.kinds.length),
)
const sources = computed(() => [
  ...(form.data.value?.families ?? []).map((f) => ({ title: text('sheet.of-family', { name: f.name }), value: f.id })),
  ...(machines.data.value ?? []).map((m) => ({
    title: text('sheet.copy-of', { name: m.name, code: m.code }),
    value: m.id,
  })),
])
/** The first few figures of a list, by name. */
function named(paths: string[]) {
  const names = paths.map((p) => form.data.value?.kinds.find((k) => k.id === p)?.name.toLowerCase() ?? p)
  return names.length > 3
    ? text('sheet.and-more', { first: names.slice(0, 2).join('; '), more: names.length - 2 })
    : names.join('; ')
}
const verdict = computed(() => {
  if (trouble.value) return { cls: 'no', text: sentence(trouble.value) }
  if (!check.value || working.value) return { cls: '', text: text('sheet.checking') }
  const wrong = check.value.problems.map((p) => p.path)
  if (wrong.length) return { cls: 'no', text: text('sheet.cannot-be', { what: named(wrong) }) }
  if (disagree.value.length)
    return {
      cls: 'mid',
      text: text('sheet.otherwise', { what: named(disagree.value) }),
    }
  return { cls: 'ok', text: text('sheet.all-within', { all: check.value.healthy.length }) }
})

/** Why it cannot be kept yet. */
const cannot = computed(() => {
  if (!changed.value) return text('sheet.unchanged')
  return (check.value?.problems.length ?? 1) > 0 ? verdict.value.text : ''
})

const busy = ref(false)
const refusal = ref<Refusal | null>(null)
const refused = (path: string) => refusal.value?.all.find((p) => p.path === path) ?? problem(path)
/** What is refused of a field, as its message. */
function wrong(path: string) {
  const p = refused(path)
  return p ? `${capital(explain(p).what)}. ${capital(explain(p).mend)}.` : undefined
}
async function keep() {
  if (!draft.value) return
  busy.value = true
  refusal.value = null
  const d = draft.value
  const body = { name: d.name, code: d.code, duty: d.duty, family: d.family, sheet: entriesOf(d.rows) }
  try {
    if (id)
      await ask(
        api.PUT('/api/machines/{machine}', {
          params: { path: { machine: id } },
          body: { ...body, revision: d.revision },
        }),
      )
    else await ask(api.POST('/api/machines', { body }))
    await queries.invalidateQueries({ queryKey: ['machines'] })
    draft.value = null
    await router.push('/yard')
  } catch (e) {
    if (!session.noticed(e)) refusal.value = e as Refusal
  } finally {
    busy.value = false
  }
}
/** What had been typed before it was put back: that can be taken back. */
const before = ref<Draft>()
async function anew() {
  refusal.value = null
  const typed = draft.value!
  await machines.refetch()
  if (!stored.value) return
  before.value = JSON.parse(JSON.stringify(typed))
  draft.value = structuredClone(stored.value)
}
</script>

<template>
  <div class="page stack">
    <p v-if="id && machines.isSuccess.value && !machine" role="alert" class="panel">
      {{ text('sheet.not-there') }} <router-link to="/yard">{{ text('sheet.back') }}</router-link>
    </p>
    <WaitingFor
      v-else-if="!draft || !form.data.value"
      :what="text('sheet.fetching')"
      as="heading, article, table-tbody"
    />
    <template v-else>
      <div class="row wrap">
        <h1 class="grow">
          {{ id ? text('sheet.title', { name: machine?.name, code: machine?.code }) : text('yard.add-machine') }}
        </h1>
        <v-select
          v-if="!id"
          class="made"
          :label="text('sheet.made-from')"
          :model-value="draft.family"
          :items="sources"
          @update:model-value="from($event)"
        />
      </div>
      <section class="panel head" :aria-label="text('machine.name')">
        <v-text-field
          v-model="draft.name"
          :label="text('sheet.name')"
          maxlength="40"
          autocomplete="off"
          :error-messages="wrong('name')"
        />
        <v-text-field
          v-model="draft.code"
          :label="text('sheet.code')"
          maxlength="12"
          autocomplete="off"
          :error-messages="wrong('code')"
        />
        <v-text-field
          v-model="draft.duty"
          :label="text('sheet.duty')"
          maxlength="160"
          autocomplete="off"
          :error-messages="wrong('duty')"
        />
        <p class="muted small family">
          {{ text('sheet.keeps', { family: form.data.value.family_name }) }}
        </p>
      </section>
      <section v-for="g in groups" :key="g.title" class="panel" :aria-label="g.title">
        <div class="line top" aria-hidden="true">
          <h2>{{ g.title }}</h2>
          <span>{{ text('sheet.low') }}</span><span>{{ text('sheet.high') }}</span
          ><span>{{ text('sheet.unit') }}</span
          ><span>{{ text('sheet.reads') }}</span
          ><span>{{ text('sheet.source') }}</span>
        </div>
        <div
          v-for="k in g.kinds"
          :key="k.id"
          class="line"
          role="group"
          :aria-label="k.name"
          :class="{ touched: touched(k.id) }"
        >
          <span class="name">{{ k.name }}</span>
          <v-select
            v-if="k.words.length > 1"
            v-model="draft.rows[k.id].word"
            class="word"
            density="compact"
            :aria-label="k.name"
            :items="k.words.map((w) => ({ title: wordOf(w), value: w }))"
          />
          <span v-else-if="k.words.length" class="word figure only">{{ wordOf(k.words[0]) }}</span>
          <template v-else>
            <v-text-field
              v-model="draft.rows[k.id].low"
              class="end"
              density="compact"
              inputmode="decimal"
              maxlength="40"
              :aria-label="text('sheet.low-of', { name: k.name })"
              :error="!!refused(k.id)"
            />
            <v-text-field
              v-model="draft.rows[k.id].high"
              class="end"
              density="compact"
              inputmode="decimal"
              maxlength="40"
              placeholder="–"
              :aria-label="text('sheet.high-of', { name: k.name })"
              :error="!!refused(k.id)"
            />
            <v-select
              v-if="k.units.length > 1"
              v-model="draft.rows[k.id].unit"
              class="unit"
              density="compact"
              :aria-label="text('sheet.unit-of', { name: k.name })"
              :items="k.units"
            />
            <span v-else class="unit figure">{{ k.units[0] }}</span>
          </template>
          <span class="reads">
            <template v-if="reading(k.id)">
              <b class="figure">{{ reading(k.id)?.reads }}</b>
              <span v-if="!check?.problems.length" class="tag" :class="reading(k.id)?.agrees ? 'ok' : 'no'">{{
                text(reading(k.id)?.agrees ? 'sheet.agrees' : 'sheet.disagrees')
              }}</span>
            </template>
          </span>
          <v-text-field
            v-model="draft.rows[k.id].source"
            class="source"
            density="compact"
            maxlength="200"
            :aria-label="text('sheet.source-of', { name: k.name })"
          />
          <span v-if="refused(k.id)" class="wrong"><ProblemText :of="refused(k.id)!" /></span>
          <span v-else-if="k.note" class="note muted small">{{ k.note }}</span>
        </div>
      </section>
      <p v-if="refusal && refusal.all.length === 0" class="refusal" role="alert">
        <ProblemText :of="refusal" />
      </p>
      <div class="foot">
        <p class="truth" :class="verdict.cls" role="status">{{ verdict.text }}</p>
        <span class="muted small" role="status">{{ changed ? text('sheet.kept-here') : '' }}</span>
        <v-btn v-if="before && !changed" @click="draft = before">{{ text('sheet.take-back') }}</v-btn>
        <WhyBtn :busy="busy" :not="changed ? '' : text('sheet.unchanged')" @click="anew">
          {{ text(id ? 'sheet.put-back' : 'job.anew') }}
        </WhyBtn>
        <WhyBtn main :busy="busy || working" :not="cannot" @click="keep">
          {{ text(id ? 'sheet.keep' : 'sheet.add') }}
        </WhyBtn>
      </div>
    </template>
  </div>
</template>

<style scoped>
.made {
  flex: 0 0 360px;
}
.head {
  display: grid;
  grid-template-columns: 1fr 150px 2fr;
  gap: 12px;
}
.family {
  grid-column: 1 / -1;
  margin: 0;
}
.line {
  display: grid;
  grid-template-columns: 222px 84px 84px 120px 184px minmax(0, 1fr);
  gap: 6px 8px;
  align-items: center;
  padding: 4px 0;
  border-top: 1px solid var(--line-soft);
}
.line.top span:nth-of-type(-n + 2),
.line.top span:nth-of-type(4) {
  text-align: right;
  padding-right: 12px;
}
.line.top span:nth-of-type(3),
.line.top span:nth-of-type(5),
.only {
  padding-left: 13px;
}
.line.top {
  border-top: 0;
  color: var(--muted);
  font: 600 14.5px/1.2 var(--label);
  align-items: end;
}
.line.top h2 {
  color: var(--ink);
}
.name {
  padding-left: 10px;
  border-left: 4px solid transparent;
}
.touched .name {
  border-left-color: var(--water-2);
}
.end :deep(input) {
  text-align: right;
  font: 600 17px/1.2 var(--label);
}
.end :deep(.v-field),
.unit :deep(.v-field) {
  --v-field-padding-start: 8px;
  --v-field-padding-end: 8px;
}
.word {
  grid-column: 2 / 5;
}
span.unit {
  padding-left: 13px;
}
.reads {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: flex-end;
  padding-right: 12px;
}
.source :deep(.v-field) {
  background: none;
}
.source :deep(input) {
  color: var(--muted);
  font-size: 15px;
}
.source :deep(.v-field:not(.v-field--focused) .v-field__outline) {
  opacity: 0;
}
.source :deep(.v-field:hover .v-field__outline) {
  opacity: 1;
}
.reads:empty {
  padding: 0;
}
.wrong,
.note {
  grid-column: 2 / -1;
}
.wrong {
  color: var(--condemned-ink);
  font: 400 15px/1.3 var(--text);
}
.tag {
  padding: 2px 8px;
  border-radius: 7px;
  font: 600 14.5px/1.2 var(--label);
}
.tag.ok {
  background: var(--good-bg);
  color: var(--good);
}
.tag.no {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.foot {
  position: sticky;
  bottom: 0;
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 10px 0;
  background: var(--plaster);
  border-top: 1.5px solid var(--line);
}
.truth {
  flex: 1;
  margin: 0;
  padding: 10px 12px;
  border-radius: 10px;
  background: var(--panel);
}
.truth.ok {
  background: var(--good-bg);
  color: var(--good);
}
.truth.mid {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.truth.no {
  background: var(--condemned-bg);
  color: var(--condemned-ink);
}
@media (max-width: 980px) {
  .head {
    grid-template-columns: 1fr;
  }
  .line {
    grid-template-columns: 1fr 1fr 1fr;
  }
  .line.top span {
    display: none;
  }
  .name,
  .reads,
  .source,
  .wrong,
  .note,
  .line.top h2 {
    grid-column: 1 / -1;
  }
  .word {
    grid-column: 1 / -1;
  }
  .reads {
    justify-content: flex-start;
    padding-left: 10px;
  }
  .foot {
    flex-wrap: wrap;
  }
  .truth {
    flex-basis: 100%;
  }
}
</style>
