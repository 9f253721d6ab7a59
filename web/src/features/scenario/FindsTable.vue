<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import { figure, text } from '@/words/words'

/** What each test would show on this machine, beside a sound one. */
const props = defineProps<{ rows: Schema['PreviewRow'][]; hidden: boolean }>()
const only = ref(true)
const shown = computed(() => props.rows.filter((r) => !only.value || r.differs))
</script>

<template>
  <section class="panel stack">
    <div class="row">
      <h2 class="grow">{{ text('job.finds') }}</h2>
      <v-checkbox v-model="only" :label="text('job.only')" />
    </div>
    <v-table density="compact">
      <thead>
        <tr>
          <th v-for="h in ['test', 'shows', 'sound', 'min']" :key="h" scope="col">{{ text(`job.${h}`) }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in shown" :key="r.test" :class="{ differs: r.differs }">
          <td>{{ r.title }}</td>
          <td class="figure">{{ r.shows }}</td>
          <td class="figure sound">{{ r.healthy }}</td>
          <td class="figure sound">{{ r.minutes ? figure(r.minutes) : '–' }}</td>
        </tr>
        <tr v-if="shown.length === 0">
          <td colspan="4" class="muted">{{ text(hidden ? 'job.no-test' : 'job.hide-one') }}</td>
        </tr>
      </tbody>
    </v-table>
    <p class="small muted">{{ text('job.fresh') }}</p>
  </section>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font: 500 15px/1 var(--label);
  color: var(--muted);
}
th,
td {
  padding: 6px 8px 6px 0;
}
td {
  border-top: 1px solid var(--line-soft);
  font-size: 14.5px;
  line-height: 1.2;
}
td.figure {
  font-size: 16px;
}
.sound {
  color: var(--muted);
}
.differs td:nth-child(2) {
  color: var(--condemned-ink);
}
</style>
