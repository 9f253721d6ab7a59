<script setup lang="ts">
import { useRoute, useRouter } from 'vue-router'
import LanguageBtn from '@/session/LanguageBtn.vue'
import SignInForm from '@/session/SignInForm.vue'
import { useSession } from '@/session/session'
import { text } from '@/words/words'

const session = useSession()
const route = useRoute()
const router = useRouter()

async function done() {
  const back = String(route.query.back ?? '')
  await router.push(back.startsWith('/') && !back.startsWith('//') && back !== '/' ? back : session.home)
}
</script>

<template>
  <div class="gate">
    <section class="panel">
      <svg class="ditch" viewBox="0 0 400 88" aria-hidden="true" preserveAspectRatio="none">
        <rect width="400" height="88" fill="var(--dry)" />
        <rect width="236" height="88" fill="var(--water-2)" />
        <g fill="none" stroke="#fff" stroke-opacity="0.5" stroke-width="2">
          <path
            v-for="y in [16, 32, 48, 64, 80]"
            :key="y"
            :d="`M0 ${y}q15-7 29.5 0t29.5 0 29.5 0 29.5 0 29.5 0 29.5 0 29.5 0 29.5 0`"
          />
        </g>
        <rect x="232" width="9" height="88" fill="var(--ink)" />
        <rect x="222" width="29" height="12" rx="3" fill="var(--ink)" />
      </svg>
      <h1>Zan<b>j</b>ero</h1>
      <p class="muted lead">{{ text('sign-in.lead') }}</p>
      <SignInForm @done="done" />
      <p class="small muted">
        {{ text('sign-in.defer') }}
      </p>
      <p><LanguageBtn /></p>
    </section>
  </div>
</template>

<style scoped>
.gate {
  min-height: 100vh;
  display: grid;
  place-items: center;
  padding: 20px;
}
.panel {
  width: min(420px, 100%);
  padding: 0 28px 24px;
  overflow: hidden;
  display: grid;
  gap: 12px;
}
.ditch {
  width: calc(100% + 56px);
  height: 88px;
  margin: 0 -28px 8px;
}
h1 {
  font-size: 42px;
}
h1 b {
  color: var(--link);
}
.lead {
  margin-bottom: 6px;
}
</style>
