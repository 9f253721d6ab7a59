<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'
import { pieces } from './terms'
import { text as say } from './words'

const TermMeaning = defineAsyncComponent(() => import('./TermMeaning.vue'))

/** A text in which each word of the trade says what it means, with a picture, as it gets the focus. */
const props = defineProps<{ text: string }>()
const all = computed(() => pieces(props.text))
</script>

<template>
  <span
    ><template v-for="(p, i) in all" :key="i"
      ><VTooltip
        v-if="p.term"
        :open-on-focus="true"
        :open-on-click="true"
        location="bottom"
        max-width="340"
        attach="main"
        content-class="term-tip"
        :aria-label="say(`term.${p.term.id}.name`)"
      >
        <template #activator="{ props: open }"
          ><span v-bind="open" class="term" tabindex="0">{{ p.text }}</span></template
        >
        <TermMeaning :of="p.term" /> </VTooltip
      ><template v-else>{{ p.text }}</template></template
    ></span
  >
</template>

<style scoped>
.term {
  text-decoration: underline dotted;
  text-underline-offset: 3px;
  text-decoration-color: var(--muted);
  cursor: help;
}
</style>
