<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import { useLocalStorage } from '@/session/useLocalStorage'
import { figure } from './figure'
import { sentence, text } from '@/words/words'

/** A quantity in every unit that measures the same. */
defineProps<{ units: string[] }>()

const from = useLocalStorage('aid.units', { reading: '62', unit: 'psi' })
const results = ref<Schema['AidResult'][]>([])
const trouble = ref('')
watch(
  from,
  async (f) => {
    try {
      results.value = await ask(api.POST('/api/conversions', { body: { ...f } }))
      trouble.value = ''
    } catch (e) {
      trouble.value = sentence(e as Refusal)
    }
  },
  { deep: true, immediate: true },
)
</script>

<template>
  <article class="panel aid" :aria-label="text('aids.units')">
    <h2>{{ text('aids.units') }}</h2>
    <div class="in">
      <v-text-field v-model="from.reading" :label="text('bench.reading')" inputmode="decimal" maxlength="40" />
      <v-select v-model="from.unit" :label="text('bench.unit')" :items="units" />
    </div>
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
    <ul v-else class="row wrap" aria-live="polite">
      <li v-for="r in results" :key="r.unit">
        <b class="figure">{{ figure(r.value) }}</b> {{ r.unit }}
      </li>
    </ul>
    <p class="small muted">{{ text('aids.factors') }}</p>
  </article>
</template>

<style scoped>
h2 {
  font-size: 17px;
}
.aid {
  display: grid;
  gap: 8px;
  align-content: start;
}
.in {
  padding-top: 8px;
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  gap: 4px 18px;
}
li b {
  font-size: 22px;
}
.trouble {
  color: var(--condemned-ink);
}
</style>
