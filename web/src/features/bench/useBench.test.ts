import { createPinia, setActivePinia } from 'pinia'
import { effectScope, nextTick } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { laid, useBench } from './useBench'

const bench = (seq: number) => ({ id: 'a', seq })
type Sent = { client_id: string; after: number; event: { kind: string } }

/** A server that keeps events by client id, as the real one does. */
function server() {
  const kept: Sent[] = []
  const s = { kept, fail: 0, down: false, database: true, refuses: '', calls: 0 }
  globalThis.fetch = vi.fn(async (r: Request) => {
    s.calls++
    if (s.down) throw new TypeError('no connection')
    if (!s.database) return Response.json({ code: 'http.busy' }, { status: 503, headers: { 'Retry-After': '3' } })
    if (r.method === 'GET') return Response.json(bench(kept.length))
    const body = (await r.json()) as Sent
    if (!kept.some((k) => k.client_id === body.client_id)) {
      if (body.after !== kept.length)
        return Response.json({ code: 'http.bench-moved-on', bench: bench(kept.length) }, { status: 409 })
      if (s.refuses === (body.event as { reach?: string }).reach)
        return Response.json({ code: 'http.role' }, { status: 422 })
      kept.push(body)
    }
    if (s.fail > 0) {
      s.fail--
      throw new TypeError('connection lost after the server had taken it')
    }
    return Response.json(bench(kept.length))
  }) as typeof fetch
  return s
}

describe('the queue of acts', () => {
  let scope: ReturnType<typeof effectScope>
  const use = () => scope.run(() => useBench('a'))!
  beforeEach(() => {
    setActivePinia(createPinia())
    localStorage.clear()
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    scope = effectScope()
  })
  afterEach(() => {
    scope.stop()
    vi.useRealTimers()
  })
  const mark = (reach: string) => ({ kind: 'mark', reach }) as never

  it('does acts in order, each on the ledger it was made on', async () => {
    const s = server()
    const b = use()
    await b.load()
    await b.act(mark('tank'), mark('line'))
    expect(s.kept.map((k) => k.after)).toEqual([0, 1])
    expect(b.bench.value!.seq).toBe(2)
  })
  it('takes a double click as one act', async () => {
    const s = server()
    const b = use()
    await b.load()
    await Promise.all([b.act(mark('tank')), b.act(mark('tank'))])
    expect(s.kept).toHaveLength(1)
  })
  it('does what is pressed while an act is on its way, behind it', async () => {
    const s = server()
    const b = use()
    await b.load()
    await Promise.all([b.act(mark('tank'), mark('line')), b.act({ kind: 'wait', minutes: 1 })])
    expect(s.kept.map((k) => (k.event as { kind: string }).kind)).toEqual(['mark', 'mark', 'wait'])
    expect(b.busy.value).toBe(false)
  })
  it('sends again after a lost connection, and nothing is done twice', async () => {
    const s = server()
    const b = use()
    await b.load()
    s.fail = 1
    await b.act(mark('tank'))
    expect(b.offline.value).toBe(true)
    expect(b.queue.value).toHaveLength(1)
    await vi.advanceTimersByTimeAsync(2500)
    expect(s.kept).toHaveLength(1)
    expect(b.offline.value).toBe(false)
    expect(b.queue.value).toHaveLength(0)
  })
  it('lets acts wait in line while the server is away, and does each once and in order', async () => {
    const s = server()
    const b = use()
    await b.load()
    s.down = true
    await b.act(mark('tank'))
    await b.act(mark('line'))
    await b.act(mark('line')) // a double click
    await vi.advanceTimersByTimeAsync(60_000)
    expect(b.queue.value).toHaveLength(2)
    s.down = false
    await vi.advanceTimersByTimeAsync(2500)
    expect(s.kept.map((k) => (k.event as { reach?: string }).reach)).toEqual(['tank', 'line'])
    expect(b.queue.value).toHaveLength(0)
    expect(b.bench.value!.seq).toBe(2)
  })
  it('waits for as long as it is told while the database is away, and loses nothing', async () => {
    const s = server()
    const b = use()
    await b.load()
    s.database = false
    await b.act(mark('tank'))
    await vi.advanceTimersByTimeAsync(2500)
    expect([b.offline.value, b.queue.value.length, b.refusal.value, s.calls]).toEqual([true, 1, null, 2])
    s.database = true
    await vi.advanceTimersByTimeAsync(1000)
    expect(s.kept).toHaveLength(1)
    expect(b.offline.value).toBe(false)
  })
  it('sets an act aside that is refused, shows it, and does those behind it', async () => {
    const s = server()
    const b = use()
    await b.load()
    s.refuses = 'tank'
    await b.act(mark('tank'), mark('line'), mark('jets'))
    expect(s.kept.map((k) => (k.event as { reach?: string }).reach)).toEqual(['line', 'jets'])
    expect(b.aside.value).toEqual(mark('tank'))
    expect(b.refusal.value!.status).toBe(422)
    expect(b.queue.value).toHaveLength(0)
  })
  it('lays what changed over the bench, and takes away what is gone', () => {
    const was = { seq: 3, look: { test: 'jet-look' }, minutes: 4 } as never
    expect(laid(was, { seq: 4, look: null })).toEqual({ seq: 4, minutes: 4 })
  })
  it('goes on after a reload with what was not answered', async () => {
    const s = server()
    const b = use()
    await b.load()
    s.fail = 1
    await b.act(mark('tank'))
    scope.stop()
    scope = effectScope()
    const again = use()
    await again.load()
    await nextTick()
    await vi.advanceTimersByTimeAsync(10)
    expect(s.kept).toHaveLength(1)
    expect(again.queue.value).toHaveLength(0)
  })
  it('shows the present bench to a stale tab, and does not repeat its act', async () => {
    const s = server()
    const b = use()
    await b.load()
    s.kept.push({ client_id: 'other', after: 0, event: { kind: 'mark' } })
    await b.act(mark('tank'))
    expect(s.kept).toHaveLength(1)
    expect(b.bench.value!.seq).toBe(1)
    expect(b.notice.value).toContain('moved on')
    expect(b.queue.value).toHaveLength(0)
  })
})
