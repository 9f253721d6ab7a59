<script lang="ts">
/** A class as it is being typed; without an id, a new one. */
export type ClassDraft = {
  id?: string
  title: string
  term: string
  starts?: string
  ends?: string
  members: string[]
}
</script>

<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Refusal, Schema } from '@/api/client'
import WhyBtn from '@/controls/WhyBtn.vue'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'
import type { PersonLine } from './useOffice'

/** A form for one class: its name, its term, and who is in it. */
const props = defineProps<{
  people: PersonLine[]
  terms: string[]
  save: (id: string | undefined, e: Schema['ClassEdit']) => Promise<void>
}>()
const draft = defineModel<ClassDraft | null>({ required: true })
const items = computed(() =>
  props.people
    .filter((p) => p.here || draft.value?.members.includes(p.id))
    .map((p) => ({ value: p.id, title: p.display_name, subtitle: text(`app.${p.role}`) })),
)
const newTerm = computed(() => !!draft.value?.term && !props.terms.includes(draft.value.term))
const busy = ref(false)
const refusal = ref<Refusal | null>(null)

async function keep(held: boolean) {
  const { id, ...edit } = draft.value!
  busy.value = true
  refusal.value = null
  try {
    await props.save(id, { ...edit, starts: edit.starts || undefined, ends: edit.ends || undefined, held })
    draft.value = null
  } catch (e) {
    refusal.value = e as Refusal
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <v-dialog v-if="draft" model-value max-width="640" persistent scrollable @keydown.esc="draft = null">
    <form class="panel stack" role="document" @submit.prevent="keep(true)">
      <h2>{{ text(draft.id ? 'office.change-class' : 'office.class') }}</h2>
      <v-text-field v-model="draft.title" :label="text('office.title')" maxlength="200" hide-details required />
      <v-combobox
        v-model="draft.term"
        :label="text('office.term')"
        :items="terms"
        maxlength="200"
        hide-details
        required
      />
      <template v-if="newTerm">
        <p class="small">{{ text('office.new-term') }}</p>
        <div class="row wrap">
          <v-text-field
            v-model="draft.starts"
            class="grow"
            type="date"
            :label="text('office.starts')"
            hide-details
            required
          />
          <v-text-field
            v-model="draft.ends"
            class="grow"
            type="date"
            :label="text('office.ends')"
            hide-details
            required
          />
        </div>
      </template>
      <v-autocomplete
        v-model="draft.members"
        :label="text('office.members')"
        :items="items"
        item-props
        multiple
        chips
        closable-chips
        clear-on-select
        hide-details
      />
      <p v-if="refusal" class="refusal" role="alert"><ProblemText :of="refusal" /></p>
      <div class="row wrap">
        <WhyBtn main type="submit" :busy="busy">{{ text('office.keep') }}</WhyBtn>
        <v-btn @click="draft = null">{{ text('office.leave-it') }}</v-btn>
        <span class="grow"></span>
        <v-btn v-if="draft.id" variant="text" :disabled="busy" @click="keep(false)">{{
          text('office.put-away')
        }}</v-btn>
      </div>
    </form>
  </v-dialog>
</template>
