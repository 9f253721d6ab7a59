<script setup lang="ts">
import '@/words/shop'
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, type Refusal } from '@/api/client'
import PaperFace from './PaperFace.vue'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useFamily } from '@/features/bench/useFamily'
import { sentence, text } from '@/words/words'

/** The sheet of a real engine on paper: the same places as on the tablet, with blanks. */
const attempt = String(useRoute().params.attempt)
const bench = useQuery({
  queryKey: ['paper', attempt],
  queryFn: () => ask(api.GET('/api/attempts/{attempt}', { params: { path: { attempt } } })),
})
const b = computed(() => bench.data.value)
const family = useFamily(() => b.value?.family)
const fam = computed(() => family.data.value)
const print = () => window.print()
</script>

<template>
  <div class="page paper">
    <WaitingFor v-if="bench.isPending.value" :what="text('shop.fetching')" as="article" />
    <p v-else-if="!b" role="alert">{{ sentence(bench.error.value as Refusal) }}</p>
    <template v-else-if="fam">
      <div class="row no-print">
        <h1 class="grow">{{ text('shop.paper') }}</h1>
        <v-btn :to="`/bench/${attempt}`">{{ text('shop.to-tablet') }}</v-btn>
        <v-btn color="secondary" variant="flat" @click="print">{{ text('shop.print-sheet') }}</v-btn>
      </div>
      <PaperFace :bench="b" :family="fam" />
    </template>
  </div>
</template>
