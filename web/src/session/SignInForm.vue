<script setup lang="ts">
import { ref } from 'vue'
import { Refusal } from '@/api/client'
import { useSession } from './session'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'

const props = defineProps<{ name?: string }>()
const emit = defineEmits<{ done: [] }>()
const session = useSession()
const name = ref(props.name ?? '')
const password = ref('')
const busy = ref(false)
const refusal = ref<Refusal | null>(null)

async function go() {
  busy.value = true
  refusal.value = null
  try {
    await session.signIn(name.value, password.value)
    emit('done')
  } catch (e) {
    refusal.value = e as Refusal
    // Only a name or password that was refused is cleared: a server that is away has said nothing of it.
    if (refusal.value.status === 401) password.value = ''
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form @submit.prevent="go">
    <v-text-field
      v-model="name"
      :label="text('sign-in.name')"
      autocomplete="username"
      autocapitalize="none"
      required
      :readonly="!!props.name"
    />
    <v-text-field
      v-model="password"
      :label="text('sign-in.password')"
      type="password"
      autocomplete="current-password"
      required
    />
    <p v-if="refusal" class="refusal" role="alert">
      <ProblemText :of="refusal" />
    </p>
    <main-btn type="submit" :disabled="busy">{{ text(busy ? 'sign-in.busy' : 'sign-in.do') }}</main-btn>
  </form>
</template>

<style scoped>
form {
  display: grid;
  gap: 14px;
}
</style>
