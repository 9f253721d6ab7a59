<script setup lang="ts">
import AidsPanel from './AidsPanel.vue'
import { text } from '@/words/words'
</script>

<template>
  <div class="page stack">
    <h1>{{ text('bench.aids') }}</h1>
    <p class="muted">
      {{ text('aids.defer') }}
    </p>
    <AidsPanel />
  </div>
</template>
