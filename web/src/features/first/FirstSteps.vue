<script setup lang="ts">
import '@/words/steps'
import { computed, watch } from 'vue'
import { useSession } from '@/session/session'
import { useLocalStorage } from '@/session/useLocalStorage'
import { text } from '@/words/words'

/**
 * The first steps of somebody new: one at a time, each done by doing it. They can be left
 * at any time, and do not come back on this device once they are through or left; those
 * of a lesson do not within it, which once names.
 */
const props = defineProps<{
  of: 'bench' | 'yard' | 'lesson'
  once?: string
  steps: { id: string; done: boolean }[]
}>()

const session = useSession()
const at = useLocalStorage(`first-steps.${props.of}.${props.once ?? session.me?.id}`, 0)
const step = computed(() => (at.value < 0 ? undefined : props.steps[at.value]))
watch(
  () => [at.value, step.value?.done],
  ([, done]) => {
    if (done) at.value = at.value + 1 < props.steps.length ? at.value + 1 : -1
  },
  { immediate: true, flush: 'post' },
)
</script>

<template>
  <section v-if="step" class="panel first" :aria-label="text('first.name')">
    <div class="row">
      <b class="figure grow">{{ text('first.at', { n: at + 1, all: steps.length }) }}</b>
      <v-btn variant="text" class="leave" @click="at = -1">{{
        text(at + 1 < steps.length ? 'first.leave' : 'first.done')
      }}</v-btn>
    </div>
    <p role="status">{{ text(`first.${of}-${step.id}`) }}</p>
  </section>
</template>

<style scoped>
.first {
  padding: 4px 14px 12px;
  border-left: 7px solid var(--water-2);
  border-radius: 4px 14px 14px 4px;
}
.leave {
  color: var(--link);
}
/* Where the page is tall and narrow it is one line. */
@media (min-width: 641px) and (max-width: 1099px) {
  .first {
    display: flex;
    flex-flow: row-reverse;
    align-items: center;
    gap: 14px;
    padding: 2px 14px;
  }
  .first p {
    flex: 1;
  }
}
</style>
