<script setup lang="ts">
/**
 * A button that cannot always be pressed. While it cannot, it stays where it is, is still
 * reached with the keyboard, and says why when it is pointed at, reached or pressed.
 */
defineProps<{
  /** Why it cannot be pressed now; empty where it can. */
  not?: string
  /** Something is on its way: it cannot be pressed for a moment, and need not say so. */
  busy?: boolean
  /** It is the next thing to do. */
  main?: boolean
}>()
const emit = defineEmits<{ click: [] }>()
</script>

<template>
  <v-btn
    v-bind="main ? { variant: 'flat', color: 'secondary' } : {}"
    :class="{ cannot: not }"
    :disabled="busy"
    :aria-disabled="not ? 'true' : undefined"
    :aria-description="not || undefined"
    @click="not || emit('click')"
  >
    <slot></slot>
    <VTooltip
      v-if="not"
      activator="parent"
      :text="not"
      :aria-label="not"
      :open-on-focus="true"
      :open-on-click="true"
      location="top"
      attach="main"
    />
  </v-btn>
</template>
