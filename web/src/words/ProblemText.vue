<script setup lang="ts">
import { computed } from 'vue'
import { Refusal, type Schema } from '@/api/client'
import { explain } from './words'

/** A problem or a refusal in words: what is wrong, and how to mend it. */
const props = defineProps<{ of: Schema['Problem'] | Refusal }>()
const said = computed(() => (props.of instanceof Refusal ? props.of : explain(props.of)))
</script>

<template>
  <span
    ><b>{{ said.what }}</b
    >: {{ said.mend }}.</span
  >
</template>
