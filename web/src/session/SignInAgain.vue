<script setup lang="ts">
import SignInForm from './SignInForm.vue'
import { useSession } from './session'

const session = useSession()
</script>

<template>
  <v-dialog model-value persistent max-width="420">
    <div class="panel" role="document">
      <h2>Your session has ended</h2>
      <p class="muted">What you typed is still here. Sign in and go on where you were.</p>
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
