<script setup lang="ts">
import '@/words/hear'
import '@/words/lesson'
import { computed } from 'vue'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useSession } from '@/session/session'
import ProblemText from '@/words/ProblemText.vue'
import { nameOf, text } from '@/words/words'
import LessonSide from './LessonSide.vue'
import { useLesson } from './useLesson'

/** Two machines to be told apart by one sense: the answers come from everybody's own screen. */
const { id } = defineProps<{ id: string }>()
const teaches = computed(() => useSession().me?.role === 'instructor')
const { lesson, refusal, lost, tell, answer } = useLesson(id, teaches.value)
</script>

<template>
  <div class="page stack">
    <p v-if="lost" class="refusal" role="status">{{ text('lesson.lost') }}</p>
    <p v-if="refusal" class="refusal" role="alert"><ProblemText :of="refusal" /></p>
    <template v-if="lesson">
      <div class="row wrap">
        <h1 class="grow">{{ text('lesson.which', { fault: nameOf('fault', lesson.asked).toLowerCase() }) }}</h1>
        <span class="muted">{{ lesson.class_title }}</span>
      </div>
      <p class="muted">{{ nameOf('test', lesson.test, 'title') }}. {{ text(`lesson.by-${lesson.sense}`) }}</p>
      <div class="two">
        <LessonSide v-for="i in [0, 1]" :key="i" :lesson="lesson" :side="i" :answers="!teaches" @answer="answer(i)" />
      </div>
      <p v-if="lesson.right === undefined" role="status">
        {{ text('lesson.answered', { n: lesson.answered, of: lesson.members }) }}
      </p>
      <p v-else role="status">
        {{ text('lesson.beside', { what: lesson.beside ? `@fault.${lesson.beside}.name` : '@lesson.sound' }) }}
      </p>
      <div v-if="teaches && lesson.right === undefined" class="row">
        <v-btn color="secondary" variant="flat" @click="tell">{{ text('lesson.tell') }}</v-btn>
      </div>
    </template>
    <WaitingFor v-else-if="!refusal" :what="text('lesson.fetching')" as="article" />
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 380px), 1fr));
  gap: 14px;
}
.two :deep(.panel) {
  align-content: start;
}
</style>
