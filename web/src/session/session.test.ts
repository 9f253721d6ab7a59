import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { api, ask, Refusal } from '@/api/client'
import { useLocalStorage } from './useLocalStorage'
import { useSession } from './session'

const answer = (status: number, body: unknown) => {
  globalThis.fetch = vi.fn(async () => Response.json(body, { status })) as typeof fetch
}
beforeEach(() => {
  setActivePinia(createPinia())
  localStorage.clear()
})

describe('asking the server', () => {
  it('turns a refusal into what is wrong and how to mend it', async () => {
    answer(422, { problem: 'no fault is hidden', mend: 'hide one', all: [{ path: 'faults', problem: 'p', mend: 'm' }] })
    const r = await ask(api.GET('/api/me')).catch((e) => e as Refusal)
    expect(r).toBeInstanceOf(Refusal)
    expect([(r as Refusal).status, (r as Refusal).problem, (r as Refusal).mend, (r as Refusal).all.length]).toEqual([
      422,
      'no fault is hidden',
      'hide one',
      1,
    ])
  })
  it('knows a lost connection from a refusal', async () => {
    globalThis.fetch = vi.fn(async () => {
      throw new TypeError('down')
    }) as typeof fetch
    const r = (await ask(api.GET('/api/me')).catch((e) => e)) as Refusal
    expect(r.offline).toBe(true)
  })
})

describe('the session', () => {
  const ann = { id: '1', name: 'ann', display_name: 'Ann', role: 'apprentice' }
  it('asks once who is signed in, and sends each role home', async () => {
    answer(200, ann)
    const s = useSession()
    await Promise.all([s.know(), s.know()])
    expect(globalThis.fetch).toHaveBeenCalledTimes(1)
    expect(s.home).toBe('/jobs')
    s.me = { ...s.me!, role: 'instructor' }
    expect(s.home).toBe('/yard')
  })
  it('notices a session that ended at work, but not a stranger', async () => {
    const s = useSession()
    expect(s.noticed(new Refusal(401, '', ''))).toBe(false)
    answer(200, ann)
    await s.signIn('ann', 'x')
    expect(s.noticed(new Refusal(403, '', ''))).toBe(false)
    expect(s.noticed(new Refusal(401, '', ''))).toBe(true)
    await s.signIn('ann', 'x')
    expect(s.ended).toBe(false)
  })
})

describe('what is kept on the device', () => {
  it('outlives a reload and forgets what is cleared', () => {
    const a = useLocalStorage<{ n: number } | null>('k', null)
    a.value = { n: 1 }
    a.value.n = 2
    expect(useLocalStorage('k', { n: 0 }).value.n).toBe(2)
    a.value = null
    expect(useLocalStorage('k', { n: 7 }).value.n).toBe(7)
  })
  it('begins anew where what was kept cannot be read', () => {
    localStorage.setItem('zanjero.k', '{')
    expect(useLocalStorage('k', 3).value).toBe(3)
  })
})
