<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, ask, Refusal, type Schema } from '@/api/client'
import { useSession } from '@/session/session'
import ProblemText from '@/words/ProblemText.vue'
import { nameOf, text, wordOf } from '@/words/words'
import type { Draft } from './useScenario'

/** What the owner brings: the words, what they come to, and what is told of how it came about. */
const props = defineProps<{ fam: Schema['Family']; spec: Schema['JobSpec']; problems: Schema['Problem'][] }>()
const draft = defineModel<Draft>({ required: true })

// Symptom first: what would bring the complaint that is chosen.
const session = useSession()
const offers = ref<Schema['Offer'][]>()
const looking = ref(false)
const trouble = ref<Refusal | null>(null)
watch(
  () => [draft.value.claim, draft.value.machine_id],
  () => (offers.value = undefined),
)
async function look() {
  looking.value = true
  trouble.value = null
  try {
    offers.value = await ask(api.POST('/api/symptoms', { body: props.spec }))
  } catch (e) {
    if (!session.noticed(e)) trouble.value = e as Refusal
  } finally {
    looking.value = false
  }
}
const percent = (n: number) => Math.round(n * 100)
const span = (o: Schema['Offer']) =>
  o.from < o.to || o.to < 1 ? text('scene.from-to', { from: percent(o.from), to: percent(o.to) }) : ''
function hide(o: Schema['Offer']) {
  // In the middle of what does it, to the step of the slider.
  const severity = Math.round(((o.from + o.to) / 2) * 20) / 20
  draft.value.faults = [{ id: o.fault, mode: o.mode, severity }]
  offers.value = undefined
}

/** The words follow the complaint until somebody has written other ones. */
function claim(id: string) {
  const d = draft.value
  if (!d.words.trim() || d.words === nameOf('complaint', d.claim, 'said')) d.words = nameOf('complaint', id, 'said')
  d.claim = id
}

const ways = ['true', 'omitted', 'misleading']
const more = ref(false)
const unsaid = computed(() => props.fam.statements.filter((s) => !draft.value.told.some((t) => t.says === s.id)))
const wrong = computed(() => props.problems.filter((p) => /^(words|history|claim|complaint)/.test(p.path)))
</script>

<template>
  <section class="panel stack">
    <h2>{{ text('scene.owner') }}</h2>
    <v-textarea v-model="draft.words" rows="2" auto-grow :label="text('job.words')" maxlength="600" />
    <div class="row wrap">
      <v-autocomplete
        :model-value="draft.claim || null"
        class="grow"
        :label="text('job.claim')"
        :placeholder="text('job.choose')"
        :items="fam.complaints.map((c) => ({ title: c.name, value: c.id }))"
        @update:model-value="claim($event ?? '')"
      />
      <v-btn v-if="draft.claim" :loading="looking" @click="look">{{ text('scene.what-does') }}</v-btn>
    </div>
    <p v-if="trouble" class="hint" role="alert"><ProblemText :of="trouble" /></p>
    <div v-if="offers" class="offers" role="group" :aria-label="text('scene.what-does')">
      <span v-if="offers.length === 0" class="muted">{{ text('scene.nothing-does') }}</span>
      <v-btn v-for="o in offers" :key="`${o.fault} ${o.mode}`" class="offer" @click="hide(o)">
        {{ nameOf('fault', o.fault) }}{{ o.mode ? `, ${wordOf(o.mode)}` : '' }}
        <small class="figure">{{ span(o) }}</small>
      </v-btn>
    </div>
    <div class="said">
      <div v-for="(t, i) in draft.told" :key="t.says" class="told" :class="t.is">
        <span class="says">{{ nameOf('statement', t.says, 'says') }}</span>
        <v-select
          v-model="draft.told[i].is"
          class="is"
          density="compact"
          :aria-label="text('scene.how-true', { what: nameOf('statement', t.says, 'says') })"
          :items="ways.map((w) => ({ title: text(`scene.is-${w}`), value: w }))"
        />
        <v-btn @click="draft.told = draft.told.filter((x) => x !== t)">{{ text('job.take-out') }}</v-btn>
      </div>
      <v-autocomplete
        :key="draft.told.length"
        :model-value="null"
        :label="text('scene.says')"
        :items="unsaid.map((s) => ({ title: s.name, value: s.id }))"
        @update:model-value="$event && (draft.told = [...draft.told, { says: $event, is: 'true' }])"
      />
    </div>
    <v-btn v-if="!more && !draft.history" variant="text" class="more" @click="more = true">{{
      text('scene.more-words')
    }}</v-btn>
    <v-textarea v-else v-model="draft.history" rows="2" auto-grow :label="text('job.history')" maxlength="2000" />
    <p v-for="p in wrong" :key="p.path + p.code" class="hint"><ProblemText :of="p" /></p>
  </section>
</template>

<style scoped>
.offers {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.offer small {
  margin-left: 8px;
  color: var(--muted);
}
.said {
  display: grid;
  gap: 8px;
}
.told {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
  border-radius: 10px;
  padding: 4px 6px 4px 14px;
  background: var(--good-bg);
}
.told.omitted {
  background: var(--line-soft);
}
.told.misleading {
  background: var(--suspect-bg);
}
.says {
  flex: 1 1 180px;
}
.is {
  flex: 0 0 190px;
}
.more {
  justify-self: start;
}
.hint {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 10px;
  padding: 8px 12px;
}
.hint::first-letter {
  text-transform: uppercase;
}
</style>
