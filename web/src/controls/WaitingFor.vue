<script setup lang="ts">
/** What is on its way: its shape for the eye, and in words for whoever does not see it. */
defineProps<{ what: string; as: string }>()
</script>

<template>
  <div role="status">
    <span class="sr-only">{{ what }}</span>
    <v-skeleton-loader :type="as" boilerplate aria-hidden="true" role="presentation" />
  </div>
</template>
