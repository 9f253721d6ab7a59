<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { moment, nameOf, places, text, told } from '@/words/words'
import { said } from './hand'

/** A bug card as it is read and printed: what was done, how the engine reads, who did what. */
const props = defineProps<{ card: Schema['BugCard']; family: Schema['Family'] }>()
const bug = computed(() => props.card.bug)
const fault = computed(() => props.family.faults.find((f) => f.id === bug.value.fault.id))
const after = (kind: string) => props.card.acts.findLast((a) => a.kind === kind)?.readings ?? []
const columns = computed(() => [bug.value.sound, after('seen'), after('undone')])
const tests = computed(() => [...new Set(columns.value.flat().map((r) => r.test))])
const at = (column: number, test: string) => columns.value[column].find((r) => r.test === test)
const off = computed(() => new Set(props.card.off.map((o) => o.test)))
const released = computed(() => props.card.acts.find((a) => a.kind === 'released'))
</script>

<template>
  <article class="panel stack">
    <h2>{{ text('shop.card') }}</h2>
    <dl>
      <dt>{{ text('shop.fault') }}</dt>
      <dd>{{ fault?.name ?? bug.fault.id }}</dd>
      <dt>{{ text('shop.done-what') }}</dt>
      <dd>{{ bug.done }}</dd>
      <dt>{{ text('shop.undo') }}</dt>
      <dd>{{ bug.undo }}</dd>
      <dt>{{ text('shop.complaint') }}</dt>
      <dd>{{ nameOf('complaint', bug.complaint) }} “{{ bug.words }}”</dd>
    </dl>
    <v-table density="compact" class="plain">
      <thead>
        <tr>
          <th scope="col">{{ text('shop.test') }}</th>
          <th v-for="c in ['sound', 'with', 'after']" :key="c" scope="col">{{ text(`shop.short.${c}`) }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="t in tests" :key="t">
          <th scope="row">{{ nameOf('test', t, 'title') }}</th>
          <td v-for="(_, c) in columns" :key="c" class="figure" :class="{ off: c === 2 && off.has(t) }">
            {{ at(c, t) ? said(at(c, t)!) : '' }}
            <span v-if="c === 2 && off.has(t)" class="sign">{{ text('shop.otherwise') }}</span>
          </td>
        </tr>
      </tbody>
    </v-table>
    <div v-if="card.fit" class="fit" :class="{ no: !card.fit.explains }">
      <p>
        {{
          text(card.fit.explains ? 'shop.explained' : 'shop.not-explained', {
            percent: places(100 * card.fit.severity, 0),
          })
        }}
      </p>
      <ul v-if="card.fit.unexplained.length">
        <li v-for="u in card.fit.unexplained" :key="u.test">
          {{ text('shop.would-read', { test: u.test, read: u.read, model: told(u.model) }) }}
        </li>
      </ul>
    </div>
    <ol class="acts">
      <li v-for="(a, i) in card.acts" :key="i">
        <b class="grow">{{ text(`shop.act.${a.kind}`) }}</b>
        <span class="muted small">{{ a.by }}, {{ moment(a.at) }}</span>
        <b v-if="a.initials" class="figure">{{ a.initials }}</b>
      </li>
    </ol>
    <p v-if="!released" class="sign-here">{{ text('shop.sign-here') }}</p>
  </article>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 4px 14px;
  margin: 0;
}
dt {
  color: var(--muted);
}
dd {
  margin: 0;
}
.plain {
  background: transparent;
}
.plain th[scope='row'] {
  font-weight: 500;
}
.off {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.sign {
  display: block;
  font: 500 14px/1.2 var(--text);
}
.fit {
  border-left: 5px solid var(--good);
  padding: 4px 12px;
}
.fit.no {
  border-color: var(--suspect);
}
.acts {
  list-style: none;
  margin: 0;
  padding: 0;
}
.acts li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: baseline;
  border-top: 1px solid var(--line-soft);
  padding: 6px 0;
}
.sign-here {
  display: none;
}
@media print {
  .sign-here {
    display: block;
    padding-top: 28px;
  }
  td.figure:empty::after {
    content: '__________';
    color: var(--line);
  }
}
</style>
