<script setup lang="ts">
/** The head off: the gasket's ring on the deck, and the two valves. */
defineProps<{ scene: string; shown?: number }>()
</script>

<template>
  <rect x="30" y="12" width="300" height="160" rx="16" fill="#9aa39d" stroke="#39423f" stroke-width="3" />
  <circle cx="132" cy="92" r="66" fill="#2c3331" stroke="#5f4c2c" stroke-width="14" />
  <circle cx="132" cy="92" r="54" fill="#7b847f" />
  <path v-if="scene === 'gasket-track'" d="M190 66l30-14 12 20-38 10z" fill="#17120c" />
  <g
    v-for="(v, i) in [
      { x: 262, y: 56 },
      { x: 262, y: 128 },
    ]"
    :key="i"
  >
    <circle :cx="v.x" :cy="v.y" r="28" fill="#4a524e" />
    <circle
      :cx="v.x"
      :cy="scene === 'valve-open' && i === 1 ? v.y - 12 : v.y"
      r="24"
      fill="#c3cbc6"
      stroke="#39423f"
      stroke-width="2"
    />
    <template v-if="scene === 'valve-burnt' && i === 1">
      <path :d="`M${v.x - 25} ${v.y - 3}l15 -3 -3 9 7 5 -14 5z`" fill="#0f0c08" />
      <path :d="`M${v.x - 9} ${v.y - 7}q9 8 4 16`" fill="none" stroke="#efe7d2" stroke-width="5" />
    </template>
    <path
      v-if="scene === 'valve-open' && i === 1"
      :d="`M${v.x - 26} ${v.y + 6}q26 22 52 0`"
      fill="none"
      stroke="#0f0c08"
      stroke-width="7"
    />
  </g>
</template>
