import { flushPromises } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import { forget } from '@/api/client'
import { useSession } from '@/session/session'
import { server, show } from '@/testing/stage'
import SignIn from './SignIn.vue'

const ines = { id: 'p', name: 'ines', display_name: 'Ines', role: 'apprentice' }
beforeEach(() => {
  forget()
  localStorage.clear()
  setActivePinia(createPinia())
  document.body.innerHTML = ''
})

describe('signing in', () => {
  it('sends name and password, and goes on', async () => {
    const asked = server({ 'POST /api/session': { body: ines } })
    const w = await show(SignIn)
    await w.get('input[autocomplete="username"]').setValue('ines')
    await w.get('input[type="password"]').setValue('ditch-07')
    await w.get('form').trigger('submit')
    await flushPromises()
    expect(asked[0].body).toEqual({ name: 'ines', password: 'ditch-07' })
    expect(useSession().me?.name).toBe('ines')
  })
  it('keeps the name, and the password too where the server was only away', async () => {
    for (const [status, code, left] of [
      [401, 'http.name-password-do-not-match', ''],
      [503, 'http.database-away', 'ditch-07'],
    ] as const) {
      server({ 'POST /api/session': { status, body: { code } } })
      const w = await show(SignIn)
      await w.get('input[autocomplete="username"]').setValue('ines')
      await w.get('input[type="password"]').setValue('ditch-07')
      await w.get('form').trigger('submit')
      await flushPromises()
      expect(w.get('.refusal').text()).not.toBe('')
      expect((w.get('input[autocomplete="username"]').element as HTMLInputElement).value).toBe('ines')
      expect((w.get('input[type="password"]').element as HTMLInputElement).value).toBe(left)
    }
  })
})
