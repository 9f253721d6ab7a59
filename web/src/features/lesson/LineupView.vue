<script setup lang="ts">
import '@/words/hear'
import '@/words/lesson'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import LookScene from '@/looks/LookScene.vue'
import ProblemText from '@/words/ProblemText.vue'
import { capital, nameOf, text } from '@/words/words'

/** All that a look can meet on an engine, by kind and by how far it has gone: to learn to tell neighbours apart. */
const FAMILIES = ['f4-bowl', 'f4-bail', 'f4-suction', 't2-diaphragm']
const family = ref(FAMILIES[0])
const test = ref('plug-look')
const dim = ref(false)
const named = ref(true)
const lineup = useQuery({
  queryKey: ['lineup', family],
  queryFn: () => ask(api.GET('/api/families/{family}/lineup', { params: { path: { family: family.value } } })),
  staleTime: Infinity,
})
const tests = computed(() => [...new Set(lineup.data.value?.map((s) => s.look.test))])
watch(tests, (all) => all.length && !all.includes(test.value) && (test.value = all[0]))
const stands = computed(() =>
  (lineup.data.value ?? [])
    .filter((s) => s.look.test === test.value)
    .map((s) => ({ ...s, look: { ...s.look, dim: dim.value } })),
)
/** What the machine has, which way it went and how far. */
function has(s: Schema['Stand']): string {
  if (!s.fault) return text('lineup.sound')
  const what = [nameOf('fault', s.fault), s.mode && text(`mode.${s.mode}`)].filter(Boolean).join(', ')
  return s.severity ? text('lineup.far', { what, percent: Math.round(100 * s.severity) }) : what
}
</script>

<template>
  <div class="page stack">
    <div class="row wrap">
      <h1 class="grow">{{ text('lineup.title') }}</h1>
      <v-btn to="/inside">{{ text('title.inside') }}</v-btn>
    </div>
    <p class="muted">{{ text('lineup.says') }}</p>
    <section class="panel choose" :aria-label="text('lineup.what')">
      <v-select
        v-model="family"
        :label="text('lineup.engine')"
        :items="FAMILIES.map((value) => ({ value, title: nameOf('family', value) }))"
      />
      <v-select
        v-model="test"
        :label="text('lineup.look')"
        :items="tests.map((value) => ({ value, title: nameOf('test', value, 'title') }))"
      />
      <v-switch v-model="dim" :label="text('lineup.dim')" />
      <v-switch v-model="named" :label="text('lineup.named')" />
    </section>
    <p v-if="lineup.isError.value" role="alert"><ProblemText :of="lineup.error.value as Refusal" /></p>
    <WaitingFor v-else-if="lineup.isPending.value" :what="text('lineup.fetching')" as="card" />
    <ul v-else class="stands" :aria-label="nameOf('test', test, 'title')">
      <li v-for="(s, i) in stands" :key="`${family}${test}${i}`" class="panel">
        <LookScene :look="s.look" />
        <p v-if="named" class="called">
          <b>{{ capital(text(`word.${s.word}`)) }}</b> <span class="muted">{{ has(s) }}</span>
        </p>
        <p v-else class="called">
          <b>{{ i + 1 }}</b>
        </p>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.choose {
  display: grid;
  grid-template-columns: 1.2fr 1.2fr auto auto;
  gap: 14px;
  align-items: center;
}
.stands {
  list-style: none;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 280px), 1fr));
  gap: 12px;
}
.stands > li {
  padding: 10px;
}
/* They are to be told apart by eye: what each is like in words is for a screen reader. */
.stands :deep(figcaption:not(:has(*))),
.stands :deep(figcaption [role='status']) {
  display: none;
}
.called {
  margin: 6px 2px 0;
  font-size: 17px;
}
@media (max-width: 900px) {
  .choose {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
