<script setup lang="ts">
import '@/words/yard'
import { ref } from 'vue'
import { api, ask, Refusal, type Schema } from '@/api/client'
import { useSession } from '@/session/session'
import ProblemText from '@/words/ProblemText.vue'
import { nameOf, text } from '@/words/words'

/** What is hidden in a job that its author tries: shown when it is asked for, and not before. */
const props = defineProps<{ attempt: string }>()
const session = useSession()
const open = ref(false)
const behind = ref<Schema['Behind']>()
const refusal = ref<Refusal | null>(null)
async function look() {
  open.value = true
  refusal.value = null
  try {
    behind.value = await ask(
      api.GET('/api/attempts/{attempt}/behind', { params: { path: { attempt: props.attempt } } }),
    )
  } catch (e) {
    if (!session.noticed(e)) refusal.value = e as Refusal
  }
}
const far = (f: { id: string; severity?: number }) =>
  nameOf('fault', f.id) + (f.severity && f.severity < 1 ? ` ${Math.round(f.severity * 100)} %` : '')
</script>

<template>
  <v-btn @click="look">{{ text('scene.behind') }}</v-btn>
  <v-dialog v-model="open" max-width="460">
    <div class="panel stack" role="document">
      <h2>{{ text('scene.behind') }}</h2>
      <p v-if="refusal" role="alert"><ProblemText :of="refusal" /></p>
      <template v-if="behind">
        <p v-for="f in behind.faults" :key="f.id" class="fault">
          <b>{{ far(f) }}</b>, {{ text('scene.brings').toLowerCase() }}
        </p>
        <p v-for="f in behind.distractors" :key="f.id" class="also">
          <b>{{ far(f) }}</b>, {{ text('scene.no-part') }}
        </p>
        <p v-for="t in behind.told" :key="t.says">
          {{ nameOf('statement', t.says, 'says') }} <b>{{ text(`scene.is-${t.is}`) }}</b>
        </p>
      </template>
      <v-btn autofocus @click="open = false">{{ text('scene.close') }}</v-btn>
    </div>
  </v-dialog>
</template>

<style scoped>
.fault,
.also {
  border-radius: 10px;
  padding: 8px 12px;
  background: var(--condemned-bg);
  color: var(--condemned-ink);
}
.also {
  background: var(--suspect-bg);
  color: var(--suspect-ink);
}
</style>
