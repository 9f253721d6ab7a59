<script setup lang="ts">
import { computed, ref } from 'vue'
import { useFamily } from '@/features/bench/useFamily'
import { nameOf, text, told } from '@/words/words'
import type { Wall } from './useWall'

/** The vote in the hand: what is there to choose, and after it what one's own was worth. */
const props = defineProps<{ wall: Wall }>()
const emit = defineEmits<{ vote: [test: string] }>()
const family = useFamily(() => props.wall.family)
const sought = ref('')
const title = (test: string) => nameOf('test', test, 'title')
const paths = computed(() => {
  const fits = props.wall.tests.filter((t) => title(t).toLowerCase().includes(sought.value.trim().toLowerCase()))
  const of = (t: string) => family.data.value?.tests.find((x) => x.id === t)?.lateral ?? ''
  return ['', 'fuel', 'air', 'spark', 'compression']
    .map((l) => ({
      id: l,
      name: l ? nameOf('lateral', l) : text('wall.whole'),
      tests: fits.filter((t) => of(t) === l),
    }))
    .filter((p) => p.tests.length)
})
const best = computed(() => props.wall.worths[0])
const own = computed(() => props.wall.worths.find((w) => w.test === props.wall.mine))
const last = computed(() => props.wall.rounds.at(-1))
const worth = (w: { share: number; minutes: number }) =>
  text('wall.worth', { share: Math.round(100 * w.share), minutes: w.minutes })
</script>

<template>
  <h1>“{{ wall.words }}”</h1>
  <p class="muted">{{ wall.machine_name }} {{ wall.machine_code }}</p>
  <p v-if="last" class="panel last" role="status">
    <b>{{ title(last.test) }}:</b> {{ told(last.told) }}
  </p>
  <section v-if="wall.stands === 'told'" class="panel">
    <h2>{{ text('wall.it-was') }}</h2>
    <p v-for="h in wall.hidden" :key="h.fault">
      <b>{{ nameOf('fault', h.fault) }}</b>
    </p>
  </section>
  <section v-else-if="wall.stands === 'closed'" class="panel stack" role="status">
    <h2>{{ text('wall.closed') }}</h2>
    <p v-if="own">
      {{ text('wall.yours') }} <b>{{ title(own.test) }}</b>: {{ worth(own) }}
    </p>
    <p v-else>{{ text('wall.no-vote') }}</p>
    <p v-if="best && best.test !== own?.test">
      {{ text('wall.worth-most') }} <b>{{ title(best.test) }}</b>: {{ worth(best) }}
    </p>
    <p v-else-if="best">{{ text('wall.yours-best') }}</p>
  </section>
  <section v-else class="stack" :aria-label="text('wall.vote')">
    <p v-if="wall.mine" class="panel mine" role="status">
      {{ text('wall.yours') }} <b>{{ title(wall.mine) }}</b>. {{ text('wall.may-change') }}
    </p>
    <h2 v-else>{{ text('wall.what-next') }}</h2>
    <v-text-field v-model="sought" :label="text('wall.find')" hide-details density="compact" maxlength="60" />
    <div v-for="p in paths" :key="p.id" role="group" :aria-label="p.name">
      <h3>{{ p.name }}</h3>
      <v-btn
        v-for="t in p.tests"
        :key="t"
        block
        class="test"
        :color="t === wall.mine ? 'secondary' : undefined"
        :variant="t === wall.mine ? 'flat' : 'outlined'"
        :aria-pressed="t === wall.mine"
        @click="emit('vote', t)"
        >{{ title(t) }}</v-btn
      >
    </div>
  </section>
</template>

<style scoped>
h1 {
  font-size: 24px;
}
.last {
  border-left: 6px solid var(--water-2);
}
.mine {
  background: var(--good-bg);
  color: var(--good);
}
.test {
  width: 100%;
  justify-content: start;
  min-height: 48px;
  margin-top: 6px;
}
</style>
