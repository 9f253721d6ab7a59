<script setup lang="ts">
import '@/words/office'
import { useQueryClient } from '@tanstack/vue-query'
import { computed, onScopeDispose, ref } from 'vue'
import { api, ask, Refusal, type Schema } from '@/api/client'
import { lines } from '@/api/lines'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import ProblemText from '@/words/ProblemText.vue'
import { explain, sentence, text } from '@/words/words'

/** A roster in: a file, what would become of every row, and then all of it at once. */
type Line = { done?: number; counts?: Record<string, number>; error?: Schema['Error'] }

const queries = useQueryClient()
const file = ref<File | null>(null)
const compared = ref<Schema['RosterComparison'] | null>(null)
const busy = ref<'' | 'reading' | 'taking'>('')
const done = ref(0)
const taken = ref(false)
const refusal = ref<Refusal | null>(null)
const act = ref('all')
let sent: { name: string; file: string } | null = null
const going = new AbortController()
onScopeDispose(() => going.abort())

async function choose(f: File | File[] | null) {
  file.value = Array.isArray(f) ? (f[0] ?? null) : f
  compared.value = null
  taken.value = false
  refusal.value = null
  act.value = 'all'
  if (!file.value) return
  busy.value = 'reading'
  try {
    sent = { name: file.value.name, file: await base64(file.value) }
    compared.value = await ask(api.POST('/api/roster/comparison', { body: sent }))
  } catch (e) {
    refusal.value = e as Refusal
  } finally {
    busy.value = ''
  }
}

async function take() {
  busy.value = 'taking'
  refusal.value = null
  try {
    const body = { ...sent, fingerprint: compared.value!.fingerprint }
    for await (const l of lines<Line>('/api/roster', body, going.signal)) {
      if (l.error) throw new Refusal(409, l.error)
      if (l.counts) taken.value = true
      done.value = l.done ?? done.value
    }
    await queries.invalidateQueries()
  } catch (e) {
    refusal.value = e instanceof Refusal ? e : new Refusal(0, { code: 'page.server-cannot-be-reached' })
  } finally {
    busy.value = ''
  }
}

async function base64(f: File) {
  const bytes = new Uint8Array(await f.arrayBuffer())
  let out = ''
  const part = 0x8000 // as many arguments as a call may have
  for (let i = 0; i < bytes.length; i += part) out += String.fromCharCode(...bytes.subarray(i, i + part))
  return btoa(out)
}

const PAGE = 25
const ORDER = ['wrong', 'added', 'changed', 'back', 'leaves', 'no-part', 'same']
const counts = computed(() => ORDER.filter((a) => compared.value?.counts[a]))
const acts = computed(() => [
  { value: 'all', title: text('office.all-rows') },
  ...counts.value.map((value) => ({ value, title: `${text(`office.act.${value}`)} ${compared.value!.counts[value]}` })),
])
const shown = computed(() => (compared.value?.rows ?? []).filter((r) => act.value === 'all' || r.act === act.value))
const nothing = computed(() => !!compared.value?.ok && counts.value.every((a) => a === 'same' || a === 'no-part'))
const not = computed(() => {
  if (!compared.value) return text('office.roster-choose')
  if (!compared.value.ok) return text('office.roster-mend')
  return nothing.value ? text('office.roster-same') : ''
})
const heads = computed(() => [
  { title: text('office.h-row'), key: 'line', sortable: false },
  { title: text('office.h-what'), key: 'act', sortable: false },
  { title: text('office.h-who'), key: 'title', sortable: false },
  { title: text('office.h-says'), key: 'says', sortable: false },
])
</script>

<template>
  <div class="page stack">
    <div class="row wrap">
      <h1 class="grow">{{ text('title.roster') }}</h1>
      <v-btn to="/people">{{ text('office.to-people') }}</v-btn>
    </div>
    <section class="panel stack">
      <p>{{ text('office.roster-lead') }}</p>
      <v-file-input
        :model-value="file"
        accept=".zip,.csv,text/csv,application/zip"
        :label="text('office.roster-file')"
        :disabled="!!busy"
        hide-details
        show-size
        @update:model-value="choose"
      />
      <div v-if="busy" role="status">
        <p>{{ text(`office.roster-${busy}`) }}</p>
        <v-progress-linear
          :indeterminate="busy === 'reading'"
          :model-value="100 * done"
          color="primary"
          height="8"
          rounded
          :aria-label="text(`office.roster-${busy}`)"
        />
      </div>
      <ul v-if="refusal" class="refusal" role="alert">
        <li><ProblemText :of="refusal" /></li>
        <li v-for="(p, i) in refusal.all.slice(1)" :key="i">{{ sentence(p) }}</li>
      </ul>
      <p v-if="taken" class="taken" role="status">{{ text('office.roster-taken') }}</p>
    </section>
    <section v-if="compared && !taken" class="panel stack" :aria-label="text('office.h-what')">
      <div class="row wrap">
        <p class="grow">
          <b>{{
            text(nothing ? 'office.roster-same' : compared.ok ? 'office.roster-ready' : 'office.roster-wrong')
          }}</b>
        </p>
        <WhyBtn main :not="not" :busy="!!busy" @click="take">{{ text('office.roster-take') }}</WhyBtn>
      </div>
      <ChoiceRow v-model="act" :items="acts" :label="text('office.filter')" />
      <v-data-table
        class="rows"
        density="compact"
        :headers="heads"
        :items="shown"
        :items-per-page="PAGE"
        :hide-default-footer="shown.length <= PAGE"
        :mobile="null"
        :mobile-breakpoint="760"
        :no-data-text="text('office.nobody')"
      >
        <template #[`item.line`]="{ item }">
          <span class="muted small where">{{
            item.line ? text('office.in-file', { file: item.file, line: item.line }) : text('office.nowhere')
          }}</span>
        </template>
        <template #[`item.act`]="{ item }">
          <span class="tag" :class="item.act">{{ text(`office.act.${item.act}`) }}</span>
        </template>
        <template #[`item.title`]="{ item }">
          <b>{{ item.title || item.id }}</b>
          <span class="muted small kind">{{ text(`office.table.${item.table}`) }}</span>
        </template>
        <template #[`item.says`]="{ item }">
          <ul class="says">
            <li v-for="(p, i) in item.wrong" :key="`w${i}`" class="bad">{{ sentence(p) }}</li>
            <li v-for="(p, i) in item.notes" :key="`n${i}`">{{ explain(p).what }}</li>
            <li v-if="item.columns?.length" class="muted">
              {{ text('office.columns', { columns: item.columns.join(', ') }) }}
            </li>
          </ul>
        </template>
      </v-data-table>
      <p v-if="compared.more" class="muted">{{ text('office.more', { n: compared.more }) }}</p>
    </section>
  </div>
</template>

<style scoped>
.rows {
  background: transparent;
}
.where {
  white-space: nowrap;
}
.kind {
  display: block;
}
.says {
  list-style: none;
  margin: 0;
  padding: 0;
}
.says li::first-letter {
  text-transform: uppercase;
}
.bad {
  color: var(--condemned-ink);
}
.tag {
  display: inline-block;
  padding: 3px 9px;
  border-radius: 7px;
  font: 600 15px/1.1 var(--label);
  background: var(--line-soft);
}
.tag.added,
.tag.back {
  background: var(--good-bg);
  color: var(--good);
}
.tag.leaves {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.tag.wrong {
  background: var(--condemned-bg);
  color: var(--condemned-ink);
}
.taken {
  color: var(--good);
  font-weight: 600;
}
.refusal {
  list-style: none;
  margin: 0;
}
</style>
