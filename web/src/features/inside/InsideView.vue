<script setup lang="ts">
import '@/words/handing'
import '@/words/yard'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import { useFamily } from '@/features/bench/useFamily'
import { useSession } from '@/session/session'
import { useLocalStorage } from '@/session/useLocalStorage'
import FilmStrip from './FilmStrip.vue'
import { sentence, text } from '@/words/words'

/** Behind the covers: for a lesson any machine with any fault; for a debrief the machine of the job as it came in. */
const attempt = useRoute().params.attempt as string | undefined
const session = useSession()
const film = ref<Schema['Inside'] | null>(null)
const trouble = ref('')
const working = ref(false)

const machines = useQuery({
  queryKey: ['machines'],
  queryFn: () => ask(api.GET('/api/machines')),
  enabled: !attempt && session.me?.role === 'instructor',
})
const lesson = useLocalStorage('inside', {
  machine: '',
  fault: '',
  severity: 0.8,
  minutes: 10,
  load: 'test' as Schema['InsideSpec']['load'],
})
const machine = computed(
  () => machines.data.value?.find((m) => m.id === lesson.value.machine) ?? machines.data.value?.[0],
)
const family = useFamily(() => machine.value?.family)
const faults = computed(() => family.data.value?.faults.filter((f) => !machine.value?.lacks.includes(f.id)) ?? [])
const graded = computed(() => faults.value.find((f) => f.id === lesson.value.fault)?.graded)

async function show() {
  working.value = true
  try {
    film.value = attempt
      ? await ask(api.GET('/api/attempts/{attempt}/inside', { params: { path: { attempt } } }))
      : await ask(
          api.POST('/api/inside', {
            body: {
              machine_id: machine.value!.id,
              faults: lesson.value.fault
                ? [{ id: lesson.value.fault, severity: graded.value ? lesson.value.severity : 1 }]
                : [],
              minutes: lesson.value.minutes,
              load: lesson.value.load,
            },
          }),
        )
    trouble.value = ''
  } catch (e) {
    if (session.noticed(e)) return
    trouble.value = sentence(e as Refusal)
  } finally {
    working.value = false
  }
}
watch(
  () => machines.data.value,
  (ms) => ms?.length && !ms.some((m) => m.id === lesson.value.machine) && (lesson.value.machine = ms[0].id),
  { immediate: true },
)
watch(
  () => (attempt ? 'job' : machine.value?.id),
  (ready) => ready && void show(),
  { immediate: true },
)
</script>

<template>
  <div class="page stack">
    <div class="row wrap">
      <h1 class="grow">{{ film ? text('inside.title-of', { name: film.name }) : text('inside.title') }}</h1>
      <v-btn v-if="attempt" :to="`/debrief/${attempt}`">{{ text('inside.back') }}</v-btn>
      <v-btn v-else to="/lineup">{{ text('inside.lineup') }}</v-btn>
    </div>
    <section v-if="!attempt && machines.data.value" class="panel choose" :aria-label="text('inside.what')">
      <v-select
        v-model="lesson.machine"
        :label="text('job.machine')"
        :items="machines.data.value.map((m) => ({ title: `${m.name} ${m.code}`, value: m.id }))"
        @update:model-value="lesson.fault = ''"
      />
      <v-autocomplete
        v-model="lesson.fault"
        :label="text('hand-over.wrong')"
        :items="[{ title: text('inside.nothing'), value: '' }, ...faults.map((f) => ({ title: f.name, value: f.id }))]"
      />
      <div class="gone">
        <span class="muted">{{ text(graded ? 'inside.gone' : 'inside.no-degrees') }}</span>
        <v-slider
          v-model="lesson.severity"
          :name="text('inside.gone')"
          :min="0.1"
          :max="1"
          :step="0.05"
          :disabled="!graded"
          :value-format="({ value }) => `${Math.round(value * 100)} %`"
        />
      </div>
      <v-number-input v-model="lesson.minutes" :label="text('job.minutes')" :min="1" :max="30" />
      <v-select
        v-model="lesson.load"
        :label="text('inside.load')"
        :items="[
          { title: text('inside.load-test'), value: 'test' },
          { title: text('inside.load-none'), value: 'none' },
          { title: text('inside.load-idle'), value: 'idle' },
        ]"
      />
      <main-btn :disabled="working" @click="show">
        {{ text(working ? 'inside.running' : 'inside.run') }}
      </main-btn>
    </section>
    <p v-if="attempt" class="muted">
      {{ text('inside.as-it-came') }}
    </p>
    <p v-if="trouble" class="refusal" role="alert">{{ trouble }}</p>
    <FilmStrip v-if="film" :film="film" />
  </div>
</template>

<style scoped>
.choose {
  display: grid;
  grid-template-columns: 1.2fr 1.6fr 1fr 90px 1fr auto;
  gap: 12px;
  align-items: center;
}
.gone {
  display: grid;
  font: 600 14px/1 var(--label);
}
@media (max-width: 900px) {
  .choose {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
