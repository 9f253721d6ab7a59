<script setup lang="ts">
import { computed } from 'vue'
import type { Refusal, Schema } from '@/api/client'
import ProblemText from '@/words/ProblemText.vue'
import { nameOf, text } from '@/words/words'
import HowHard from './HowHard.vue'
import { faults } from './said'
import WayStrip from './WayStrip.vue'

/** What a scenario comes to: is it so, can it be found, how hard is it, what is it taken for. */
const props = defineProps<{
  preview: Schema['Preview'] | null
  check: Schema['ScenarioCheck'] | null
  trouble: Refusal | null
  checking: boolean
}>()
const truth = computed(() => {
  const p = props.preview?.complaint_true
  if (p === undefined) return { cls: 'none', text: text('job.no-claim') }
  const n = Math.round(p * 100)
  if (p > 0.75) return { cls: 'ok', text: text('job.true', { p: n }) }
  if (p >= 0.5) return { cls: 'mid', text: text('job.half-true', { p: n }) }
  return { cls: 'no', text: text('job.untrue', { p: n }) }
})
const found = computed(() => {
  const s = props.check?.solvable
  if (!s) return ''
  const minutes = Math.round(s.minutes)
  return s.true
    ? text('scene.found-in', { often: Math.round(s.often * 100), minutes, money: s.money })
    : text('scene.not-found', { p: Math.round(s.reaches * 100), minutes })
})
const problems = computed(() => props.check?.problems.filter((p) => p.path !== 'words') ?? [])
</script>

<template>
  <section class="panel stack" :aria-label="text('scene.comes')">
    <div class="row">
      <h2 class="grow">{{ text('scene.does') }}</h2>
      <span v-if="preview?.does" class="muted">{{ text('scene.cold', { word: preview.does }) }}</span>
    </div>
    <p class="truth" :class="truth.cls" role="status">{{ truth.text }}</p>
    <p v-if="trouble" class="hint" role="alert"><ProblemText :of="trouble" /></p>
    <div class="row">
      <h2 class="grow">{{ text('scene.findable') }}</h2>
      <v-progress-circular v-if="checking" indeterminate size="20" width="2" :aria-label="text('scene.checking')" />
    </div>
    <template v-if="check">
      <p :class="check.solvable.true ? 'truth ok' : 'truth no'">{{ found }}</p>
      <p v-for="p in problems" :key="p.code" class="hint"><ProblemText :of="p" /></p>
      <WayStrip :path="check.solvable.path" />
      <h2>{{ text('scene.hard') }}</h2>
      <HowHard :of="check.difficulty" />
      <h2>{{ text('scene.confused') }}</h2>
      <ul v-if="check.confused_with.length" class="plain">
        <li v-for="c in check.confused_with" :key="c.faults.join()">
          <b>{{ faults(c.faults) }}</b>
          <span class="muted">{{
            c.separated_by.length
              ? text('scene.apart', { tests: c.separated_by.map((t) => nameOf('test', t, 'title')).join(', ') })
              : text('scene.not-apart')
          }}</span>
        </li>
      </ul>
      <p v-else class="muted">{{ text('scene.nothing-else') }}</p>
      <p class="truth" :class="check.giveaway ? 'mid' : 'ok'">
        {{ check.giveaway ? text('scene.giveaway', { test: check.giveaway }) : text('scene.no-giveaway') }}
      </p>
      <p class="muted small">
        {{
          text('scene.proof', {
            test: check.proof.test,
            minutes: check.proof.minutes,
          })
        }}
      </p>
      <details v-if="check.hazards.length">
        <summary>{{ text('scene.hazards', { n: check.hazards.length }) }}</summary>
        <p v-for="h in check.hazards" :key="h" class="small">{{ nameOf('hazard', h, 'caution') }}</p>
      </details>
    </template>
    <p v-else class="muted">{{ text(checking ? 'scene.checking' : 'scene.not-whole') }}</p>
  </section>
</template>

<style scoped>
.truth,
.hint {
  padding: 9px 12px;
  border-radius: 10px;
  background: var(--line-soft);
}
.truth.ok {
  background: var(--good-bg);
  color: var(--good);
}
.truth.mid,
.hint {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.truth.no {
  background: var(--condemned-bg);
  color: var(--condemned-ink);
}
.hint::first-letter {
  text-transform: uppercase;
}
.plain {
  display: grid;
  gap: 6px;
  list-style: none;
  padding: 0;
}
.plain li {
  display: grid;
  grid-template-columns: minmax(0, 0.8fr) minmax(0, 1fr);
  gap: 10px;
  padding: 6px 10px;
  border: 1px solid var(--line);
  border-radius: 10px;
  line-height: 1.25;
}
</style>
