<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { ref } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import { useLocalStorage } from '@/session/useLocalStorage'
import { figure } from './figure'
import { sentence } from '@/words/words'

/** One sum: its figures, what comes out, and where it comes from. */
const props = defineProps<{ aid: Schema['Aid'] }>()

const values = useLocalStorage<Record<string, number | null>>(
  `aid.${props.aid.id}`,
  Object.fromEntries(props.aid.inputs.map((i) => [i.id, i.start])),
)
const results = ref<Schema['AidResult'][]>([])
const trouble = ref('')
watchDebounced(
  values,
  async (v) => {
    const body = Object.fromEntries(Object.entries(v).filter(([, x]) => typeof x === 'number')) as Record<
      string,
      number
    >
    try {
      results.value = await ask(api.POST('/api/aids/{aid}', { params: { path: { aid: props.aid.id } }, body }))
      trouble.value = ''
    } catch (e) {
      trouble.value = sentence(e as Refusal)
    }
  },
  { debounce: 150, deep: true, immediate: true },
)
</script>

<template>
  <article class="panel aid" :aria-label="aid.name">
    <h2>{{ aid.name }}</h2>
    <div class="in">
      <label v-for="i in aid.inputs" :key="i.id" class="above"
        >{{ i.unit ? `${i.name}, ${i.unit}` : i.name }}
        <v-number-input v-model="values[i.id]" density="compact" :min="i.low" :max="i.high" :precision="null" />
      </label>
    </div>
    <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
    <dl v-else aria-live="polite">
      <template v-for="r in results" :key="r.name">
        <dt>{{ r.name }}</dt>
        <dd>
          <b class="figure">{{ figure(r.value) }}</b> {{ r.unit }}<span v-if="r.says" class="says">{{ r.says }}</span>
        </dd>
      </template>
    </dl>
    <v-table v-if="aid.table" density="compact">
      <thead>
        <tr>
          <th v-for="h in aid.table.heads" :key="h" scope="col">{{ h }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in aid.table.rows" :key="r[0]">
          <td v-for="(v, i) in r" :key="i" class="figure">{{ figure(v) }}</td>
        </tr>
      </tbody>
    </v-table>
    <p class="small formula">{{ aid.formula }}</p>
    <p class="small muted">{{ aid.source }}. {{ aid.limits }}</p>
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
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(104px, 1fr));
  gap: 8px;
  align-items: end;
}
dl {
  margin: 0;
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 12px;
  align-items: baseline;
}
dt {
  color: var(--muted);
}
dd {
  margin: 0;
}
dd b {
  font-size: 22px;
}
.says {
  display: block;
  color: var(--suspect-ink);
  font-size: 14px;
}
table {
  border-collapse: collapse;
  font-size: 14px;
}
th,
td {
  text-align: left;
  padding: 2px 8px 2px 0;
  border-top: 1px solid var(--line-soft);
}
.formula {
  border-top: 1px solid var(--line-soft);
  padding-top: 8px;
  overflow-wrap: anywhere;
}
.trouble {
  color: var(--condemned-ink);
}
</style>
