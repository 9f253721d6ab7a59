<script setup lang="ts">
import '@/words/office'
import '@/words/talk'
import { useMutation } from '@tanstack/vue-query'
import { useNow } from '@vueuse/core'
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Refusal } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'
import FloorBench from './FloorBench.vue'
import { NEEDS, needOf, PRESSING } from './needs'
import ShoulderPanel from './ShoulderPanel.vue'
import { useFloor } from './useFloor'

/** Every bench of a class at once, as it is worked on: who is wanted where stands first. */
const { id } = defineProps<{ id: string }>()
const route = useRoute()
const router = useRouter()
const giving = computed({
  get: () => (route.query.giving as string) || undefined,
  set: (g) => void router.replace({ query: { ...route.query, giving: g } }),
})
const { floor, benches, refusal, lost, ended, load } = useFloor(id, giving)
const TICK_MS = 10_000
const now = useNow({ interval: TICK_MS })

const order = useLocalStorage('floor-order', 'need')
const sorted = computed(() => {
  const at = now.value.getTime()
  const by = new Map(benches.value.map((b) => [b.attempt, NEEDS.indexOf(needOf(b, at))]))
  const names = [...benches.value].sort((a, b) => a.display_name.localeCompare(b.display_name))
  return order.value === 'need' ? names.sort((a, b) => by.get(a.attempt)! - by.get(b.attempt)!) : names
})
const pressing = computed(() => {
  const at = now.value.getTime()
  return benches.value.filter((b) => PRESSING.includes(needOf(b, at))).length
})
const picked = ref<string>()
const chosen = computed(() => benches.value.find((b) => b.attempt === picked.value) ?? sorted.value[0])
/** Where there is no room beside the benches, what was chosen is brought into sight. */
const NARROW_PX = 1000
const beside = useTemplateRef<HTMLElement>('beside')
async function choose(attempt: string) {
  picked.value = attempt
  await nextTick()
  if (window.innerWidth <= NARROW_PX) beside.value?.scrollIntoView()
}

const all = computed(() => benches.value.filter((b) => ['not-begun', 'at-work', 'still', 'over'].includes(b.stands)))
const paused = computed(() => all.value.length > 0 && all.value.every((b) => b.paused))
const trouble = ref<Refusal>()
const pause = useMutation({
  mutationFn: (p: boolean) =>
    ask(
      api.PUT('/api/classes/{class}/floor/pause', {
        params: { path: { class: id } },
        body: { giving: giving.value!, paused: p },
      }),
    ),
  onSuccess: () => (trouble.value = undefined),
  onError: (e) => (trouble.value = e as unknown as Refusal),
})
const name = (g: { number: number; machine_name: string; machine_code: string }) =>
  text('office.floor.giving', { number: g.number, machine: `${g.machine_name} ${g.machine_code}` })
</script>

<template>
  <div class="floor">
    <p v-if="refusal && !floor" class="panel" role="alert"><ProblemText :of="refusal" /></p>
    <WaitingFor v-else-if="!floor" :what="text('office.floor.fetching')" as="article" />
    <template v-else>
      <div class="row wrap head">
        <h1>{{ text('title.floor') }}</h1>
        <span class="muted">{{
          text('office.floor.of', { title: floor.title, n: text('office.floor.benches', { n: benches.length }) })
        }}</span>
        <b class="wanted" :class="{ some: pressing }" role="status">{{
          pressing ? text('office.floor.pressing', { n: pressing }) : text('office.floor.nobody-pressing')
        }}</b>
        <span class="grow"></span>
        <v-btn-toggle v-model="order" mandatory color="secondary" :aria-label="text('office.floor.order')">
          <v-btn value="need">{{ text('office.floor.by-need') }}</v-btn>
          <v-btn value="name">{{ text('office.floor.by-name') }}</v-btn>
        </v-btn-toggle>
        <v-select
          v-if="floor.givings.length"
          v-model="giving"
          class="which"
          :items="floor.givings.map((g) => ({ value: g.id, title: name(g) }))"
          :label="text('office.floor.what')"
          density="compact"
          hide-details
        />
        <v-btn :to="`/classes/${id}`">{{ text('office.work-of') }}</v-btn>
        <v-btn
          color="secondary"
          variant="flat"
          :disabled="all.length === 0 || pause.isPending.value"
          @click="pause.mutate(!paused)"
          >{{ text(paused ? 'office.floor.go-on-all' : 'office.floor.pause-all') }}</v-btn
        >
      </div>
      <p v-if="ended" class="refusal" role="alert">
        {{ text('office.floor.ended') }} <v-btn @click="load">{{ text('office.floor.again') }}</v-btn>
      </p>
      <p v-else-if="lost" class="refusal" role="status">{{ text('office.floor.lost') }}</p>
      <p v-if="trouble ?? refusal" class="refusal" role="alert"><ProblemText :of="(trouble ?? refusal)!" /></p>
      <p v-if="benches.length === 0" class="panel">{{ text('office.given-none') }}</p>
      <div v-else class="parts">
        <section class="panel boards" :aria-label="text('title.floor')">
          <div class="grid">
            <FloorBench
              v-for="b in sorted"
              :key="b.attempt"
              :bench="b"
              :now="now.getTime()"
              :chosen="b.attempt === chosen?.attempt"
              @choose="choose(b.attempt)"
            />
          </div>
        </section>
        <div ref="beside" class="beside" tabindex="-1">
          <ShoulderPanel v-if="chosen" :key="chosen.attempt" :bench="chosen" />
        </div>
      </div>
    </template>
  </div>
</template>

<style scoped>
.floor {
  display: grid;
  gap: 8px;
  padding: 8px 16px;
}
.which {
  flex: none;
  width: 236px;
}
.parts {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 336px;
  gap: 12px;
  align-items: start;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(160px, 1fr));
  gap: 8px;
}
.wanted {
  padding: 4px 12px;
  border-radius: 8px;
  font: 600 17px/1.3 var(--label);
}
.wanted.some {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
.boards {
  padding: 10px;
}
.beside {
  position: sticky;
  top: 8px;
  max-height: calc(100vh - 16px);
  overflow-y: auto;
}
@media (max-width: 1000px) {
  .parts {
    grid-template-columns: minmax(0, 1fr);
  }
  .beside {
    position: static;
    max-height: none;
  }
}
</style>
