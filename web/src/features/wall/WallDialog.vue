<script setup lang="ts">
import '@/words/wall'
import { useMutation, useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Refusal } from '@/api/client'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'

/** Chooses a scenario of the library for a class to work together. */
const props = defineProps<{ class: string }>()
const open = defineModel<boolean>({ required: true })
const router = useRouter()
const shelf = useQuery({ queryKey: ['scenarios'], queryFn: () => ask(api.GET('/api/scenarios')), enabled: open })
const chosen = ref<string>()
const id = crypto.randomUUID()
const begin = useMutation({
  mutationFn: () => ask(api.POST('/api/walls', { body: { id, class_id: props.class, scenario: chosen.value! } })),
  onSuccess: () => router.push(`/wall/${id}`),
})
</script>

<template>
  <v-dialog v-model="open" max-width="560" :aria-label="text('wall.begin')">
    <section class="panel stack">
      <h2>{{ text('wall.begin') }}</h2>
      <p>{{ text('wall.begin-says') }}</p>
      <v-autocomplete
        v-model="chosen"
        :label="text('wall.scenario')"
        :items="shelf.data.value?.filter((s) => !s.archived).map((s) => ({ value: s.id, title: s.title })) ?? []"
        :loading="shelf.isFetching.value"
        hide-details
      />
      <p v-if="begin.error.value" role="alert" class="refusal">
        <ProblemText :of="begin.error.value as unknown as Refusal" />
      </p>
      <div class="row">
        <span class="grow"></span>
        <v-btn variant="text" @click="open = false">{{ text('wall.leave') }}</v-btn>
        <v-btn color="secondary" variant="flat" :disabled="!chosen || begin.isPending.value" @click="begin.mutate()">{{
          text('wall.put-up')
        }}</v-btn>
      </div>
    </section>
  </v-dialog>
</template>
