<script setup lang="ts">
import '@/words/shop'
import '@/words/yard'
import { useMutation } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Refusal } from '@/api/client'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import ProblemText from '@/words/ProblemText.vue'
import { figure, places, text } from '@/words/words'
import StudyPlot from './StudyPlot.vue'
import StudyTable from './StudyTable.vue'

/** How far readings can be trusted: several people read the same engines several times. */
const HEAD = 'person,engine,value\n'
const file = useLocalStorage('study.file', HEAD)
const refusal = ref<Refusal>()
const analyse = useMutation({
  mutationFn: () => ask(api.POST('/api/studies', { body: { file: file.value } })),
  onSuccess: () => (refusal.value = undefined),
  onError: (e) => (refusal.value = e as unknown as Refusal),
})
const study = computed(() => (refusal.value ? undefined : analyse.data.value))
const r = computed(() => study.value?.result)
async function open(files: File | File[] | null) {
  const one = Array.isArray(files) ? files[0] : files
  if (one) file.value = await one.text()
}
const spreads = computed(() =>
  r.value
    ? (['repeatability', 'reproducibility', 'gauge', 'part'] as const).map((id) => ({ id, of: r.value![id] }))
    : [],
)
const verdict = computed(() => (!r.value ? '' : r.value.kinds >= 5 ? 'good' : r.value.kinds >= 2 ? 'some' : 'none'))
/** So many spreads from the others is no chance any more. */
const FAR = 2
/** By chance alone as seldom as this, and it is no chance any more. */
const RARE = 0.05
type Biased = { id: string; bias: number; repeatability: number; z: number }
const biased = (w: Biased) => ({
  id: w.id,
  value: w.bias,
  own: w.repeatability,
  says: text(Math.abs(w.z) > FAR ? (w.bias > 0 ? 'study.high' : 'study.low') : 'study.as-others'),
})
const hard = (e: { id: string; mean: number; repeatability: number; p: number }) => ({
  id: e.id,
  value: e.mean,
  own: e.repeatability,
  says: text(e.p < RARE ? 'study.hard-to-read' : 'study.as-others'),
})
const not = computed(() => (file.value.trim().split('\n').length > 4 ? '' : text('study.no-lines')))
</script>

<template>
  <div class="page stack">
    <div class="row wrap">
      <h1 class="grow">{{ text('title.study') }}</h1>
      <v-btn to="/yard/engines">{{ text('title.engines') }}</v-btn>
    </div>
    <form class="panel stack" @submit.prevent="not || analyse.mutate()">
      <p class="muted">{{ text('study.lead') }}</p>
      <v-file-input accept=".csv,text/csv" hide-details :label="text('study.file')" @update:model-value="open" />
      <v-textarea v-model="file" rows="6" max-rows="10" hide-details class="lines" :label="text('study.lines')" />
      <p v-if="refusal" class="refusal" role="alert"><ProblemText :of="refusal" /></p>
      <WhyBtn main type="submit" :not="not" :busy="analyse.isPending.value">{{ text('study.work-out') }}</WhyBtn>
    </form>
    <template v-if="study && r">
      <section class="panel stack" :aria-label="text('study.result')">
        <h2>{{ text(`study.verdict.${verdict}`, { kinds: r.kinds }) }}</h2>
        <StudyPlot :study="study" />
        <v-table density="compact" class="plain">
          <thead>
            <tr>
              <th v-for="h in ['source', 'spread', 'limits', 'share']" :key="h" scope="col">
                {{ text(`study.h-${h}`) }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in spreads" :key="s.id">
              <th scope="row">{{ text(`study.${s.id}`) }}</th>
              <td class="figure">{{ figure(s.of.sigma) }}</td>
              <td class="figure">{{ text('study.between', { low: s.of.low, high: s.of.high }) }}</td>
              <td class="share">
                <span class="bar" :style="{ width: `${Math.min(100 * s.of.share, 100)}%` }" aria-hidden="true"></span>
                <span class="figure">{{ places(100 * s.of.share, 0) }} %</span>
              </td>
            </tr>
          </tbody>
        </v-table>
        <p class="muted small">{{ text(r.pooled ? 'study.pooled' : 'study.not-pooled') }}</p>
      </section>
      <StudyTable
        v-if="r.gauges"
        :title="text('study.which-gauge')"
        of="gauge"
        by="bias"
        :lines="r.gauges.map(biased)"
        :note="r.mixed ? text('study.mixed') : ''"
      />
      <StudyTable :title="text('study.which-engine')" of="engine" by="mean" :lines="r.hard.map(hard)" />
      <StudyTable :title="text('study.whose')" of="person" by="bias" :lines="r.each.map(biased)" />
    </template>
  </div>
</template>

<style scoped>
.plain {
  background: transparent;
}
.plain th[scope='row'] {
  font-weight: 500;
}
.lines :deep(textarea) {
  font-family: monospace;
}
.share {
  min-width: 180px;
}
.bar {
  display: inline-block;
  height: 8px;
  max-width: 110px;
  margin-right: 8px;
  background: var(--water-2);
  border-radius: 4px;
}
</style>
