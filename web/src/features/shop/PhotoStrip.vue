<script setup lang="ts">
import type { Schema } from '@/api/client'
import { moment, text } from '@/words/words'

/** Photos with what was written to them; each opens in full. */
defineProps<{ attempt: string; photos: Schema['Photo'][]; droppable?: boolean }>()
const emit = defineEmits<{ drop: [id: string] }>()
</script>

<template>
  <ul v-if="photos.length" class="strip">
    <li v-for="p in photos" :key="p.id">
      <a :href="`/api/attempts/${attempt}/photos/${p.id}`" target="_blank" rel="noopener">
        <img :src="`/api/attempts/${attempt}/photos/${p.id}`" :alt="p.note || text('shop.photo')" loading="lazy" />
      </a>
      <span class="small">{{ p.note }}</span>
      <span class="small muted">{{ p.by }}, {{ moment(p.at) }}</span>
      <v-btn v-if="droppable" @click="emit('drop', p.id)">{{ text('shop.take-out') }}</v-btn>
    </li>
  </ul>
</template>

<style scoped>
.strip {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 12px;
}
li {
  display: grid;
  gap: 4px;
  align-content: start;
}
img {
  width: 100%;
  aspect-ratio: 4 / 3;
  object-fit: cover;
  border-radius: 8px;
  border: 1px solid var(--line-soft);
}
</style>
