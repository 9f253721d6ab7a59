<script setup lang="ts">
import AidsPanel from './AidsPanel.vue'
</script>

<template>
  <div class="page stack">
    <h1>Job aids</h1>
    <p class="muted">
      They reckon and remind; the machine’s own manual, local codes and a licensed technician come first.
    </p>
    <AidsPanel />
  </div>
</template>
