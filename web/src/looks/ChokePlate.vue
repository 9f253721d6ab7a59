<script setup lang="ts">
import { computed } from 'vue'

/** The choke plate worked to both ends of its lever, and between them. */
const props = defineProps<{ scene: string; shown?: number }>()
// How far it lies across at either end, 0 edge on to 1 shut.
const shut = computed(() => (props.scene === 'does-not-close' ? 1 - Math.max(0.3, props.shown ?? 0.5) : 1))
const open = computed(() => (props.scene === 'does-not-open' ? Math.max(0.3, props.shown ?? 0.5) : 0.07))
</script>

<template>
  <g
    v-for="(c, i) in [
      { x: 70, at: shut, name: 'lever shut' },
      { x: 180, at: -1, name: 'worked' },
      { x: 290, at: open, name: 'lever open' },
    ]"
    :key="i"
  >
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
