<script setup lang="ts">
import '@/words/office'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Refusal } from '@/api/client'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useSession } from '@/session/session'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'

/** A password of one's own, asked for before anything else where the first was printed on a sheet. */
const session = useSession()
const router = useRouter()
const printed = session.me?.must_change ?? false
const old = ref('')
const chosen = ref('')
const again = ref('')
const busy = ref(false)
const kept = ref(false)
const refusal = ref<Refusal | null>(null)
const not = computed(() => (chosen.value !== again.value ? text('password.differ') : ''))

async function keep() {
  busy.value = true
  refusal.value = null
  try {
    await session.changePassword(old.value, chosen.value)
    kept.value = true
    if (printed) await router.push(session.home)
  } catch (e) {
    if (!session.noticed(e)) refusal.value = e as Refusal
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="page">
    <section class="panel stack">
      <h1>{{ text('title.password') }}</h1>
      <p v-if="printed">{{ text('password.why') }}</p>
      <form class="stack" @submit.prevent="not || keep()">
        <input type="text" autocomplete="username" :value="session.me?.name" hidden readonly />
        <v-text-field
          v-model="old"
          type="password"
          autocomplete="current-password"
          :label="text(printed ? 'password.old' : 'password.old-own')"
          hide-details
          required
        />
        <v-text-field
          v-model="chosen"
          type="password"
          autocomplete="new-password"
          :label="text('password.new')"
          :hint="text('password.rules')"
          persistent-hint
          required
        />
        <v-text-field
          v-model="again"
          type="password"
          autocomplete="new-password"
          :label="text('password.again')"
          hide-details
          required
        />
        <p v-if="refusal" class="refusal" role="alert"><ProblemText :of="refusal" /></p>
        <p v-if="kept && !printed" role="status">{{ text('password.kept') }}</p>
        <WhyBtn main type="submit" :not="not" :busy="busy">{{ text('password.keep') }}</WhyBtn>
      </form>
    </section>
  </div>
</template>

<style scoped>
.panel {
  max-width: 520px;
  margin: 24px auto;
  padding: 22px;
}
.panel h1 {
  margin-bottom: 8px;
}
</style>
