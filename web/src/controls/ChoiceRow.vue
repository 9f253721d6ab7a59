<script setup lang="ts" generic="T extends string | number">
/** One of a few, side by side; once chosen, one stays chosen. It is said to a screen reader as pressed. */
defineProps<{ items: { value: T; title: string }[]; label: string; disabled?: boolean }>()
const at = defineModel<T | undefined>()
</script>

<template>
  <v-btn-toggle v-model="at" role="group" class="choice" :aria-label="label" :disabled="disabled" mandatory>
    <v-btn v-for="i in items" :key="i.value" :value="i.value" :aria-pressed="at === i.value">{{ i.title }}</v-btn>
  </v-btn-toggle>
</template>

<style scoped>
.choice {
  display: flex;
  flex-wrap: wrap;
}
.choice .v-btn {
  flex: 1 1 auto;
  padding-inline: 6px;
}
/* Fields of one sign each are as wide as a finger. */
.choice.signs .v-btn {
  min-width: 44px;
}
</style>
