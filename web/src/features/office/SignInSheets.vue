<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import type { Schema } from '@/api/client'
import { text } from '@/words/words'

/** The sheets to print and cut apart. They are shown once, so leaving the page is asked about. */
defineProps<{ sheets: Schema['Sheet'][]; asked: number }>()
const emit = defineEmits<{ done: [] }>()
const address = location.origin
const print = () => window.print()
useEventListener(window, 'beforeunload', (e) => e.preventDefault())
</script>

<template>
  <div class="page stack">
    <div class="row wrap no-print">
      <h1 class="grow">{{ text('office.sheets') }}</h1>
      <v-btn color="secondary" variant="flat" @click="print">{{ text('office.print') }}</v-btn>
      <v-btn @click="emit('done')">{{ text('office.done') }}</v-btn>
    </div>
    <p class="no-print once">{{ text('office.sheets-once') }}</p>
    <p v-if="sheets.length < asked" class="no-print">
      {{ text('office.sheets-some', { n: sheets.length, all: asked }) }}
    </p>
    <ul class="sheets" :aria-label="text('office.sheets')">
      <li v-for="s in sheets" :key="s.person" class="panel">
        <h2>{{ s.display_name }}</h2>
        <p class="small muted">{{ text('office.sheet-at', { address }) }}</p>
        <dl>
          <dt>{{ text('office.sheet-name') }}</dt>
          <dd>{{ s.name }}</dd>
          <dt>{{ text('office.sheet-password') }}</dt>
          <dd class="password">{{ s.password }}</dd>
        </dl>
        <p class="small">{{ text('office.sheet-then') }}</p>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.once {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 10px;
  padding: 8px 12px;
}
.sheets {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 360px), 1fr));
  gap: 12px;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 2px 14px;
  margin: 8px 0;
  align-items: baseline;
}
dt {
  color: var(--muted);
}
dd {
  margin: 0;
  font-weight: 600;
  font-size: 18px;
}
.password {
  font-family: ui-monospace, monospace;
  font-size: 20px;
}
@media print {
  .sheets {
    grid-template-columns: 1fr 1fr;
    gap: 0;
  }
  .sheets li {
    break-inside: avoid;
    border: 1px dashed #888;
    border-radius: 0;
  }
}
</style>
