<script setup lang="ts">
import '@/words/shop'
import '@/words/yard'
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import NumberField from '@/controls/NumberField.vue'
import WaitingFor from '@/controls/WaitingFor.vue'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useAllTests } from './useAllTests'
import { error, useInstruments, type Instrument } from './useInstruments'
import { useLocalStorage } from '@/session/useLocalStorage'
import ProblemText from '@/words/ProblemText.vue'
import { day, nameOf, sentence, text } from '@/words/words'

/** The register of the shop's instruments: when each was checked, and how far it reads wrong. */
const queries = useQueryClient()
const { all, list } = useInstruments()
const blank = (): Instrument => ({
  id: crypto.randomUUID(),
  code: '',
  name: '',
  checked_on: '',
  due_on: '',
  reads: {},
  gone: false,
  revision: 0,
})
// What is typed outlives a reload.
const draft = useLocalStorage<Instrument>('instrument.draft', blank())
const refusal = ref<Refusal>()
const { numbers } = useAllTests()
const left = computed(() => numbers.value.filter((t) => !(t.value in draft.value.reads)))
const add = ref<string>()
function addTest(id?: string) {
  if (id) draft.value = { ...draft.value, reads: { ...draft.value.reads, [id]: 0 } }
  add.value = undefined
}
function setHigh(id: string, high = 0) {
  draft.value = { ...draft.value, reads: { ...draft.value.reads, [id]: high } }
}
function drop(id: string) {
  const reads = Object.fromEntries(Object.entries(draft.value.reads).filter(([t]) => t !== id))
  draft.value = { ...draft.value, reads }
}
const unitOf = (id: string) => numbers.value.find((t) => t.value === id)?.unit ?? ''
const not = computed(() => {
  const d = draft.value
  if (!d.code.trim() || !d.name.trim()) return text('shop.instrument-lacks-name')
  if (!d.checked_on || !d.due_on) return text('shop.instrument-lacks-days')
  return Object.keys(d.reads).length ? '' : text('shop.instrument-lacks-tests')
})
const keep = useMutation({
  mutationFn: () => ask(api.PUT('/api/instruments', { body: { ...draft.value, overdue: undefined } })),
  onSuccess: (now: Schema['ShopInstrument'][]) => {
    refusal.value = undefined
    draft.value = blank()
    queries.setQueryData(['instruments'], now)
  },
  onError: async (e) => {
    refusal.value = e as unknown as Refusal
    if (refusal.value.status === 409) await all.refetch()
  },
})
const change = (i: Instrument) => (draft.value = { ...i, reads: { ...i.reads } })
const errors = (i: Instrument) =>
  Object.keys(i.reads).map((t) => ({
    test: nameOf('test', t, 'title'),
    says: error(i.reads[t], unitOf(t)) || text('shop.reads-right'),
  }))
</script>

<template>
  <div class="page stack">
    <div class="row wrap">
      <h1 class="grow">{{ text('title.instruments') }}</h1>
      <v-btn to="/yard/engines">{{ text('title.engines') }}</v-btn>
    </div>
    <p class="muted">{{ text('shop.instruments-lead') }}</p>
    <WaitingFor v-if="all.isPending.value" :what="text('shop.fetching')" as="table-tbody" />
    <p v-else-if="all.isError.value" class="panel" role="alert">{{ sentence(all.error.value as Refusal) }}</p>
    <section v-else-if="list.length" class="panel">
      <v-table class="plain">
        <thead>
          <tr>
            <th v-for="h in ['code', 'reads', 'checked', 'due', 'change']" :key="h" scope="col">
              {{ text(`shop.instrument-${h}`) }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="i in list" :key="i.id" :class="{ gone: i.gone }">
            <th scope="row">
              <b>{{ i.code }}</b> {{ i.name }}
              <span v-if="i.gone" class="tag">{{ text('shop.instrument-gone') }}</span>
            </th>
            <td>
              <div v-for="e in errors(i)" :key="e.test">
                {{ e.test }}: <b>{{ e.says }}</b>
              </div>
            </td>
            <td class="nowrap">{{ day(i.checked_on) }}</td>
            <td class="nowrap">
              {{ day(i.due_on) }}
              <span v-if="i.overdue && !i.gone" class="tag late">{{ text('shop.overdue') }}</span>
            </td>
            <td>
              <v-btn :aria-label="text('shop.change-what', { code: i.code })" @click="change(i)">{{
                text('shop.change')
              }}</v-btn>
            </td>
          </tr>
        </tbody>
      </v-table>
    </section>
    <form class="panel stack" @submit.prevent="not || keep.mutate()">
      <h2>{{ text(draft.revision ? 'shop.instrument-changed' : 'shop.instrument-new') }}</h2>
      <div class="fields">
        <v-text-field v-model="draft.code" hide-details maxlength="40" :label="text('shop.instrument-code')" />
        <v-text-field v-model="draft.name" hide-details maxlength="80" :label="text('shop.instrument-name')" />
        <v-text-field
          v-model="draft.checked_on"
          type="date"
          hide-details
          persistent-placeholder
          :label="text('shop.instrument-checked')"
        />
        <v-text-field
          v-model="draft.due_on"
          type="date"
          hide-details
          persistent-placeholder
          :label="text('shop.instrument-due')"
        />
      </div>
      <div v-for="id in Object.keys(draft.reads)" :key="id" class="row wrap test">
        <span class="grow">{{ nameOf('test', id, 'title') }}</span>
        <NumberField
          class="high"
          :label="text('shop.instrument-high')"
          :suffix="unitOf(id)"
          :model-value="draft.reads[id]"
          @update:model-value="setHigh(id, $event)"
        />
        <v-btn @click="drop(id)">{{ text('shop.take-out') }}</v-btn>
      </div>
      <v-autocomplete
        v-model="add"
        hide-details
        :items="left"
        :label="text('shop.instrument-for')"
        @update:model-value="addTest($event)"
      />
      <v-checkbox v-if="draft.revision" v-model="draft.gone" :label="text('shop.instrument-gone')" />
      <div class="row wrap">
        <WhyBtn main type="submit" :not="not" :busy="keep.isPending.value">{{ text('shop.instrument-keep') }}</WhyBtn>
        <v-btn v-if="draft.revision" @click="draft = blank()">{{ text('shop.leave') }}</v-btn>
      </div>
      <p v-if="refusal" class="refusal" role="alert"><ProblemText :of="refusal" /></p>
    </form>
  </div>
</template>

<style scoped>
.plain {
  background: transparent;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(190px, 1fr));
  gap: 12px;
}
th[scope='row'] {
  text-align: left;
  font-weight: 400;
}
td,
th {
  vertical-align: top;
}
.nowrap {
  white-space: nowrap;
}
.gone {
  opacity: 0.6;
}
.late {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.test {
  border-bottom: 1px solid var(--line-soft);
  padding-bottom: 8px;
}
.high {
  flex: 0 0 240px;
}
</style>
