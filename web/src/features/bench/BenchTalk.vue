<script setup lang="ts">
import '@/words/talk'
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useChanges } from '@/api/changes'
import { api, ask, type Refusal } from '@/api/client'
import { useLocalStorage } from '@/session/useLocalStorage'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'

/**
 * What is said between this bench and who teaches: the last hint until it is read, a way to
 * ask, and that the bench is paused. Who looks over a shoulder is told when the bench changes.
 */
const props = defineProps<{ attempt: string; mine: boolean }>()
const emit = defineEmits<{ paused: [paused: boolean]; changed: [] }>()
const path = { params: { path: { attempt: props.attempt } } }
const talk = useQuery({
  queryKey: ['talk', props.attempt],
  queryFn: () => ask(api.GET('/api/attempts/{attempt}/hints', path)),
})
let at = { bench: -1, talk: -1 }
useChanges(
  () => `/api/attempts/${props.attempt}/changes`,
  (now) => {
    const said = at.talk !== now.talk
    if (said) void talk.refetch()
    // The first time too: something may have been done between the bench and this. At one's own
    // something was said or signed.
    if (props.mine ? said && at.talk >= 0 : at.bench !== now.bench) emit('changed')
    at = { bench: now.bench, talk: now.talk }
  },
)
watch(
  () => talk.data.value?.paused,
  (p) => p !== undefined && emit('paused', p),
)
const read = useLocalStorage(`hints-read.${props.attempt}`, '')
const last = computed(() => talk.data.value?.hints.findLast((h) => !h.question))
const asked = computed(() => {
  const h = talk.data.value?.hints.at(-1)
  return h?.question ? h : undefined
})
const open = ref(false)
const words = useLocalStorage(`question.${props.attempt}`, '')
const question = useMutation({
  mutationFn: () =>
    ask(api.POST('/api/attempts/{attempt}/hints', { ...path, body: { id: crypto.randomUUID(), words: words.value } })),
  onSuccess: () => {
    words.value = ''
    open.value = false
    void talk.refetch()
  },
})
const heard = computed(
  () =>
    talk.data.value?.paused ||
    (last.value && last.value.id !== read.value) ||
    asked.value ||
    open.value ||
    question.error.value,
)
</script>

<template>
  <section v-if="talk.data.value" class="talk" :class="{ quiet: !heard }" :aria-label="text('talk.name')">
    <p v-if="talk.data.value.paused" class="paused" role="alert">
      <span aria-hidden="true">‖</span> {{ text('talk.paused') }}
    </p>
    <div v-if="last && last.id !== read" class="hint" role="status">
      <p class="grow">
        <b>{{ last.by }}:</b> {{ last.words }}
      </p>
      <v-btn v-if="mine" @click="read = last.id">{{ text('talk.read') }}</v-btn>
    </div>
    <template v-if="mine && talk.data.value.watched">
      <p v-if="asked" class="asked" role="status">{{ text('talk.asked', { words: asked.words }) }}</p>
      <form v-if="open && !asked" @submit.prevent="words.trim() && question.mutate()">
        <v-text-field v-model="words" autofocus :label="text('talk.question')" maxlength="600" hide-details />
        <v-btn type="submit" :disabled="!words.trim() || question.isPending.value">{{ text('talk.send') }}</v-btn>
        <v-btn variant="text" @click="open = false">{{ text('talk.leave') }}</v-btn>
      </form>
      <Teleport v-if="!asked && !open" to="#ask" defer>
        <v-btn variant="text" @click="open = true">{{ text('talk.ask') }}</v-btn>
      </Teleport>
      <p v-if="question.error.value" role="alert" class="refusal">
        <ProblemText :of="question.error.value as unknown as Refusal" />
      </p>
    </template>
  </section>
</template>

<style scoped>
.talk {
  display: grid;
  gap: 6px;
}
.paused,
.hint,
.asked {
  padding: 8px 12px;
  border-radius: 10px;
}
.paused {
  border: 2px dashed var(--gate);
  background: var(--panel);
  font-weight: 600;
}
.hint {
  display: flex;
  gap: 10px;
  align-items: center;
  border: 2px solid var(--water-2);
  background: var(--panel);
}
.asked {
  color: var(--muted);
}
form {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 6px;
  align-items: center;
}
.quiet {
  display: none;
}
</style>
