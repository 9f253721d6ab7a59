<script setup lang="ts">
import { computed } from 'vue'
import type { Seen } from './seen'
import { text } from '@/words/words'

/** The choke plate worked to both ends of its lever, and between them. */
const props = defineProps<{ seen: Seen }>()
/** How far it lies across the bore: the plate is never thinner than its own edge. */
const shut = computed(() => props.seen.most)
const open = computed(() => Math.max(0.07, props.seen.least))
const ends = computed(() => [
  { x: 70, at: shut.value, name: text('look.lever-shut') },
  { x: 180, at: -1, name: text('look.worked') },
  { x: 290, at: open.value, name: text('look.lever-open') },
])
</script>

<template>
  <g v-for="(c, i) in ends" :key="i">
    <circle :cx="c.x" cy="84" r="46" fill="#f3ecd6" stroke="#77807b" stroke-width="7" />
    <ellipse
      v-if="c.at >= 0"
      :cx="c.x"
      cy="84"
      :rx="42.5 * c.at"
      ry="42.5"
      fill="#b98b3f"
      stroke="#5b4317"
      stroke-width="2"
    />
    <ellipse
      v-else
      class="worked"
      :cx="c.x"
      cy="84"
      ry="42.5"
      fill="#b98b3f"
      stroke="#5b4317"
      stroke-width="2"
      :style="{ rx: `${42.5 * open}px`, '--open': `${42.5 * open}px`, '--shut': `${42.5 * shut}px` }"
    />
    <path :d="`M${c.x} 34V134`" stroke="#4a514d" stroke-width="4" />
    <text :x="c.x" y="164">{{ c.name }}</text>
  </g>
</template>

<style scoped>
.worked {
  animation: worked 1.6s infinite alternate ease-in-out;
}
@keyframes worked {
  from {
    rx: var(--open);
  }
  to {
    rx: var(--shut);
  }
}
</style>
