<script setup lang="ts">
import { computed, ref } from 'vue'
import LateralBoard from '@/board/LateralBoard.vue'
import { useFamily } from '@/features/bench/useFamily'
import { nameOf, text, told } from '@/words/words'
import type { Wall } from './useWall'

/** The big screen: the machine, what was found, and the vote with what each test was worth. */
const props = defineProps<{ wall: Wall }>()
const emit = defineEmits<{ step: [kind: 'close' | 'make' | 'tell', test?: string] }>()
const family = useFamily(() => props.wall.family)
const title = (test: string) => nameOf('test', test, 'title')
/** Those that somebody voted for, and the one that was worth most; the most votes first. */
const shown = computed(() => {
  const best = props.wall.worths[0]?.test
  return props.wall.worths
    .filter((w) => w.votes > 0 || w.test === best)
    .map((w) => ({ ...w, best: w.test === best }))
    .sort((a, b) => b.votes - a.votes)
})
const most = computed(() => Math.max(1, ...shown.value.map((w) => w.votes)))
const highest = computed(() => Math.max(0.01, ...shown.value.map((w) => w.share / w.minutes)))
const sure = ref(false)
</script>

<template>
  <div class="head">
    <h1>“{{ wall.words }}”</h1>
    <p>
      <b>{{ wall.machine_name }} {{ wall.machine_code }}</b> · {{ wall.class_title }}
      <span v-if="wall.history"> · {{ wall.history }}</span>
    </p>
  </div>
  <div class="parts">
    <section class="panel stack found" :aria-label="text('wall.found')">
      <LateralBoard
        v-if="family.data.value"
        still
        dry
        :laterals="family.data.value.laterals"
        :reaches="family.data.value.reaches"
        :marks="wall.board"
        :label="text('wall.board')"
      />
      <h2>{{ text('wall.found') }}</h2>
      <p v-if="wall.rounds.length === 0" class="muted">{{ text('wall.nothing-yet') }}</p>
      <ol v-else class="done">
        <li v-for="(r, i) in [...wall.rounds].reverse()" :key="wall.rounds.length - i">
          <span class="n figure">{{ wall.rounds.length - i }}</span>
          <b class="grow">{{ title(r.test) }}</b>
          <b class="told">{{ told(r.told) }}</b>
          <span class="muted">{{ text('wall.votes-of', { n: r.votes, all: r.all_votes }) }}</span>
        </li>
      </ol>
      <p v-if="wall.rounds.length" class="muted">{{ text('wall.minutes', { minutes: wall.minutes }) }}</p>
    </section>
    <section class="panel stack vote" :aria-label="text('wall.vote')">
      <template v-if="wall.stands === 'voting'">
        <h2>{{ text('wall.what-next') }}</h2>
        <p class="how">{{ text('wall.how') }}</p>
        <p class="count" role="status">
          <b>{{ wall.voted }}</b> {{ text('wall.have-voted', { all: wall.members }) }}
        </p>
        <v-progress-linear
          :model-value="wall.voted"
          :max="Math.max(wall.members, 1)"
          height="14"
          rounded
          aria-hidden="true"
        />
        <v-btn class="big" color="secondary" variant="flat" @click="emit('step', 'close')">{{
          text('wall.close')
        }}</v-btn>
      </template>
      <template v-else-if="wall.stands === 'closed'">
        <h2>{{ text('wall.was-worth') }}</h2>
        <ol class="worths">
          <li v-for="w in shown" :key="w.test" :class="{ best: w.best }">
            <b class="name"
              >{{ title(w.test) }} <span v-if="w.best" class="mark">{{ text('wall.best') }}</span></b
            >
            <span class="bar votes" :style="{ '--part': w.votes / most }" aria-hidden="true"></span>
            <span class="says">{{ text('wall.votes', { n: w.votes }) }}</span>
            <span class="bar worth" :style="{ '--part': w.share / w.minutes / highest }" aria-hidden="true"></span>
            <span class="says">{{ text('wall.worth', { share: Math.round(100 * w.share), minutes: w.minutes }) }}</span>
            <v-btn class="make" @click="emit('step', 'make', w.test)">{{ text('wall.make') }}</v-btn>
          </li>
        </ol>
      </template>
      <template v-else>
        <h2>{{ text('wall.it-was') }}</h2>
        <p v-for="h in wall.hidden" :key="h.fault" class="it">{{ nameOf('fault', h.fault) }}</p>
        <v-btn to="/people">{{ text('title.people') }}</v-btn>
      </template>
      <div v-if="wall.stands !== 'told'" class="row end">
        <span class="grow"></span>
        <v-btn variant="text" @click="sure ? emit('step', 'tell') : (sure = true)">{{
          text(sure ? 'wall.tell-sure' : 'wall.tell')
        }}</v-btn>
      </div>
    </section>
  </div>
</template>

<style scoped>
.head h1 {
  font-size: 30px;
}
.head p {
  font-size: 18px;
}
.parts {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(360px, 2fr);
  gap: 12px;
  align-items: start;
}
/* Read from the back of the room. */
.found :deep(.lane) {
  min-height: 84px;
}
.found :deep(.name) {
  font-size: 16px;
}
.done {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 200px;
  overflow-y: auto;
}
.done li {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding: 6px 0;
  border-top: 1px solid var(--line-soft);
  font-size: 18px;
}
.n {
  min-width: 24px;
  color: var(--muted);
}
.told {
  color: var(--link);
}
.vote h2 {
  font-size: 26px;
}
.how {
  font-size: 18px;
}
.count {
  font-size: 22px;
}
.count b {
  font: 600 64px/1 var(--label);
}
.big {
  min-height: 56px;
  font-size: 20px;
}
.worths {
  display: grid;
  gap: 12px;
  list-style: none;
  margin: 0;
  padding: 0;
}
.worths li {
  display: grid;
  grid-template-columns: minmax(60px, 1fr) auto auto;
  gap: 4px 10px;
  align-items: center;
  padding: 8px 10px;
  border: 2px solid var(--line-soft);
  border-radius: 10px;
}
.worths .best {
  border-color: var(--good);
}
.name {
  grid-column: 1 / -1;
  font-size: 18px;
}
.mark {
  padding: 0 8px;
  border-radius: 6px;
  background: var(--good-bg);
  color: var(--good);
  font-size: 14px;
}
.bar {
  height: 16px;
  border-radius: 4px;
  background: linear-gradient(var(--fill), var(--fill)) left / calc(100% * var(--part)) 100% no-repeat var(--dry);
}
.votes {
  --fill: var(--water-2);
}
.worth {
  --fill: var(--good);
}
.says {
  min-width: 130px;
}
.make {
  grid-column: 3;
  grid-row: 2 / span 2;
}
.it {
  font: 600 28px/1.2 var(--label);
}
@media (max-width: 900px) {
  .parts {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
