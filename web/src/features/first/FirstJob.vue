<script setup lang="ts">
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'
import { useFirstJob } from './useFirstJob'

/** What somebody new is offered: a lesson of some minutes at the bench. Later it is a button only. */
defineProps<{ says: string }>()
const { take, busy, trouble, offered } = useFirstJob()
</script>

<template>
  <section v-if="offered" class="panel first-job" :aria-label="text('first.job')">
    <div class="grow">
      <h2>{{ text('first.job') }}</h2>
      <p>{{ says }}</p>
    </div>
    <v-btn variant="text" @click="offered = false">{{ text('first.not-now') }}</v-btn>
    <main-btn :disabled="busy" @click="take">{{ text('first.take') }}</main-btn>
  </section>
  <p v-else class="again">
    <v-btn variant="text" :disabled="busy" @click="take">{{ text('first.take') }}</v-btn>
  </p>
  <p v-if="trouble" class="refusal" role="alert"><ProblemText :of="trouble" /></p>
</template>

<style scoped>
.first-job {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 20px;
  align-items: center;
  border-left: 7px solid var(--water-2);
  border-radius: 4px 14px 14px 4px;
}
.first-job p {
  max-width: 76ch;
}
/* Found again, but out of the way. */
.again {
  order: 9;
  text-align: end;
}
</style>
