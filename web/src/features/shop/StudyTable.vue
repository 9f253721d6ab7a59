<script setup lang="ts">
import '@/words/shop'
import { figure, text } from '@/words/words'

/** Whose readings, which gauge or which engine: a line for each, with what is to be said of it. */
defineProps<{
  title: string
  /** Of the first and second column. */ of: string
  by: 'bias' | 'mean'
  lines: { id: string; value: number; own: number; says: string }[]
  note?: string
}>()
</script>

<template>
  <section class="panel stack" :aria-label="title">
    <h2>{{ title }}</h2>
    <p v-if="note" class="muted small">{{ note }}</p>
    <v-table density="compact" class="plain">
      <thead>
        <tr>
          <th v-for="h in [of, by, 'own', 'says']" :key="h" scope="col">{{ text(`study.h-${h}`) }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="l in lines" :key="l.id">
          <th scope="row">{{ l.id }}</th>
          <td class="figure">{{ figure(l.value) }}</td>
          <td class="figure">{{ figure(l.own) }}</td>
          <td>{{ l.says }}</td>
        </tr>
      </tbody>
    </v-table>
  </section>
</template>

<style scoped>
.plain {
  background: transparent;
}
.plain th[scope='row'] {
  font-weight: 500;
}
</style>
