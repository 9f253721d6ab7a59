<script setup lang="ts">
import '@/words/yard'
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { api, ask, type Refusal } from '@/api/client'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'
import TimeField from '@/controls/TimeField.vue'

/** Sets from when the debriefs of what was given in one act are read: at a time, or now. */
const props = defineProps<{
  given: string
  at?: string
  /** How many are still to hand over; those who have read a debrief could tell them. */ left: number
}>()
const queries = useQueryClient()
const open = ref(false)
const to = ref<string>()
watch(open, (o) => o && (to.value = props.at))
const move = useMutation({
  mutationFn: (at: string) =>
    ask(api.PUT('/api/givings/{given}/debriefs', { params: { path: { given: props.given } }, body: { at } })),
  onSuccess: async () => {
    open.value = false
    await queries.invalidateQueries()
  },
})
</script>

<template>
  <v-btn class="no-print" size="small" variant="text" @click="open = true">{{ text('debriefs.change') }}</v-btn>
  <v-dialog v-model="open" max-width="520" :aria-label="text('debriefs.title')">
    <section class="panel stack">
      <h2>{{ text('debriefs.title') }}</h2>
      <p>{{ text('debriefs.says') }}</p>
      <p v-if="left" role="status">
        <b>{{ text('debriefs.left', { n: left }) }}</b>
      </p>
      <TimeField v-model="to" :label="text('scene.debrief-at')" hide-details />
      <p v-if="move.error.value" role="alert" class="refusal">
        <ProblemText :of="move.error.value as unknown as Refusal" />
      </p>
      <div class="row wrap">
        <v-btn :disabled="move.isPending.value" @click="move.mutate(new Date().toISOString())">{{
          text('debriefs.now')
        }}</v-btn>
        <span class="grow"></span>
        <v-btn variant="text" @click="open = false">{{ text('debriefs.leave') }}</v-btn>
        <v-btn color="secondary" variant="flat" :disabled="!to || move.isPending.value" @click="move.mutate(to!)">{{
          text('debriefs.then')
        }}</v-btn>
      </div>
    </section>
  </v-dialog>
</template>
