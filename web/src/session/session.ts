import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, ask, forget, Refusal, type Schema } from '@/api/client'
import { adopt, speak, type Language } from '@/words/i18n'

/** Who is signed in on this device. */
export const useSession = defineStore('session', () => {
  const me = ref<Schema['Person'] | null>(null)
  /** The session ended while somebody was at work: ask for the password in place. */
  const ended = ref(false)
  /** The server has not yet been able to say who is signed in. */
  const away = ref(false)
  let asked: Promise<void> | null = null

  const homes: Record<string, string> = { instructor: '/yard', assessor: '/reviews', coordinator: '/people' }
  const home = computed(() => homes[me.value?.role ?? ''] ?? '/jobs')

  /** Asks the server once who is signed in; while it is away nobody has said that this device is signed out. */
  function know() {
    return (asked ??= find())
  }
  async function find(): Promise<void> {
    try {
      me.value = await ask(api.GET('/api/me'))
      adopt(me.value.language)
      away.value = false
    } catch (e) {
      const r = e as Refusal
      me.value = null
      away.value = r.away
      if (!r.away) return
      await new Promise((go) => setTimeout(go, 1000 * Math.max(2, r.retryAfter)))
      return find()
    }
  }

  async function signIn(name: string, password: string) {
    const p = await ask(api.POST('/api/session', { body: { name, password } }))
    if (me.value && me.value.id !== p.id && ended.value) {
      forget()
      location.assign('/') // somebody else: nothing of the first may stay on the screen
      return
    }
    me.value = p
    adopt(p.language)
    ended.value = false
    asked = Promise.resolve()
  }

  async function changePassword(old: string, chosen: string) {
    me.value = await ask(api.PUT('/api/me/password', { body: { old, new: chosen } }))
  }

  /** Keeps the language that is chosen, for every device of whoever is signed in, and shows the page in it. */
  async function read(language: Language) {
    if (me.value) await ask(api.PUT('/api/me/language', { body: { language } })).catch(() => undefined)
    speak(language)
  }

  async function signOut() {
    await ask(api.DELETE('/api/session')).catch(() => undefined)
    forget()
    me.value = null
    asked = Promise.resolve()
  }

  /** Tells whether a refusal means that the session ended, and remembers it. */
  function noticed(e: unknown) {
    if (e instanceof Refusal && e.status === 401 && me.value) ended.value = true
    return ended.value
  }

  return { me, ended, away, home, know, signIn, changePassword, read, signOut, noticed }
})
