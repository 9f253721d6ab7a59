<script setup lang="ts">
import '@/words/debrief'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import ChoiceRow from '@/controls/ChoiceRow.vue'
import WaitingFor from '@/controls/WaitingFor.vue'
import { capital, sentence, text } from '@/words/words'

/** Marked attempts, those first at which a person's look is wanted most. */
const list = useQuery({ queryKey: ['reviews'], queryFn: () => ask(api.GET('/api/reviews')) })
const which = ref('open')
const choices = ['open', 'signed', 'all'].map((value) => ({ value, title: text(`review.show-${value}`) }))
const sought = ref('')
const shown = computed(() => {
  const words = sought.value.trim().toLowerCase()
  return (list.data.value ?? []).filter(
    (c) =>
      (which.value === 'all' || c.signed === (which.value === 'signed') || c.yours) &&
      `${c.attempt.apprentice} ${c.attempt.machine_name} ${c.attempt.machine_code}`.toLowerCase().includes(words),
  )
})
/** Why it stands where it stands. */
function why(c: Schema['ReviewCard']) {
  if (c.yours) return text('review.why-yours')
  if (c.appealed) return text('review.why-appeal')
  if (c.signed) return text('review.is-signed')
  return text(c.doubt >= 0.5 ? 'review.doubt-much' : c.doubt >= 0.2 ? 'review.doubt-some' : 'review.doubt-little')
}
</script>

<template>
  <div class="page stack">
    <h1>{{ text('review.queue') }}</h1>
    <section class="panel stack" :aria-label="text('review.queue')">
      <div class="row wrap">
        <v-text-field
          v-model="sought"
          class="grow"
          density="compact"
          hide-details
          maxlength="60"
          :label="text('review.find')"
        />
        <ChoiceRow v-model="which" :items="choices" :label="text('review.which')" />
      </div>
      <WaitingFor v-if="list.isPending.value" :what="text('review.fetching')" as="table-tbody" />
      <p v-else-if="list.isError.value" role="alert">{{ sentence(list.error.value as Refusal) }}</p>
      <v-table v-else-if="shown.length" class="lines">
        <thead>
          <tr>
            <th v-for="h in ['who', 'job', 'outcome', 'mark', 'why']" :key="h" scope="col">
              {{ text(`review.h-${h}`) }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in shown" :key="c.attempt.id">
            <th scope="row">
              <RouterLink :to="`/debrief/${c.attempt.id}`">{{ c.attempt.apprentice }}</RouterLink>
            </th>
            <td>
              {{ c.attempt.machine_name }} {{ c.attempt.machine_code }}
              <span class="muted">{{ text('jobs.number', { number: c.attempt.job_number }) }}</span>
              <span v-if="c.attempt.purpose" class="purpose">{{ text(`jobs.${c.attempt.purpose}`) }}</span>
            </td>
            <td>
              <template v-if="c.outcome">{{ capital(text(`outcome.${c.outcome}`)) }}</template>
              <span v-if="c.attempt.class" class="muted">{{ text(`class.${c.attempt.class}`) }}</span>
            </td>
            <td class="figure">
              {{ c.attempt.of ? text('state.mark', { mark: c.attempt.mark, of: c.attempt.of }) : '–' }}
            </td>
            <td>
              <span class="tag" :class="{ first: c.yours || c.appealed, done: c.signed }">{{ why(c) }}</span>
            </td>
          </tr>
        </tbody>
      </v-table>
      <p v-else class="muted">{{ text('review.none') }}</p>
    </section>
  </div>
</template>

<style scoped>
.lines {
  background: transparent;
}
.lines th[scope='row'] {
  font-weight: 600;
}
.lines td .muted {
  display: block;
  font-size: 14.5px;
}
.tag {
  font: 600 15px/1.2 var(--label);
}
.tag.first {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 8px;
  padding: 4px 10px;
}
.tag.done {
  color: var(--good);
}
@media (max-width: 760px) {
  .lines :is(td, th):nth-child(2) {
    display: none;
  }
}
</style>
