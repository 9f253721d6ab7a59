<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { api, ask, type Refusal } from '@/api/client'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'
import PhotoStrip from './PhotoStrip.vue'
import { keepWaiting, redraw, waiting, type Waiting } from './photos'

/** Photos of what was seen at a real engine. Without a connection they wait on the device. */
const props = defineProps<{ attempt: string; busy?: boolean }>()
const path = { params: { path: { attempt: props.attempt } } }
const key = ['photos', props.attempt]
const queries = useQueryClient()
const kept = useQuery({ queryKey: key, queryFn: () => ask(api.GET('/api/attempts/{attempt}/photos', path)) })
// It is put away as it is, which nothing that is watched in depth can be.
const line = shallowRef<Waiting[]>([])
const note = ref('')
const file = ref<File | File[] | null>(null)
const trouble = ref('')
const refusal = ref<Refusal>()
const drawing = ref(false)
const photos = computed(() => kept.data.value ?? [])

async function add(picked: File | File[] | null) {
  const one = Array.isArray(picked) ? picked[0] : picked
  if (!one) return
  trouble.value = ''
  refusal.value = undefined
  drawing.value = true
  try {
    line.value = [...line.value, { id: crypto.randomUUID(), note: note.value.trim(), image: await redraw(one) }]
    note.value = ''
    await keepWaiting(props.attempt, line.value)
    void send()
  } catch {
    trouble.value = text('shop.no-picture', { name: one.name })
  } finally {
    drawing.value = false
    file.value = null
  }
}

let sending = false
/** Sends what waits, one by one; what is refused goes out of the line and is told. */
async function send() {
  if (sending) return
  sending = true
  try {
    while (line.value.length) {
      const body = line.value[0]
      try {
        queries.setQueryData(key, await ask(api.POST('/api/attempts/{attempt}/photos', { ...path, body })))
      } catch (e) {
        const r = e as Refusal
        if (!r.status || r.status >= 500) return // nobody could be reached: it waits
        refusal.value = r
      }
      line.value = line.value.slice(1)
      await keepWaiting(props.attempt, line.value)
    }
  } finally {
    sending = false
  }
}
async function drop(photo: string) {
  try {
    await ask(
      api.DELETE('/api/attempts/{attempt}/photos/{photo}', { params: { path: { attempt: props.attempt, photo } } }),
    )
    await kept.refetch()
  } catch (e) {
    refusal.value = e as Refusal
  }
}
onMounted(async () => {
  line.value = await waiting(props.attempt)
  void send()
})
useEventListener(window, 'online', () => void send())
</script>

<template>
  <section class="stack photos" :aria-label="text('shop.photos')">
    <h3>{{ text('shop.photos') }}</h3>
    <PhotoStrip :attempt="attempt" :photos="photos" :droppable="!busy" @drop="drop" />
    <p v-if="line.length" class="small" role="status">{{ text('shop.photos-wait', { n: line.length }) }}</p>
    <v-text-field v-model="note" hide-details maxlength="200" :label="text('shop.photo-note')" :disabled="busy" />
    <v-file-input
      :model-value="file"
      accept="image/*"
      capture="environment"
      :clearable="false"
      hide-details
      :label="text('shop.photo-add')"
      :loading="drawing"
      :disabled="busy"
      @update:model-value="add"
    />
    <p v-if="trouble" class="refusal" role="alert">{{ trouble }}</p>
    <p v-if="refusal" class="refusal" role="alert"><ProblemText :of="refusal" /></p>
  </section>
</template>
