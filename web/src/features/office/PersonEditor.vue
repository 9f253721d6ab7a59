<script lang="ts">
import type { Schema } from '@/api/client'

/** Somebody as they are being typed; without an id, somebody new. */
export type PersonDraft = Schema['PersonEdit'] & { id?: string }
</script>

<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Refusal } from '@/api/client'
import WhyBtn from '@/controls/WhyBtn.vue'
import ProblemText from '@/words/ProblemText.vue'
import { capital, text } from '@/words/words'

/** A form for one person: new, changed, let go, let in again. */
const props = defineProps<{
  anyRole: boolean
  save: (id: string | undefined, e: Schema['PersonEdit']) => Promise<void>
  erase: (id: string, name: string) => Promise<void>
}>()
const draft = defineModel<PersonDraft | null>({ required: true })
const roles = computed(() =>
  (props.anyRole ? (['apprentice', 'instructor', 'assessor', 'coordinator'] as const) : (['apprentice'] as const)).map(
    (value) => ({ value, title: capital(text(`app.${value}`)) }),
  ),
)
const busy = ref(false)
const refusal = ref<Refusal | null>(null)

const typed = ref('')
async function eraseIt() {
  busy.value = true
  refusal.value = null
  try {
    await props.erase(draft.value!.id!, typed.value)
    draft.value = null
  } catch (e) {
    refusal.value = e as Refusal
  } finally {
    busy.value = false
  }
}

async function keep() {
  const { id, ...edit } = draft.value!
  busy.value = true
  refusal.value = null
  try {
    await props.save(id, edit)
    draft.value = null
  } catch (e) {
    refusal.value = e as Refusal
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <v-dialog v-if="draft" model-value max-width="520" persistent @keydown.esc="draft = null">
    <form class="panel stack" role="document" @submit.prevent="keep">
      <h2>{{ draft.id ? text('office.change-who', { name: draft.display_name }) : text('office.person') }}</h2>
      <v-text-field v-model="draft.display_name" :label="text('office.name')" maxlength="200" hide-details required />
      <v-text-field
        v-model="draft.name"
        :label="text('office.sign-in')"
        :hint="text('office.sign-in-hint')"
        autocapitalize="none"
        maxlength="80"
        persistent-hint
      />
      <v-select v-model="draft.role" :label="text('office.role')" :items="roles" hide-details />
      <v-switch v-if="draft.id" v-model="draft.here" :label="text(draft.here ? 'office.here' : 'office.here-not')" />
      <details v-if="anyRole && draft.id">
        <summary>{{ text('office.erase') }}</summary>
        <div class="stack erase">
          <v-btn :href="`/api/people/${draft.id}/data`" download="person.json">{{ text('office.data') }}</v-btn>
          <p>{{ text('office.erase-why') }}</p>
          <v-text-field
            v-model="typed"
            hide-details
            maxlength="80"
            :label="text('office.erase-type', { name: draft.name })"
          />
          <WhyBtn :not="typed ? '' : text('office.erase-type', { name: draft.name })" :busy="busy" @click="eraseIt">{{
            text('office.erase')
          }}</WhyBtn>
        </div>
      </details>
      <p v-if="refusal" class="refusal" role="alert"><ProblemText :of="refusal" /></p>
      <div class="row">
        <WhyBtn main type="submit" :busy="busy">{{ text('office.keep') }}</WhyBtn>
        <v-btn @click="draft = null">{{ text('office.leave-it') }}</v-btn>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.erase {
  padding: 10px 0 2px;
}
</style>
