<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import WhyBtn from '@/controls/WhyBtn.vue'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'

/** Passwords for the chosen people, made once and shown once. */
const { people } = defineProps<{ people: string[] }>()
const emit = defineEmits<{ made: [sheets: Schema['Sheet'][]] }>()
const open = ref(false)
const again = ref(false)
const busy = ref(false)
const refusal = ref<Refusal | null>(null)

const MOST = 100 // in one question
async function make() {
  busy.value = true
  refusal.value = null
  const sheets: Schema['Sheet'][] = []
  try {
    for (let i = 0; i < people.length; i += MOST) {
      const body = { people: people.slice(i, i + MOST), again: again.value }
      sheets.push(...(await ask(api.POST('/api/sign-in-sheets', { body }))))
    }
  } catch (e) {
    refusal.value = e as Refusal
  } finally {
    busy.value = false
  }
  // What was made is shown, for it is shown only once.
  if (sheets.length) {
    open.value = false
    emit('made', sheets)
  }
}
</script>

<template>
  <WhyBtn :not="people.length ? '' : text('office.choose-first')" @click="open = true">{{
    text('office.make-sheets')
  }}</WhyBtn>
  <v-dialog v-model="open" max-width="520" :aria-label="text('office.make-sheets')">
    <div class="panel stack">
      <h2>{{ text('office.make-sheets') }}</h2>
      <p>{{ text('office.chosen', { n: people.length }) }}</p>
      <v-checkbox v-model="again" density="compact" hide-details :label="text('office.sheets-again')" />
      <p v-if="refusal" class="refusal" role="alert"><ProblemText :of="refusal" /></p>
      <div class="row">
        <WhyBtn main :busy="busy" @click="make">{{ text('office.make-sheets') }}</WhyBtn>
        <v-btn @click="open = false">{{ text('office.leave-it') }}</v-btn>
      </div>
    </div>
  </v-dialog>
</template>
