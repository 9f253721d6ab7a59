<script setup lang="ts">
import SignInForm from './SignInForm.vue'
import { useSession } from './session'
import { text } from '@/words/words'

const session = useSession()
</script>

<template>
  <v-dialog model-value persistent max-width="420">
    <div class="panel" role="document">
      <h2>{{ text('sign-in.ended') }}</h2>
      <p class="muted">{{ text('sign-in.still-here') }}</p>
      <SignInForm :name="session.me?.name" />
    </div>
  </v-dialog>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 12px;
  padding: 22px;
}
</style>
