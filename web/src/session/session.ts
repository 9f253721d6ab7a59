import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, ask, Refusal, type Schema } from '@/api/client'

/** Who is signed in on this device. */
export const useSession = defineStore('session', () => {
  const me = ref<Schema['Person'] | null>(null)
  /** The session ended while somebody was at work: ask for the password in place. */
  const ended = ref(false)
  let asked: Promise<void> | null = null

  const home = computed(() => (me.value?.role === 'instructor' ? '/yard' : '/jobs'))

  /** Asks the server once who is signed in. */
  function know() {
    return (asked ??= ask(api.GET('/api/me'))
      .then((p) => void (me.value = p))
      .catch(() => void (me.value = null)))
  }

  async function signIn(name: string, password: string) {
    const p = await ask(api.POST('/api/session', { body: { name, password } }))
    if (me.value && me.value.id !== p.id && ended.value) {
      location.assign('/') // somebody else: nothing of the first may stay on the screen
      return
    }
    me.value = p
    ended.value = false
    asked = Promise.resolve()
  }

  async function signOut() {
    await ask(api.DELETE('/api/session')).catch(() => undefined)
    me.value = null
    asked = Promise.resolve()
  }

  /** Tells whether a refusal means that the session ended, and remembers it. */
  function noticed(e: unknown) {
    if (e instanceof Refusal && e.status === 401 && me.value) ended.value = true
    return ended.value
  }

  return { me, ended, home, know, signIn, signOut, noticed }
})
