<script setup lang="ts">
import { ref } from 'vue'
import { figure, text } from '@/words/words'

/** The figures of a chart as a table, for whoever reads rather than looks. */
defineProps<{ label: string; heads: string[]; rows: (string | number)[][] }>()
const open = ref(false)
</script>

<template>
  <v-btn variant="text" class="no-print" :aria-expanded="open" @click="open = !open">{{
    text(open ? 'chart.hide-table' : 'chart.table')
  }}</v-btn>
  <v-table v-if="open" density="compact" fixed-header height="260" :aria-label="label">
    <thead>
      <tr>
        <th v-for="h in heads" :key="h" scope="col">{{ h }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(row, i) in rows" :key="i">
        <td v-for="(cell, k) in row" :key="k" :class="{ figure: typeof cell === 'number' }">
          {{ typeof cell === 'number' ? figure(cell) : cell }}
        </td>
      </tr>
    </tbody>
  </v-table>
</template>
