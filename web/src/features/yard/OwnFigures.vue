<script setup lang="ts">
import '@/words/yard'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, Refusal, type Schema } from '@/api/client'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import NumberField from '@/controls/NumberField.vue'
import WaitingFor from '@/controls/WaitingFor.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useSession } from '@/session/session'
import { useLocalStorage } from '@/session/useLocalStorage'
import ProblemText from '@/words/ProblemText.vue'
import { figure, nameOf, places, sentence, text } from '@/words/words'

type Own = Schema['OwnFigures']
type Kind = 'tests' | 'covers' | 'rates'

/** The yard's own minutes and base rates, beside the catalogue's. */
const session = useSession()
const queries = useQueryClient()
const file = useQuery({ queryKey: ['own-figures'], queryFn: () => ask(api.GET('/api/own-figures')) })
// What the yard's own finished jobs make of the rates.
const counted = useQuery({ queryKey: ['own-rates'], queryFn: () => ask(api.GET('/api/own-rates')) })
// What is typed outlives a reload; it is this instructor's and this device's.
const draft = useLocalStorage<{ changes: number; figures: Own } | null>(`own-figures.${session.me?.id}`, null)
const kept = computed(() => file.data.value && { changes: file.data.value.changes, figures: file.data.value.figures })
watch(kept, (k) => k && !draft.value && (draft.value = JSON.parse(JSON.stringify(k))), { immediate: true })
const changed = computed(
  () => !!draft.value && JSON.stringify(draft.value.figures) !== JSON.stringify(kept.value?.figures),
)

const kinds: Kind[] = ['tests', 'covers', 'rates']
const kind = ref<Kind>('tests')
const sought = ref('')
const items = kinds.map((k) => ({ value: k, title: text(`own.${k}`) }))
const names: Record<Kind, (id: string) => string> = {
  tests: (id) => nameOf('test', id, 'title'),
  covers: (id) => nameOf('cover', id),
  rates: (id) => nameOf('fault', id),
}
/** Rates are for every engine, or for one family alone. */
const family = ref('')
const families = computed(() => [
  { title: text('own.every-family'), value: '' },
  ...Object.keys(file.data.value?.catalogue.family_rates ?? {}).map((id) => ({
    title: nameOf('family', id),
    value: id,
  })),
])
const alone = computed(() => kind.value === 'rates' && family.value !== '')
const catalogue = computed(() => {
  const all = file.data.value?.catalogue
  return (alone.value ? all?.family_rates?.[family.value] : all?.[kind.value]) ?? {}
})
const ours = computed<Record<string, number>>(
  () =>
    (alone.value
      ? draft.value?.figures.family_rates?.[family.value]
      : draft.value?.figures[kind.value as 'tests' | 'rates']) ?? {},
)
const seen = (id: string) =>
  (alone.value ? counted.data.value?.family_rates?.[family.value] : counted.data.value?.rates)?.[id]
const inFew = (r: Schema['RateSeen']) => ({
  mean: places(r.mean, 1),
  low: places(r.low, 1),
  high: places(r.high, 1),
})
/** A rate of our own jobs is taken for ours, with where it comes from. */
function take(id: string) {
  const r = seen(id)!
  set(id, Number(r.mean.toPrecision(3)))
  source(id, text('own.from-jobs', { n: r.jobs, ...inFew(r) }))
}
/** Where a figure of ours stands in the file, which is what its source is kept under. */
const place = (id: string) => (alone.value ? `family_rates.${family.value}.${id}` : `${kind.value}.${id}`)
const isOurs = (id: string) => (kind.value === 'covers' ? draft.value?.figures.covers : ours.value)?.[id] !== undefined
const rows = computed(() =>
  Object.entries(catalogue.value)
    .map(([id, given]) => ({
      id,
      name: names[kind.value](id),
      given: typeof given === 'number' ? figure(given) : text('own.off-back', { off: given.off, back: given.back }),
    }))
    .filter((r) => r.name.toLowerCase().includes(sought.value.trim().toLowerCase()))
    .sort((a, b) => a.name.localeCompare(b.name)),
)
const many = computed(() =>
  kind.value === 'covers' ? Object.keys(draft.value?.figures.covers ?? {}).length : Object.keys(ours.value).length,
)

function set(id: string, v?: number) {
  const all = { ...ours.value }
  if (v === undefined) delete all[id]
  else all[id] = v
  const figures = draft.value!.figures
  if (alone.value) put('family_rates', { ...figures.family_rates, [family.value]: all }, v === undefined ? id : '')
  else put(kind.value, all, v === undefined ? id : '')
}
/** A cover has both or none: the one that is not typed is the catalogue's. */
function setCover(id: string, side: 'off' | 'back', v?: number) {
  const all = { ...draft.value!.figures.covers }
  if (v === undefined) delete all[id]
  else all[id] = { ...file.data.value!.catalogue.covers![id], ...all[id], [side]: v }
  put('covers', all, v === undefined ? id : '')
}
/** What has gone leaves no source behind, and no empty list. */
function put(k: Kind | 'family_rates', all: object, gone: string) {
  const figures: Own = { ...draft.value!.figures, [k]: all }
  if (Object.values(all).every((v) => typeof v === 'object' && Object.keys(v).length === 0)) delete figures[k]
  draft.value = { ...draft.value!, figures }
  if (gone) source(gone, '')
}
function source(id: string, says: string) {
  const sources = { ...draft.value!.figures.sources }
  if (says) sources[place(id)] = says
  else delete sources[place(id)]
  const figures: Own = { ...draft.value!.figures, sources }
  if (Object.keys(sources).length === 0) delete figures.sources
  draft.value = { ...draft.value!, figures }
}

const busy = ref(false)
const said = ref('')
const refusal = ref<Refusal | null>(null)
async function keep() {
  busy.value = true
  refusal.value = null
  said.value = ''
  try {
    const f = await ask(api.PUT('/api/own-figures', { body: draft.value! }))
    draft.value = { changes: f.changes, figures: f.figures }
    queries.setQueryData(['own-figures'], f)
    await queries.invalidateQueries({ queryKey: ['beside'] })
    said.value = text('own.kept')
  } catch (e) {
    if (!session.noticed(e)) refusal.value = e as Refusal
  } finally {
    busy.value = false
  }
}
/** Goes on from what is kept, where somebody else has kept other figures: theirs, and over them what was typed here. */
async function onTop() {
  const mine = draft.value!.figures
  const now = (await file.refetch()).data
  if (!now) return
  const figures: Own = { ...now.figures }
  for (const k of [...kinds, 'sources'] as const)
    if (mine[k]) Object.assign(figures, { [k]: { ...now.figures[k], ...mine[k] } })
  for (const [id, rates] of Object.entries(mine.family_rates ?? {}))
    figures.family_rates = { ...figures.family_rates, [id]: { ...figures.family_rates?.[id], ...rates } }
  draft.value = { changes: now.changes, figures }
  refusal.value = null
}
</script>

<template>
  <div class="page">
    <div class="row">
      <h1 class="grow">{{ text('own.title') }}</h1>
      <v-btn to="/yard/procedures" variant="text">{{ text('desk.to-list') }}</v-btn>
    </div>
    <p class="muted">{{ text('own.says') }}</p>
    <p v-if="refusal" class="notice" role="alert">
      <ProblemText :of="refusal" />
      <v-btn v-if="refusal.status === 409" @click="onTop">{{ text('own.on-top') }}</v-btn>
    </p>
    <p v-else-if="said && !changed" class="good" role="status">{{ said }}</p>
    <WaitingFor v-if="file.isPending.value" :what="text('desk.fetching')" as="table-tbody" />
    <p v-else-if="file.isError.value" role="alert">{{ sentence(file.error.value as Refusal) }}</p>
    <section v-else-if="draft" class="panel stack" :aria-label="text('own.title')">
      <div class="row bar">
        <ChoiceRow v-model="kind" :items="items" :label="text('own.kinds')" />
        <v-text-field v-model="sought" class="find" density="compact" :label="text('own.find')" maxlength="60" />
        <v-select
          v-if="kind === 'rates'"
          v-model="family"
          class="of"
          density="compact"
          :label="text('own.family')"
          :items="families"
        />
        <span class="grow muted">{{ text('own.many', { n: many }) }}</span>
        <WhyBtn main :busy="busy" :not="changed ? '' : text('own.unchanged')" @click="keep">{{
          text('own.keep')
        }}</WhyBtn>
      </div>
      <p v-if="kind === 'rates'" class="muted small">{{ text('own.rates-say') }}</p>
      <v-table density="compact" class="figures">
        <thead>
          <tr>
            <th scope="col">{{ text(`own.of-${kind}`) }}</th>
            <th scope="col">{{ text('own.catalogue') }}</th>
            <th v-if="kind === 'rates'" scope="col">{{ text('own.counted', { n: counted.data.value?.jobs ?? 0 }) }}</th>
            <th scope="col">{{ text('own.ours') }}</th>
            <th scope="col" class="from">{{ text('own.source') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="place(r.id)">
            <th scope="row">{{ r.name }}</th>
            <td class="figure">{{ r.given }}</td>
            <td v-if="kind === 'rates'" class="counted">
              <span v-if="seen(r.id)" class="figure">{{ text('own.between', inFew(seen(r.id)!)) }}</span>
              <v-btn v-if="seen(r.id)?.jobs" :aria-label="text('own.take-of', { name: r.name })" @click="take(r.id)">{{
                text('own.take')
              }}</v-btn>
            </td>
            <td v-if="kind === 'covers'" class="two">
              <NumberField
                :label="text('own.off')"
                :suffix="text('own.min')"
                :model-value="draft.figures.covers?.[r.id]?.off"
                @update:model-value="setCover(r.id, 'off', $event)"
              />
              <NumberField
                :label="text('own.back')"
                :suffix="text('own.min')"
                :model-value="draft.figures.covers?.[r.id]?.back"
                @update:model-value="setCover(r.id, 'back', $event)"
              />
            </td>
            <td v-else>
              <NumberField
                unlabelled
                :label="`${r.name}, ${text('own.ours').toLowerCase()}`"
                :suffix="kind === 'tests' ? text('own.min') : undefined"
                :model-value="ours[r.id]"
                @update:model-value="set(r.id, $event)"
              />
            </td>
            <td class="from">
              <v-text-field
                v-if="isOurs(r.id)"
                density="compact"
                hide-details
                single-line
                maxlength="200"
                :aria-label="`${r.name}, ${text('own.source').toLowerCase()}`"
                :placeholder="text('own.source-like')"
                :model-value="draft.figures.sources?.[place(r.id)] ?? ''"
                @update:model-value="source(r.id, $event ?? '')"
              />
              <span v-else class="muted small">{{ text('own.common') }}</span>
            </td>
          </tr>
        </tbody>
      </v-table>
      <p v-if="rows.length === 0" class="muted">{{ text('own.none') }}</p>
    </section>
  </div>
</template>

<style scoped>
.counted {
  white-space: nowrap;
}
.counted .v-btn {
  margin-left: 10px;
}
.bar {
  flex-wrap: wrap;
  gap: 10px;
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--panel);
  padding-block: 8px;
}
.panel {
  max-width: 1180px;
  margin-top: 10px;
  grid-template-columns: minmax(0, 1fr);
}
.find {
  flex: 0 1 220px;
}
.figures {
  background: transparent;
}
.figures th[scope='row'] {
  font-weight: 500;
}
.figures td,
.figures th {
  padding-block: 5px;
}
.of {
  flex: 0 1 250px;
}
.figures td:nth-child(3) {
  width: 270px;
}
.figures .from {
  width: 300px;
}
.two {
  display: flex;
  gap: 8px;
}
@media (max-width: 640px) {
  .figures td:nth-child(3) {
    width: 146px;
    min-width: 146px;
  }
  .figures tbody tr:has(.from .v-input) > .from {
    display: block;
  }
  .figures .from {
    display: none;
    width: auto;
    min-width: 200px;
  }
  .two {
    flex-direction: column;
  }
  .find {
    flex-basis: 100%;
  }
}
.notice {
  display: flex;
  gap: 10px;
  align-items: center;
  justify-content: space-between;
}
</style>
