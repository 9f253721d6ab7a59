<script setup lang="ts">
import {
  mdiArrowLeft,
  mdiCalculatorVariantOutline,
  mdiDotsVertical,
  mdiKeyboardOutline,
  mdiWeatherNight,
  mdiWeatherSunny,
} from '@mdi/js'
import { useMediaQuery, useNow } from '@vueuse/core'
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { useNight } from '@/session/useNight'
import { figure, places, text } from '@/words/words'

/** The head of the bench: where it is, what has been spent, and what lies beside the bench. On a phone it is one line. */
const { bench } = defineProps<{ bench: Schema['Bench']; home: string; offline: boolean; kept: number; busy: boolean }>()
const emit = defineEmits<{ aids: []; sheet: [] }>()

const night = useNight()
const narrow = useMediaQuery('(max-width: 640px)')
const now = useNow({ interval: 1000 })
const closed = computed(() => !!bench.closes_at && new Date(bench.closes_at) <= now.value)
const others = computed(() => [
  { id: 'aids', icon: mdiCalculatorVariantOutline, key: 'A', go: () => emit('aids') },
  { id: 'shortcuts', icon: mdiKeyboardOutline, key: '?', go: () => emit('sheet') },
  {
    id: night.value ? 'day-shift' : 'night-shift',
    icon: night.value ? mdiWeatherSunny : mdiWeatherNight,
    key: '',
    go: () => (night.value = !night.value),
  },
])
</script>

<template>
  <header class="top">
    <v-btn variant="text" :icon="mdiArrowLeft" :to="home" :aria-label="text('bench.back')" />
    <h1 :class="{ 'sr-only': narrow }">Zan<b>j</b>ero</h1>
    <span v-if="!narrow" class="muted">{{
      bench.first || bench.trial
        ? text(bench.first ? 'first.job' : 'bench.trial')
        : text('bench.job', { number: bench.job_number, how: text(`bench.mode-${bench.mode}`) })
    }}</span>
    <span class="kept muted small" role="status">{{
      text(offline && kept ? 'bench.unsent' : busy ? 'bench.saving' : 'bench.saved')
    }}</span>
    <span class="grow"></span>
    <span v-if="offline" class="flag" role="status">{{
      text(kept > 1 ? 'bench.lost-many' : kept ? 'bench.lost-one' : 'bench.lost', { kept })
    }}</span>
    <span v-if="closed" class="flag" role="status">{{ text('bench.closed') }}</span>
    <span class="count" :class="{ over: bench.minutes > bench.limit_minutes }"
      ><b>{{ figure(bench.minutes) }}</b> {{ text('bench.of-minutes', { most: bench.limit_minutes }) }}</span
    >
    <span class="count" :class="{ over: bench.money > bench.limit_money }"
      ><b>{{ places(bench.money, 2) }}</b> {{ text('bench.of-parts', { most: bench.limit_money.toFixed(2) }) }}</span
    >
    <v-menu v-if="narrow">
      <template #activator="{ props }">
        <v-btn variant="text" :icon="mdiDotsVertical" :aria-label="text('bench.more')" v-bind="props" />
      </template>
      <v-list>
        <v-list-item
          v-for="o in others"
          :key="o.id"
          :prepend-icon="o.icon"
          :title="text(`bench.${o.id}`)"
          @click="o.go()"
        />
      </v-list>
    </v-menu>
    <template v-else>
      <v-btn
        v-for="o in others"
        :key="o.id"
        variant="text"
        :icon="o.icon"
        :aria-label="text(`bench.${o.id}`)"
        :title="o.key ? `${text(`bench.${o.id}`)}: ${o.key}` : undefined"
        @click="o.go()"
      />
    </template>
  </header>
</template>

<style scoped>
.top {
  display: flex;
  align-items: center;
  gap: 12px;
}
h1 {
  font-size: 25px;
}
h1 b {
  color: var(--link);
}
.kept {
  min-width: 62px;
}
.count {
  font: 500 16px/1 var(--label);
  color: var(--muted);
  margin-left: 10px;
  white-space: nowrap;
}
.count b {
  font-size: 25px;
  font-weight: 600;
  color: var(--ink);
}
.count.over b {
  color: var(--condemned-ink);
}
.flag {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  padding: 8px 12px;
  border-radius: 10px;
  font-size: 14px;
}
@media (max-width: 640px) {
  .top {
    gap: 4px;
    flex-wrap: wrap;
  }
  .flag {
    order: 9;
    flex-basis: 100%;
  }
  .kept {
    min-width: 44px;
  }
  .count {
    margin-left: 4px;
    font-size: 15px;
  }
  .count b {
    font-size: 20px;
  }
}
</style>
