<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import LookScene from '@/looks/LookScene.vue'
import BeatTrace from '@/sound/BeatTrace.vue'
import { useSound } from '@/sound/useSound'
import { text } from '@/words/words'

/** One of the two machines: what is sensed of it, and the answer that it is this one. */
const props = defineProps<{ lesson: Schema['Lesson']; side: number; answers: boolean }>()
const emit = defineEmits<{ answer: [] }>()
const { playing, mute, play, stop } = useSound()
const of = computed(() => props.lesson.sides[props.side])
const name = computed(() => text(`lesson.side-${props.side}`))
const told = computed(() => props.lesson.right !== undefined)
const right = computed(() => props.lesson.right === props.side)
const share = computed(() => {
  const all = props.lesson.chose?.reduce((a, b) => a + b, 0) ?? 0
  return all ? Math.round((100 * props.lesson.chose![props.side]) / all) : 0
})
</script>

<template>
  <section class="panel stack" :class="{ right: told && right }" :aria-label="name">
    <h2>{{ name }}</h2>
    <template v-if="of.heard">
      <BeatTrace :score="of.heard" :says="text('lesson.trace', { side: name })" />
      <v-btn @click="playing ? stop() : play(of.heard)">{{ text(playing ? 'hear.stop' : 'hear.hear') }}</v-btn>
      <p v-if="mute" class="small" role="status">{{ text(`hear.${mute}`) }}</p>
    </template>
    <LookScene v-else-if="of.look" :look="of.look" />
    <p v-if="told" class="figure" role="status">
      {{ text(right ? 'lesson.this' : 'lesson.other') }} {{ text('lesson.share', { share }) }}
    </p>
    <v-btn
      v-else-if="answers"
      color="secondary"
      :variant="lesson.mine === side ? 'flat' : 'outlined'"
      :aria-pressed="lesson.mine === side"
      @click="emit('answer')"
      >{{ text('lesson.it-is', { side: name }) }}</v-btn
    >
  </section>
</template>

<style scoped>
/* What is seen or felt is to be told by eye and hand: its words are for a screen reader alone. */
:deep(figcaption:not(:has(*))),
:deep(figcaption [role='status']) {
  display: none;
}
.right {
  outline: 4px solid var(--good);
}
</style>
