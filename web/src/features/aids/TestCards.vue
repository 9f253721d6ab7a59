<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import { useFamily } from '@/features/bench/useFamily'
import { useLocalStorage } from '@/session/useLocalStorage'
import { text } from '@/words/words'

/** A card for each test: what it proves, what it cannot tell, and what makes it valid. */
const props = defineProps<{ families: Schema['Named'][]; of?: string }>()

const chosen = useLocalStorage('aid.family', props.families[0]?.id ?? '')
const id = computed(() => props.of ?? chosen.value)
const family = useFamily(id)
const find = ref('')
const cards = computed(() => {
  const words = find.value.trim().toLowerCase().split(/\s+/)
  return (
    family.data.value?.tests.filter((t) => words.every((w) => `${t.title} ${t.teaches}`.toLowerCase().includes(w))) ??
    []
  )
})
const reach = (r: string) => family.data.value?.reaches.find((x) => x.id === r)?.name ?? r
</script>

<template>
  <section class="stack" :aria-label="text('aids.cards')">
    <div class="row wrap bar">
      <h2 class="grow">{{ text('aids.card-each') }}</h2>
      <v-select
        v-if="!props.of"
        v-model="chosen"
        class="field"
        :label="text('aids.family')"
        :items="families.map((f) => ({ title: f.name, value: f.id }))"
      />
      <v-text-field v-model="find" class="field" type="search" :label="text('aids.find')" />
    </div>
    <div class="cards">
      <article v-for="t in cards" :key="t.id" class="panel" :aria-label="t.title">
        <h3>{{ t.title }}</h3>
        <p>{{ t.teaches }}</p>
        <p class="muted">{{ t.cannot }}</p>
        <p v-if="t.valid.length" class="small">
          <b>{{ text('aids.valid-when') }}</b> {{ t.valid.join('; ') }}.
        </p>
        <p class="small muted">
          {{ t.long ? text('hand.as-long') : text('tray.minutes', { minutes: t.minutes }) }} ·
          {{ t.reaches.map(reach).join(', ') }}
        </p>
      </article>
    </div>
  </section>
</template>

<style scoped>
.bar .field {
  flex: 0 1 300px;
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(270px, 1fr));
  gap: 10px;
}
.cards article {
  display: grid;
  gap: 6px;
  align-content: start;
}
</style>
