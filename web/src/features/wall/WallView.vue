<script setup lang="ts">
import '@/words/wall'
import { computed } from 'vue'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useSession } from '@/session/session'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'
import { useWall } from './useWall'
import WallScreen from './WallScreen.vue'
import WallVote from './WallVote.vue'

/** A wall: the big screen for who teaches, and the vote for everybody else. */
const { id } = defineProps<{ id: string }>()
const teaches = computed(() => useSession().me?.role === 'instructor')
const { wall, refusal, lost, step, vote } = useWall(id, teaches.value)
</script>

<template>
  <div class="wall">
    <p v-if="lost" class="refusal" role="status">{{ text('wall.lost') }}</p>
    <p v-if="refusal" class="refusal" role="alert"><ProblemText :of="refusal" /></p>
    <template v-if="wall">
      <WallScreen v-if="teaches" :wall="wall" @step="step" />
      <WallVote v-else :wall="wall" @vote="vote" />
    </template>
    <WaitingFor v-else-if="!refusal" :what="text('wall.fetching')" as="article" />
  </div>
</template>

<style scoped>
.wall {
  display: grid;
  gap: 10px;
  padding: 10px 16px 16px;
}
</style>
