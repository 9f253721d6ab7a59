<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import TermedText from '@/words/TermedText.vue'
import { figure, nameOf, reason, text } from '@/words/words'

/** The story first: what it was, what was shown, what it cost, and what to practise next. */
const props = defineProps<{ of: Schema['Assessment']; practise?: Schema['Practise']; busy?: boolean; mine?: boolean }>()
const emit = defineEmits<{ practise: [] }>()

const total = computed(() => props.of.sections.reduce((s, x) => [s[0] + x.mark, s[1] + x.of], [0, 0]))
const good = computed(() =>
  props.of.outcome ? props.of.outcome === 'competent' : ['proven', 'supported'].includes(props.of.class),
)
const lower = (s: string) => s[0].toLowerCase() + s.slice(1)
const was = computed(() =>
  props.of.truth.map((t) =>
    [
      text(t.severity ? 'debrief.was-gone' : 'debrief.was', {
        what: nameOf('fault', t.id),
        where: lower(nameOf('reach', t.reach)),
        percent: Math.round((t.severity ?? 1) * 100),
      }),
      nameOf('fault', t.id, 'account'),
      text(t.mended ? 'debrief.put-right' : 'debrief.still-there'),
    ].join(' '),
  ),
)
const cost = computed(() =>
  [
    text('debrief.cost', {
      minutes: props.of.minutes,
      limit: props.of.limit_minutes,
      money: props.of.money.toFixed(2),
      most: props.of.limit_money.toFixed(2),
    }),
    ...props.of.wasted.map((w) =>
      text('debrief.wasted', {
        work: nameOf('repair', w.act),
        where: lower(nameOf('reach', w.reach)),
        money: w.cost.toFixed(2),
      }),
    ),
  ].join(' '),
)
/** What lost the most marks is what to practise. */
const next = computed(() => {
  const lost = props.of.sections
    .flatMap((s) => s.reasons.map((r) => ({ s, r, by: r.of ? r.of - r.marks : -r.marks })))
    .reduce<{ s: Schema['Section']; r: Schema['Reason']; by: number } | undefined>(
      (worst, x) => (x.by > (worst?.by ?? 0) ? x : worst),
      undefined,
    )
  if (!lost) return text('debrief.nothing-lost')
  return text('debrief.practise', { section: lower(text(`section.${lost.s.id}`)), reason: reason(lost.r) })
})
</script>

<template>
  <section class="verdict panel" :class="{ good }" :aria-label="text('debrief.verdict')">
    <div>
      <template v-if="of.outcome">
        <p class="class">{{ text(`outcome.${of.outcome}`) }}</p>
        <p class="muted">{{ text('debrief.class', { class: text(`class.${of.class}`) }) }}</p>
      </template>
      <template v-else>
        <p class="muted">{{ text('debrief.conclusion') }}</p>
        <p class="class">{{ text(`class.${of.class}`) }}</p>
      </template>
      <p class="figure">{{ text('state.mark', { mark: Math.round(total[0] * 10) / 10, of: total[1] }) }}</p>
    </div>
    <div class="said">
      <p v-for="t in was" :key="t"><TermedText :text="t" /></p>
      <p v-for="(r, i) in of.verdict" :key="i" class="big">{{ reason(r) }}</p>
      <p>{{ cost }}</p>
      <p v-if="of.untested">{{ text('debrief.untested') }}</p>
      <p class="next">
        {{ next }}
        <v-btn v-if="practise && mine" class="no-print" :loading="busy" @click="emit('practise')">{{
          text('debrief.take-practice')
        }}</v-btn>
      </p>
      <ul v-if="of.against.length" class="against" :aria-label="text('debrief.against')">
        <li v-for="(r, i) in of.against" :key="i">{{ reason(r) }}</li>
      </ul>
    </div>
    <ul class="bars">
      <li v-for="s in of.sections" :key="s.id">
        <span>{{ text(`section.${s.id}`) }}</span>
        <span class="bar" aria-hidden="true"><i :style="{ width: `${(100 * s.mark) / s.of}%` }"></i></span>
        <b class="figure">{{ figure(s.mark) }}/{{ figure(s.of) }}</b>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.verdict {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr) 310px;
  gap: 22px;
  align-items: center;
  border-left: 7px solid var(--condemned);
  border-radius: 4px 14px 14px 4px;
}
.verdict.good {
  border-color: var(--good);
}
.class {
  font: 600 30px/1.05 var(--label);
}
.class::first-letter {
  text-transform: uppercase;
}
.said {
  display: grid;
  gap: 6px;
}
.big {
  font-size: 17.5px;
  line-height: 1.3;
}
.next {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 14px;
  font-weight: 600;
}
.against {
  margin: 0;
  padding-left: 18px;
  color: var(--condemned-ink);
}
.bars {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 8px;
  font: 600 16px/1 var(--label);
}
.bars li {
  display: grid;
  grid-template-columns: 1fr 96px 56px;
  gap: 10px;
  align-items: center;
}
.bars b {
  text-align: right;
}
.bar {
  height: 9px;
  border-radius: 5px;
  background: var(--dry);
  overflow: hidden;
}
.bar i {
  display: block;
  height: 100%;
  background: #1f7885;
}
@media (max-width: 1000px) {
  .verdict {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media print {
  .verdict {
    grid-template-columns: 120px minmax(0, 1fr) 230px;
    gap: 12px;
  }
  .bars {
    gap: 4px;
  }
}
</style>
