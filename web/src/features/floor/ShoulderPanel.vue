<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Refusal } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useFamily } from '@/features/bench/useFamily'
import { useLocalStorage } from '@/session/useLocalStorage'
import ProblemText from '@/words/ProblemText.vue'
import { nameOf, text } from '@/words/words'
import MiniBoard from './MiniBoard.vue'
import { actWords } from './needs'
import type { Bench } from './useFloor'

/**
 * What somebody who teaches sees of one bench: what is marked there beside what the readings
 * show, what is hidden, the last acts, and a way to say something without telling it.
 */
const props = defineProps<{ bench: Bench }>()
/** How many of the last acts are shown. */
const SHOWN = 4
const path = computed(() => ({ params: { path: { attempt: props.bench.attempt } } }))
const handed = computed(() => ['marking', 'to-review', 'done', 'missed', 'stopped'].includes(props.bench.stands))
const family = useFamily(() => props.bench.family)
const standing = useQuery({
  queryKey: ['standing', () => props.bench.attempt, () => props.bench.version],
  queryFn: () => ask(api.GET('/api/attempts/{attempt}/standing', path.value)),
  enabled: () => !handed.value,
  placeholderData: (was, query) => (query?.queryKey[1] === props.bench.attempt ? keepPreviousData(was) : undefined),
})
const st = computed(() => standing.data.value)
const share = (f: { fault: string; percent: number }) =>
  text('office.floor.share', { fault: f.fault, share: Math.round(f.percent) })

const words = useLocalStorage(`floor-words.${props.bench.attempt}`, '')
const said = ref('')
const trouble = ref<Refusal>()
const say = useMutation({
  mutationFn: (what: string) =>
    ask(api.POST('/api/attempts/{attempt}/hints', { ...path.value, body: { id: crypto.randomUUID(), words: what } })),
  onSuccess: (_, what) => {
    said.value = text('office.floor.was-said', { words: what })
    if (what === words.value) words.value = ''
    trouble.value = undefined
  },
  onError: (e) => (trouble.value = e as unknown as Refusal),
})
const pause = useMutation({
  mutationFn: (paused: boolean) => ask(api.PUT('/api/attempts/{attempt}/pause', { ...path.value, body: { paused } })),
  onError: (e) => (trouble.value = e as unknown as Refusal),
})
/** Things to say that ask, and give nothing away; what was left out for safety comes first. */
const ready = computed(() => {
  const out = props.bench.unsafe ? [text('office.floor.say-unsafe', { action: props.bench.unsafe.precautions[0] })] : []
  const last = st.value?.acts.find((a) => a.act.kind === 'take' && a.act.test)
  if (last?.right === false) out.push(text('office.floor.say-again', { test: last.act.test }))
  else if (last && !last.valid) out.push(text('office.floor.say-set-up', { test: last.act.test }))
  else if (last) out.push(text('office.floor.say-rules-out', { test: last.act.test }))
  return [...out, text('office.floor.say-next')]
})
watch(
  () => props.bench.attempt,
  () => (said.value = ''),
)
</script>

<template>
  <section class="panel shoulder" :aria-label="bench.display_name">
    <div class="row">
      <h2 class="grow">{{ bench.display_name }}</h2>
      <span class="muted">{{ bench.machine_name }} {{ bench.machine_code }}</span>
    </div>
    <div v-if="bench.unsafe" class="unsafe">
      <b><span aria-hidden="true">▲</span> {{ text('office.floor.unsafe-at', { test: bench.unsafe.test }) }}</b>
      <span>{{
        text(bench.unsafe.critical ? 'office.floor.left-out-critical' : 'office.floor.left-out', {
          what: bench.unsafe.precautions.map((p) => nameOf('action', p)).join('; '),
        })
      }}</span>
    </div>
    <p v-if="bench.asks" class="asks">
      <b>{{ text('office.floor.asks') }}</b> “{{ bench.asks }}”
    </p>
    <template v-if="handed">
      <p>{{ text(`office.stands.${bench.stands}`) }}</p>
      <v-btn v-if="bench.stands !== 'missed'" :to="`/debrief/${bench.attempt}`">{{ text('bench.debrief') }}</v-btn>
    </template>
    <template v-else>
      <div v-if="st && family.data.value" class="boards">
        <span></span>
        <h3>{{ text('office.floor.theirs') }}</h3>
        <h3>{{ text('office.floor.show') }}</h3>
        <div class="names" aria-hidden="true">
          <span v-for="l in family.data.value.laterals" :key="l.id">{{ l.name }}</span>
        </div>
        <MiniBoard tall :family="bench.family" :marks="bench.marks" :label="text('office.floor.theirs')" />
        <MiniBoard tall :family="bench.family" :marks="st.board" :label="text('office.floor.show')" />
      </div>
      <WaitingFor v-else-if="standing.isPending.value" :what="text('office.floor.weighing')" as="article" />
      <p v-else role="alert"><ProblemText :of="standing.error.value as unknown as Refusal" /></p>
      <dl v-if="st" class="facts">
        <dt>{{ text('office.floor.hidden') }}</dt>
        <dd>{{ st.hidden.map((f) => nameOf('fault', f.fault)).join('; ') || text('office.floor.nothing-hidden') }}</dd>
        <dt>{{ text('office.floor.likely') }}</dt>
        <dd>{{ st.likely.map(share).join('; ') || text('office.floor.nothing-likely') }}</dd>
      </dl>
      <template v-if="st?.acts.length">
        <h3>{{ text('office.floor.last') }}</h3>
        <ol class="acts">
          <li v-for="(a, i) in st.acts.slice(0, SHOWN)" :key="i">
            <span class="at figure">{{ Math.round(a.at_min) }}</span>
            <span class="grow">{{ actWords(a.act) }}</span>
            <span v-if="!a.valid" class="odd">{{ text('office.floor.not-valid') }}</span>
            <span v-else-if="a.right === false" class="odd">{{ text('office.floor.misread') }}</span>
          </li>
        </ol>
      </template>
      <h3>{{ text('office.floor.say') }}</h3>
      <div class="ready">
        <v-btn v-for="r in ready" :key="r" block class="say" :disabled="say.isPending.value" @click="say.mutate(r)">{{
          r
        }}</v-btn>
      </div>
      <form @submit.prevent="words.trim() && say.mutate(words)">
        <v-text-field v-model="words" :label="text('office.floor.own-words')" maxlength="600" hide-details />
        <v-btn type="submit" :disabled="!words.trim() || say.isPending.value">{{ text('office.floor.send') }}</v-btn>
      </form>
      <p v-if="said" role="status" class="said">{{ said }}</p>
      <p v-if="trouble" role="alert" class="refusal"><ProblemText :of="trouble" /></p>
      <div class="row do">
        <v-btn :disabled="pause.isPending.value" @click="pause.mutate(!bench.paused)">{{
          text(bench.paused ? 'office.floor.go-on' : 'office.floor.pause')
        }}</v-btn>
        <v-btn color="secondary" variant="flat" class="grow" :to="`/bench/${bench.attempt}`">{{
          text('office.floor.over-shoulder')
        }}</v-btn>
      </div>
    </template>
  </section>
</template>

<style scoped>
.shoulder {
  display: grid;
  gap: 6px;
  align-content: start;
  padding-block: 10px;
}
.unsafe {
  display: grid;
  padding: 8px 12px;
  border-radius: 10px;
  background: var(--condemned-bg);
  color: var(--condemned-ink);
}
.asks {
  padding: 8px 12px;
  border: 2px solid var(--water-2);
  border-radius: 10px;
}
.boards {
  display: grid;
  grid-template-columns: auto 1fr 1fr;
  gap: 2px 10px;
}
.names {
  display: grid;
  gap: 6px;
  font: 500 14px/18px var(--label);
}
.facts {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 10px;
}
dt {
  color: var(--muted);
}
dd {
  margin: 0;
}
.acts {
  list-style: none;
  margin: 0;
  padding: 0;
}
.acts li {
  display: flex;
  gap: 10px;
  padding: 2px 0;
  border-top: 1px solid var(--line-soft);
}
.at {
  min-width: 24px;
  color: var(--muted);
}
.odd {
  color: var(--condemned-ink);
  font-weight: 600;
}
.ready {
  display: grid;
  gap: 6px;
}
.say {
  justify-content: start;
  height: auto !important;
  min-height: 40px;
  padding-block: 6px;
  text-align: left;
}
.say :deep(.v-btn__content) {
  white-space: normal;
}
form {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  align-items: center;
}
.said {
  color: var(--good);
}
</style>
