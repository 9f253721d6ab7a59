<script setup lang="ts">
import '@/words/shop'
import { useQueries } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, type Refusal } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import { sentence, text } from '@/words/words'
import PaperFace from './PaperFace.vue'
import { useExam } from './useExam'

/** The paper sheets of an exam, in the order of its rounds: who is at which engine. */
const exam = String(useRoute().params.exam)
const file = useExam(exam)
const turns = computed(() => (file.data.value?.rounds ?? []).flatMap((r) => r.turns))
const benches = useQueries({
  queries: computed(() =>
    turns.value.map((t) => ({
      queryKey: ['paper', t.attempt],
      queryFn: () => ask(api.GET('/api/attempts/{attempt}', { params: { path: { attempt: t.attempt } } })),
    })),
  ),
})
const families = computed(() => [...new Set(benches.value.flatMap((b) => (b.data ? [b.data.family] : [])))])
const known = useQueries({
  queries: computed(() =>
    families.value.map((family) => ({
      queryKey: ['family', family],
      queryFn: () => ask(api.GET('/api/families/{family}', { params: { path: { family } } })),
      staleTime: Infinity,
    })),
  ),
})
const familyOf = (id?: string) => known.value.find((f) => f.data?.id === id)?.data
const ready = computed(() => turns.value.length > 0 && benches.value.every((b) => familyOf(b.data?.family)))
const failed = computed(() => file.error.value ?? [...benches.value, ...known.value].find((q) => q.error)?.error)
const print = () => window.print()
</script>

<template>
  <div class="page">
    <div class="row wrap no-print">
      <h1 class="grow">{{ text('shop.exam-sheets') }}</h1>
      <v-btn :to="`/yard/exams/${exam}`">{{ text('shop.to-exam') }}</v-btn>
      <v-btn v-if="ready" color="secondary" variant="flat" @click="print">{{ text('shop.print-sheets') }}</v-btn>
    </div>
    <p v-if="failed" class="panel" role="alert">{{ sentence(failed as unknown as Refusal) }}</p>
    <WaitingFor v-else-if="!ready" :what="text('shop.fetching')" as="article" />
    <template v-for="(t, i) in turns" v-else :key="t.attempt">
      <PaperFace
        :bench="benches[i].data!"
        :family="familyOf(benches[i].data!.family)!"
        :name="file.data.value!.people[t.person].name"
      />
    </template>
  </div>
</template>
