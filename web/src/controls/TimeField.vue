<script setup lang="ts">
/** A date with a time, by the clock here; kept as ISO 8601 in UTC, undefined for none. */
defineProps<{ label: string }>()
const at = defineModel<string>()

function local(iso?: string) {
  if (!iso) return ''
  const d = new Date(iso)
  return new Date(d.getTime() - d.getTimezoneOffset() * 60_000).toISOString().slice(0, 16)
}
const set = (v: string) => (at.value = v ? new Date(v).toISOString() : undefined)
</script>

<template>
  <v-text-field
    type="datetime-local"
    density="compact"
    persistent-placeholder
    :label="label"
    :model-value="local(at)"
    @update:model-value="set"
  />
</template>
