import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { api, ask, forget, lost, Refusal } from '@/api/client'
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
    const coded = { path: 'value', code: 'setup.out-of-range', params: { value: 3, low: 0.5, high: 2.25 } }
    answer(422, { ...coded, problem: 'drei', mend: 'vier', all: [coded] })
    const r = (await ask(api.GET('/api/me')).catch((e) => e)) as Refusal
    expect([r.status, r.what, r.mend, r.all]).toEqual([
      422,
      '3 is out of range',
      'write a number from 0.5 to 2.25',
      [coded],
    ])
  })
  it('falls back on what the server says where the page does not know the code', async () => {
    answer(409, { code: 'of.tomorrow', problem: 'a new thing', mend: 'do so' })
    const r = (await ask(api.GET('/api/me')).catch((e) => e)) as Refusal
    expect([r.what, r.mend, r.away]).toEqual(['a new thing', 'do so', false])
  })
  it('remembers whether the last question had an answer', async () => {
    const told = async (status: number) => {
      if (status) answer(status, {})
      else globalThis.fetch = vi.fn(() => Promise.reject(new TypeError('cut'))) as typeof fetch
      await ask(api.GET('/api/me')).catch(() => undefined)
      return lost.value
    }
    expect([await told(0), await told(200), await told(503), await told(404)]).toEqual([true, false, true, false])
  })
  it('is not sent again what has not changed', async () => {
    const asked: (string | null)[] = []
    globalThis.fetch = vi.fn(async (r: Request) => {
      asked.push(r.headers.get('If-None-Match'))
      const same = r.headers.get('If-None-Match') === 'W/"1"'
      return same ? new Response(null, { status: 304 }) : Response.json({ n: 1 }, { headers: { ETag: 'W/"1"' } })
    }) as typeof fetch
    expect(await ask(api.GET('/api/machines'))).toEqual({ n: 1 })
    expect(await ask(api.GET('/api/machines'))).toEqual({ n: 1 })
    forget()
    await ask(api.GET('/api/machines'))
    expect(asked).toEqual([null, 'W/"1"', null])
  })
  it('knows a server that could not from one that said no', async () => {
    globalThis.fetch = vi.fn(async () =>
      Response.json({ code: 'http.busy' }, { status: 503, headers: { 'Retry-After': '4' } }),
    ) as typeof fetch
    const r = (await ask(api.GET('/api/me')).catch((e) => e)) as Refusal
    expect([r.away, r.retryAfter]).toEqual([true, 4])
  })
  it('knows a lost connection from a refusal', async () => {
    globalThis.fetch = vi.fn(async () => {
      throw new TypeError('down')
    }) as typeof fetch
    const r = (await ask(api.GET('/api/me')).catch((e) => e)) as Refusal
    expect([r.away, r.status]).toEqual([true, 0])
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
  it('does not take a server that is away for a sign-out', async () => {
    vi.useFakeTimers()
    answer(503, { code: 'http.busy' })
    const s = useSession()
    const known = s.know()
    await vi.advanceTimersByTimeAsync(100)
    expect([s.away, s.me]).toEqual([true, null])
    answer(200, ann)
    await vi.advanceTimersByTimeAsync(3000)
    await known
    expect([s.away, s.me!.name]).toEqual([false, 'ann'])
    vi.useRealTimers()
  })
  it('notices a session that ended at work, but not a stranger', async () => {
    const s = useSession()
    expect(s.noticed(new Refusal(401, {}))).toBe(false)
    answer(200, ann)
    await s.signIn('ann', 'x')
    expect(s.noticed(new Refusal(403, {}))).toBe(false)
    expect(s.noticed(new Refusal(401, {}))).toBe(true)
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
