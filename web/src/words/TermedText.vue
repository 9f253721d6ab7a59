<script setup lang="ts">
import { computed } from 'vue'
import EnginePicture from './EnginePicture.vue'
import { pieces } from './terms'
import { text as say } from './words'

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
        <span class="meaning">
          <EnginePicture :part="p.term.part" :label="say(`term.${p.term.id}.name`)" />
          <span
            ><b>{{ say(`term.${p.term.id}.name`) }}</b> {{ say(`term.${p.term.id}.meaning`) }}</span
          >
        </span> </VTooltip
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
.meaning {
  display: grid;
  grid-template-columns: 104px 1fr;
  gap: 10px;
  align-items: center;
  font: 500 15px/1.25 var(--label);
}
.meaning svg {
  width: 104px;
}
.meaning b {
  display: block;
}
</style>
