<script setup lang="ts">
import '@/words/yard'
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { figure, nameOf, text } from '@/words/words'
import { partOf } from './edits'
import { said } from './said'
import { leadsTo, taught } from './step'

/**
 * A procedure as it is printed and carried to the bench: one side of paper. Tools on top;
 * in each line the set-up, what it can say and where that leads; a blank for the reading,
 * and a box for initials where one has to wait for somebody.
 */
const props = defineProps<{ of: Schema['Procedure']; family: Schema['Family']; machine: string }>()

const test = (s: Schema['ProcedureStep']) => props.family.tests.find((t) => t.id === s.test)
const tools = computed(() =>
  [...new Set(props.of.steps.flatMap((s) => test(s)?.instrument ?? []))].map((id) => nameOf('instrument', id)),
)
const taken = computed(() => {
  const before = new Set<string>()
  return props.of.steps.map((s) => {
    const now = (s.precautions ?? []).filter((p) => !before.has(p))
    now.forEach((p) => before.add(p))
    return now.map((p) => nameOf('action', p))
  })
})
/** Where somebody has to look on: what is alive, hot, or under pressure for the first time. */
const holds = computed(() => {
  let first = true
  return props.of.steps.map((s) => {
    const runs = test(s)?.kind === 'run'
    const hold = runs && first
    if (runs) first = false
    return hold
  })
})
function when(s: Schema['ProcedureStep'], o: Schema['ProcedureOutcome']) {
  const part = partOf(o, test(s))
  const bands = [...(o.when ?? []).map(said)]
  if (o.from !== undefined && o.to !== undefined)
    bands.push(text('desk.from-to', { low: figure(o.from), high: figure(o.to) }))
  else if (o.from !== undefined) bands.push(text('desk.or-more', { low: figure(o.from) }))
  else if (o.to !== undefined) bands.push(text('desk.under', { high: figure(o.to) }))
  return (part ? `${nameOf('part', part)}: ` : '') + bands.join(', ')
}
function leads(i: number, o: Schema['ProcedureOutcome']) {
  const steps = props.of.steps
  if (o.then === 'conclude' || o.then === 'stop') return leadsTo(o)
  let to = i + 1
  if (o.then === 'goto') to = steps.findIndex((s) => s.id === o.step)
  if (o.then === 'leave') {
    while (to < steps.length && steps[to].section === steps[i].section) to++
  }
  if (o.then === 'section') {
    const found = steps.findIndex((s, k) => k > i && s.section === o.section)
    if (found >= 0) to = found
  }
  if (to < 0 || to >= steps.length) return text('print.the-end')
  return to === i + 1 ? text('print.go-on') : text('print.go-to', { step: to + 1 })
}
</script>

<template>
  <article class="paper">
    <header>
      <div>
        <h2>{{ of.title }}</h2>
        <p>
          {{ machine }} · {{ family.name
          }}<template v-if="of.complaint"> · {{ nameOf('complaint', of.complaint) }}</template>
        </p>
      </div>
      <p class="who">
        <span>{{ text('desk.name') }} <i></i></span>
        <span>{{ text('desk.date') }} <i class="short"></i></span>
      </p>
    </header>
    <p class="tools">
      <b>{{ text('desk.tools') }}</b> {{ tools.join(', ') || text('desk.no-tools') }}
    </p>
    <ol>
      <li v-for="(s, i) in of.steps" :key="s.id">
        <div class="what">
          <p>
            <b>{{ nameOf('test', s.test ?? '', 'title') }}</b>
            <span v-if="s.repair" class="work">
              · {{ nameOf('repair', s.repair) }}, {{ nameOf('reach', s.reach ?? '') }}</span
            >
            <span v-if="taught(s, family)" class="how"> · {{ taught(s, family) }}</span>
          </p>
          <p v-if="taken[i].length" class="before"><b aria-hidden="true">!</b> {{ taken[i].join('; ') }}</p>
        </div>
        <ul>
          <li v-for="(o, k) in s.outcomes ?? []" :key="k">
            <i class="tick" aria-hidden="true"></i
            ><span
              >{{ when(s, o) }} → <b>{{ leads(i, o) }}</b></span
            >
          </li>
        </ul>
        <div class="side">
          <div v-if="holds[i]" class="hold">{{ text('desk.hold') }}</div>
          <div class="blank" :aria-label="text('desk.blank')" role="img"></div>
        </div>
      </li>
    </ol>
    <p v-if="of.proof" class="proof">
      <b>{{ text('print.proof') }}:</b> {{ nameOf('test', of.proof.test, 'title') }}. {{ of.proof.note }}
    </p>
    <footer>
      <p>{{ text('print.caution') }} {{ text('print.end') }}</p>
    </footer>
  </article>
</template>

<style scoped>
.paper {
  background: #fff;
  color: #111;
  max-width: 186mm;
  margin: 0 auto;
  padding: 6mm;
  font: 400 11.5px/1.25 var(--text);
}
header {
  display: flex;
  justify-content: space-between;
  gap: 8mm;
  border-bottom: 2px solid #111;
  padding-bottom: 2mm;
}
h2 {
  font-size: 20px;
}
.who {
  display: grid;
  gap: 2mm;
  align-content: end;
  white-space: nowrap;
}
.who i {
  display: inline-block;
  width: 40mm;
  border-bottom: 1px solid #111;
}
.tools {
  margin: 2mm 0 1mm;
}
ol {
  list-style: none;
  counter-reset: step;
  margin: 0;
  padding: 0;
}
ol > li {
  counter-increment: step;
  display: grid;
  grid-template-columns: 6mm minmax(0, 1fr) minmax(0, 1.9fr) 24mm;
  gap: 2mm;
  border-top: 1px solid #999;
  padding: 1.3mm 0;
  break-inside: avoid;
}
ol > li::before {
  content: counter(step);
  font: 600 17px/1.1 var(--label);
}
.what b {
  font: 600 14px/1.15 var(--label);
}
.how {
  color: #333;
}
.before {
  color: #333;
}
.before b {
  border: 1.3px solid #111;
  border-radius: 50%;
  padding: 0 1.3mm;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  columns: 1;
}
ul li {
  display: flex;
  gap: 1.5mm;
}
.tick {
  flex: 0 0 2.6mm;
  height: 2.6mm;
  margin-top: 0.6mm;
  border: 1px solid #111;
}
.side {
  display: flex;
  flex-direction: column;
  justify-content: space-between;
}
.blank {
  border-bottom: 1px solid #111;
  min-height: 5mm;
  flex: 1;
}
.hold {
  border: 1.5px solid #111;
  min-height: 8mm;
  font: 600 10px/1 var(--label);
  padding: 0.5mm;
}
.proof {
  border-top: 1px solid #999;
  padding-top: 1.3mm;
}
footer {
  border-top: 2px solid #111;
  margin-top: 1.5mm;
  padding-top: 1mm;
  font-size: 9.5px;
  color: #333;
}
@media print {
  .paper {
    max-width: none;
    padding: 0;
    font-size: 10.6px;
    line-height: 1.17;
  }
  ol > li {
    padding: 0.8mm 0;
  }
  footer {
    font-size: 8.5px;
  }
}
</style>

<style>
@page {
  margin: 9mm 12mm;
}
</style>
