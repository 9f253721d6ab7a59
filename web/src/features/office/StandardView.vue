<script setup lang="ts">
import '@/words/office'
import '@/words/debrief'
import { mdiClose } from '@mdi/js'
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import { nameOf, sentence, text } from '@/words/words'
import ProblemText from '@/words/ProblemText.vue'

/** The lines of an outside training standard, tied to the squares that show them. */
type Standard = Schema['Standard']
const SKILLS = ['readings', 'conclusion', 'economy', 'order', 'safety', 'proof']
const LATERALS = ['', 'fuel', 'air', 'spark', 'compression']
const copy = <T,>(v: T): T => JSON.parse(JSON.stringify(v))
const queries = useQueryClient()
const kept = useQuery({ queryKey: ['standard'], queryFn: () => ask(api.GET('/api/standard')) })
// What is typed outlives a reload; it is begun from what is kept.
const draft = useLocalStorage<Standard | null>('standard', null)
watch(kept.data, (v) => v && (draft.value ??= copy(v)), { immediate: true })
const same = computed(() => JSON.stringify(draft.value) === JSON.stringify(kept.data.value))
const refusal = ref<Refusal | null>(null)

const items = computed(() =>
  SKILLS.flatMap((skill) =>
    LATERALS.map((lateral) => ({
      value: `${skill}/${lateral}`,
      title: text(lateral ? 'record.one-path' : 'record.all-paths', {
        skill: text(`section.${skill}`),
        lateral: lateral && nameOf('lateral', lateral).toLowerCase(),
      }),
    })),
  ),
)
const ties = (l: Schema['StandardLine']) => l.ties.map((t) => `${t.skill}/${t.lateral ?? ''}`)
function tie(l: Schema['StandardLine'], chosen: string[]) {
  l.ties = chosen.map((c) => {
    const [skill, lateral] = c.split('/')
    return lateral ? { skill, lateral } : { skill }
  })
}
const keep = useMutation({
  mutationFn: () => ask(api.PUT('/api/standard', { body: draft.value! })),
  onSuccess: (v) => {
    queries.setQueryData(['standard'], v)
    void queries.invalidateQueries({ queryKey: ['record'] })
    draft.value = copy(v)
    refusal.value = null
  },
  onError: (e) => (refusal.value = e as Refusal),
})
async function fromFile(f: File | File[] | null) {
  const file = Array.isArray(f) ? f[0] : f
  if (!file || !draft.value) return
  refusal.value = null
  try {
    const raw = btoa(Array.from(new Uint8Array(await file.arrayBuffer()), (b) => String.fromCharCode(b)).join(''))
    draft.value.lines = await ask(api.POST('/api/standard/lines', { body: { file: raw } }))
  } catch (e) {
    refusal.value = e as Refusal
  }
}
</script>

<template>
  <div class="page stack">
    <div class="row wrap">
      <h1 class="grow">{{ text('title.standard') }}</h1>
      <WhyBtn
        main
        :not="same ? text('record.standard-same') : ''"
        :busy="keep.isPending.value"
        @click="keep.mutate()"
        >{{ text('record.standard-keep') }}</WhyBtn
      >
    </div>
    <WaitingFor v-if="kept.isPending.value || !draft" :what="text('record.fetching')" as="table-tbody" />
    <section v-else class="panel stack">
      <p>{{ text('record.standard-lead') }}</p>
      <div v-if="refusal" class="refusal" role="alert">
        <p v-for="(p, i) in refusal.all.length ? refusal.all : [refusal]" :key="i">
          <ProblemText v-if="p === refusal" :of="refusal" />
          <template v-else>{{ (p as Schema['Problem']).path }}: {{ sentence(p as Schema['Problem']) }}</template>
        </p>
      </div>
      <p v-if="keep.isSuccess.value && same" role="status">{{ text('record.standard-kept') }}</p>
      <div class="row wrap">
        <v-text-field
          v-model="draft.title"
          class="grow"
          maxlength="200"
          hide-details
          :label="text('record.standard-title')"
        />
        <v-file-input
          class="grow"
          accept=".csv,text/csv"
          hide-details
          :label="text('record.standard-file')"
          @update:model-value="fromFile"
        />
      </div>
      <p v-if="draft.lines.length === 0" class="muted">{{ text('record.standard-none') }}</p>
      <div v-for="(l, i) in draft.lines" :key="i" class="line">
        <v-text-field
          v-model="l.code"
          maxlength="60"
          density="compact"
          hide-details
          :label="text('record.line-code')"
        />
        <v-text-field
          v-model="l.text"
          maxlength="500"
          density="compact"
          hide-details
          :label="text('record.line-text')"
        />
        <v-autocomplete
          :model-value="ties(l)"
          multiple
          chips
          closable-chips
          density="compact"
          hide-details
          :items="items"
          :label="text('record.line-ties')"
          @update:model-value="tie(l, $event)"
        />
        <v-btn
          variant="text"
          :icon="mdiClose"
          :aria-label="text('record.standard-drop', { code: l.code })"
          @click="draft.lines.splice(i, 1)"
        />
      </div>
      <div>
        <v-btn @click="draft.lines.push({ code: '', text: '', ties: [] })">{{ text('record.standard-add') }}</v-btn>
      </div>
    </section>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 110px minmax(0, 1.2fr) minmax(0, 1fr) auto;
  gap: 8px;
  align-items: start;
}
@media (max-width: 760px) {
  .line {
    grid-template-columns: minmax(0, 1fr);
    border-top: 1px solid var(--line-soft);
    padding-top: 10px;
  }
}
</style>
