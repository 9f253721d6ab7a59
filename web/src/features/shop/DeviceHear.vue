<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schema } from '@/api/client'
import { measure, text } from '@/words/words'
import { canHear, hear } from './device'

/** Readings from a device: at the browser's own serial port, or from a program at the bench. */
const props = defineProps<{ attempt: string; test: Schema['Test']; busy?: boolean }>()
type Heard = { test: string; reading: string; unit: string; device: string }
const emit = defineEmits<{ heard: [r: Heard] }>()
const path = { params: { path: { attempt: props.attempt } } }

const listening = ref(false)
const unheard = ref('')
async function listen() {
  const test = props.test.id
  listening.value = true
  unheard.value = ''
  try {
    const r = await hear((x) => x.test === test)
    if (r && props.test.id === test) emit('heard', r)
  } catch {
    unheard.value = text('shop.not-heard')
  } finally {
    listening.value = false
  }
}

/** A program at the bench posts by a code; what it has sent of this test is offered. */
const byProgram = ref(false)
const code = useQuery({
  queryKey: ['device-code', props.attempt],
  queryFn: () => ask(api.POST('/api/attempts/{attempt}/device-code', path)),
  enabled: byProgram,
})
const EVERY_MS = 1500
const posted = useQuery({
  queryKey: ['posted', props.attempt],
  queryFn: () => ask(api.GET('/api/attempts/{attempt}/device-readings', path)),
  refetchInterval: EVERY_MS,
  enabled: byProgram,
})
const last = computed(() => posted.data.value?.find((r) => r.test === props.test.id))
const command = computed(() => `zanjero device-post --to ${location.origin} --code ${code.data.value?.code ?? '…'}`)
const said = (r: Heard) => (/^ol$/i.test(r.reading) ? text('word.over-limit') : measure(Number(r.reading), r.unit))
</script>

<template>
  <div class="stack">
    <div class="row wrap">
      <v-btn v-if="canHear()" :loading="listening" :disabled="busy" @click="listen">{{ text('shop.hear') }}</v-btn>
      <v-btn :aria-expanded="byProgram" :disabled="busy" @click="byProgram = !byProgram">{{
        text('shop.hear-program')
      }}</v-btn>
    </div>
    <p v-if="unheard" class="refusal" role="alert">{{ unheard }}</p>
    <template v-if="byProgram">
      <p class="small">{{ text('shop.program-lead') }}</p>
      <code class="command">{{ command }}</code>
      <div v-if="last" class="row wrap" role="status">
        <span class="grow"
          >{{ last.device }}: <b class="figure">{{ said(last) }}</b></span
        >
        <v-btn color="secondary" variant="flat" :disabled="busy" @click="emit('heard', last)">{{
          text('shop.take-reading')
        }}</v-btn>
      </div>
      <p v-else class="muted small" role="status">{{ text('shop.nothing-posted') }}</p>
    </template>
  </div>
</template>

<style scoped>
.command {
  display: block;
  background: var(--ground);
  border: 1px solid var(--line-soft);
  border-radius: 8px;
  padding: 8px 10px;
  overflow-wrap: anywhere;
}
</style>
