<script setup lang="ts">
import '@/words/aids'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import AidCard from './AidCard.vue'
import TestCards from './TestCards.vue'
import UnitCard from './UnitCard.vue'
import { text } from '@/words/words'

/** The job aids: the sums of the workshop, and a card for each test. */
defineProps<{ family?: string }>()
const aids = useQuery({ queryKey: ['aids'], queryFn: () => ask(api.GET('/api/aids')), staleTime: Infinity })
</script>

<template>
  <div v-if="aids.data.value" class="stack">
    <div class="sums">
      <UnitCard :units="aids.data.value.units" />
      <AidCard v-for="a in aids.data.value.aids" :key="a.id" :aid="a" />
    </div>
    <TestCards :families="aids.data.value.families" :of="family" />
  </div>
  <p v-else-if="aids.isError.value" role="status" class="muted">{{ text('aids.away') }}</p>
  <WaitingFor v-else :what="text('aids.fetching')" as="list-item-three-line@4" />
</template>

<style scoped>
.sums {
  columns: 290px;
  column-gap: 10px;
}
.sums > * {
  break-inside: avoid;
  margin-bottom: 10px;
}
</style>
