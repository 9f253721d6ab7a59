<script setup lang="ts">
import '@/words/shop'
import '@/words/yard'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { Refusal } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useFamily } from '@/features/bench/useFamily'
import ProblemText from '@/words/ProblemText.vue'
import { sentence, text } from '@/words/words'
import BugForm from './BugForm.vue'
import CardFace from './CardFace.vue'
import NextStep from './NextStep.vue'
import { useEngine } from './useEngine'

/** A real engine: its open card with what comes next, and those before. */
const machine = String(useRoute().params.machine)
const { file, open, closed, bug, act, refusal } = useEngine(machine)
const engine = computed(() => file.data.value?.engine)
const family = useFamily(() => engine.value?.family)
const fam = computed(() => family.data.value)
const print = () => window.print()
</script>

<template>
  <div class="page stack">
    <WaitingFor v-if="file.isPending.value" :what="text('shop.fetching')" as="article" />
    <p v-else-if="!engine || !file.data.value" class="panel" role="alert">
      {{ sentence(file.error.value as Refusal) }}
    </p>
    <template v-else>
      <div class="row wrap">
        <h1>{{ engine.name }} {{ engine.code }}</h1>
        <span class="muted">{{ engine.family_name }} · {{ text('shop.serial-is', { serial: engine.serial }) }}</span>
        <span class="state" :class="{ fit: engine.state === 'fit' }">{{
          text(engine.again ? 'shop.set-again-first' : `shop.state.${engine.state}`)
        }}</span>
        <span class="grow"></span>
        <v-btn class="no-print" :to="`/yard/machines/${machine}`">{{ text('title.sheet') }}</v-btn>
        <v-btn class="no-print" to="/yard/engines">{{ text('title.engines') }}</v-btn>
        <v-btn v-if="open" class="no-print" @click="print">{{ text('shop.print') }}</v-btn>
      </div>
      <p v-if="engine.note" class="muted">{{ engine.note }}</p>
      <p v-if="refusal" class="refusal no-print" role="alert"><ProblemText :of="refusal" /></p>
      <template v-if="fam">
        <div v-if="open" class="two">
          <CardFace :card="open" :family="fam" />
          <NextStep
            class="no-print"
            :card="open"
            :busy="act.isPending.value"
            :family="fam"
            :engine="engine"
            @act="(a, g) => act.mutate({ act: a, give: g })"
          />
        </div>
        <BugForm
          v-else
          :machine="machine"
          :family="fam"
          :busy="bug.isPending.value"
          :problems="refusal?.all ?? []"
          @keep="(id, b) => bug.mutate({ id, bug: b })"
        />
      </template>
      <details v-if="closed.length" class="no-print">
        <summary>{{ text('shop.before', { n: closed.length }) }}</summary>
        <div v-if="fam" class="stack past">
          <CardFace v-for="c in closed" :key="c.id" :card="c" :family="fam" />
        </div>
      </details>
    </template>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 12px;
  align-items: start;
}
.state {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
  border-radius: 10px;
  padding: 6px 12px;
  font: 600 16px/1 var(--label);
}
.state.fit {
  background: var(--good-bg);
  color: var(--good);
}
.past {
  padding-top: 10px;
}
@media (max-width: 1000px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media print {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
