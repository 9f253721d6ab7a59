<script setup lang="ts">
import type { Schema } from '@/api/client'
import { nameOf, text } from '@/words/words'

/** Each test where it stood: the minutes that it cost beyond the best one then, or why nothing is asked of its place. */
defineProps<{ order: Schema['Ordered'][] }>()
const emit = defineEmits<{ point: [seq: number] }>()
</script>

<template>
  <v-table v-if="order.length" density="compact" class="order">
    <thead>
      <tr>
        <th v-for="h in ['test', 'regret', 'instead']" :key="h" scope="col">{{ text(`debrief.${h}`) }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="o in order" :key="o.seq" :class="{ 'no-print': o.exempt || !o.regret_minutes }">
        <td>
          <v-btn variant="text" class="to" @click="emit('point', o.seq)">{{ nameOf('test', o.test, 'title') }}</v-btn>
        </td>
        <td class="figure">
          {{ o.exempt ? '–' : text('tray.minutes', { minutes: o.regret_minutes }) }}
        </td>
        <td>
          <span v-if="o.exempt" class="muted">{{ text(`exempt.${o.exempt}`) }}</span>
          <template v-else-if="o.departure">{{ text(`departure.${o.departure}`) }}</template>
          <template v-else>{{ o.better ? nameOf('test', o.better, 'title') : text('debrief.best') }}</template>
        </td>
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
.order {
  background: transparent;
  margin-bottom: 8px;
}
.order td {
  font-size: 14.5px;
}
</style>
