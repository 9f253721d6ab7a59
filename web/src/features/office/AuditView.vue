<script setup lang="ts">
import '@/words/office'
import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask, type Refusal } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import { moment, sentence, text } from '@/words/words'

/** Who looked at and changed what of others, the latest first. */
const PAGE = 100
const audit = useInfiniteQuery({
  queryKey: ['audit'],
  queryFn: ({ pageParam: before }) => ask(api.GET('/api/audit', { params: { query: { before } } })),
  initialPageParam: undefined as number | undefined,
  getNextPageParam: (last) => (last.length === PAGE ? last.at(-1)!.id : undefined),
})
const lines = computed(() => audit.data.value?.pages.flat() ?? [])
</script>

<template>
  <div class="page stack">
    <div class="row wrap">
      <h1 class="grow">{{ text('title.audit') }}</h1>
      <v-btn href="/api/audit.csv" download="audit.csv">{{ text('audit.csv') }}</v-btn>
    </div>
    <section class="panel stack">
      <p>{{ text('audit.lead') }}</p>
      <WaitingFor v-if="audit.isPending.value" :what="text('audit.fetching')" as="table-tbody" />
      <p v-else-if="audit.isError.value" role="alert">{{ sentence(audit.error.value as Refusal) }}</p>
      <p v-else-if="lines.length === 0" class="muted">{{ text('audit.none') }}</p>
      <v-table v-else density="compact" class="lines">
        <thead>
          <tr>
            <th v-for="h in ['at', 'by', 'act', 'about']" :key="h" scope="col">{{ text(`audit.h-${h}`) }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in lines" :key="l.id">
            <td>{{ moment(l.at) }}</td>
            <td>{{ l.by }}</td>
            <td>{{ text(`audit.act.${l.act}`) }}</td>
            <td>{{ l.about }}</td>
          </tr>
        </tbody>
      </v-table>
      <div v-if="audit.hasNextPage.value">
        <v-btn :disabled="audit.isFetchingNextPage.value" @click="audit.fetchNextPage()">{{
          text('audit.earlier')
        }}</v-btn>
      </div>
    </section>
  </div>
</template>

<style scoped>
.lines {
  background: transparent;
}
</style>
