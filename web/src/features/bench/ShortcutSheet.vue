<script setup lang="ts">
import { text } from '@/words/words'

const open = defineModel<boolean>({ required: true })
const keys = [
  'board',
  'arrows',
  'marks',
  'through',
  'undo',
  'find',
  'instrument',
  'reading',
  'controls',
  'ledger',
  'aids',
  'sheet',
]
</script>

<template>
  <v-dialog v-model="open" max-width="520" :aria-label="text('shortcut.name')">
    <div class="panel sheet">
      <h2>{{ text('shortcut.name') }}</h2>
      <dl>
        <template v-for="k in keys" :key="k">
          <dt class="figure">{{ text(`shortcut.${k}-key`) }}</dt>
          <dd>{{ text(`shortcut.${k}`) }}</dd>
        </template>
      </dl>
      <v-btn @click="open = false">{{ text('shortcut.close') }}</v-btn>
    </div>
  </v-dialog>
</template>

<style scoped>
.sheet {
  padding: 20px 22px;
  display: grid;
  gap: 12px;
}
dl {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 8px;
  margin: 0;
}
dd {
  margin: 0;
}
</style>
