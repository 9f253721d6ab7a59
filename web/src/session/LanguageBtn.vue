<script setup lang="ts">
import { language, LANGUAGES, type Language } from '@/words/i18n'
import { useSession } from './session'

/** The other languages, each under its own name. */
const session = useSession()
const others = (Object.keys(LANGUAGES) as Language[]).filter((l) => l !== language)
</script>

<template>
  <v-btn v-for="l in others" :key="l" variant="text" :lang="l" @click="session.read(l)">{{ LANGUAGES[l] }}</v-btn>
</template>
