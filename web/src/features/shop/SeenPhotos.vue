<script setup lang="ts">
import '@/words/shop'
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import { text } from '@/words/words'
import PhotoStrip from './PhotoStrip.vue'

/** What was photographed at a real engine, where anything was. */
const props = defineProps<{ attempt: string }>()
const photos = useQuery({
  queryKey: ['photos', props.attempt],
  queryFn: () => ask(api.GET('/api/attempts/{attempt}/photos', { params: { path: { attempt: props.attempt } } })),
})
</script>

<template>
  <section v-if="photos.data.value?.length" class="panel stack" :aria-label="text('shop.photos')">
    <h2>{{ text('shop.photos') }}</h2>
    <PhotoStrip :attempt="attempt" :photos="photos.data.value" />
  </section>
</template>
