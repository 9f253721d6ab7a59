import { beforeEach, describe, expect, it, vi } from 'vitest'
import { createPinia, setActivePinia } from 'pinia'
import { effectScope, nextTick, ref } from 'vue'
import type { Schema } from '@/api/client'
import { edges, freshId, moveEdge, moveStep, newStep, remarksAt, splitAt, takeMove } from './edits'
import { flowOf, lanes, ofHundred, shares } from './flow'
import { useDraft } from './useDraft'
import { useEvaluation, type Spec } from './useEvaluation'
import { usePlan } from './usePlan'

type Procedure = Schema['Procedure']
const step = (id: string): Schema['ProcedureStep'] => ({
  id,
  test: id,
  outcomes: [{ when: ['otherwise'], then: 'next' }],
})
const page = (...ids: string[]): Procedure => ({
  id: 'p',
  title: 'P',
  revision: 1,
  families: ['f4-bowl'],
  steps: ids.map(step),
})
const ids = (p: Procedure) => p.steps.map((s) => s.id).join(' ')

/** A seeded chance, so that a test that fails fails again. */
function chance(seed: number) {
  return () => ((seed = (seed * 1103515245 + 12345) % 2 ** 31), seed / 2 ** 31)
}

/** Machines that go random ways through n steps, as an evaluation tells it. */
function wandered(n: number, next: () => number): Schema['Evaluation'] {
  const levels = ['part', 'lateral', 'wrong', 'referred', 'undetected']
  const hypotheses = Array.from({ length: 12 }, (_, f) => {
    const links = new Map<string, number>()
    const ends: Schema['Fate']['ends'] = []
    for (let m = 0; m < 8; m++) {
      let [from, at] = [-1, 0]
      for (;;) {
        const key = `${from} ${at}`
        links.set(key, (links.get(key) ?? 0) + 1 / 8)
        if (at === n || next() < 0.25) break
        ;[from, at] = [at, at + 1 + Math.floor(next() * (n - at))]
      }
      ends.push({ step: at === n ? '' : `s${at}`, level: levels[Math.floor(next() * 5)], p: 1 / 8, minutes: 1 })
    }
    return {
      fault: `f${f}`,
      prior: 1 / 12,
      minutes: 1,
      money: 0,
      worst_minutes: 1,
      path: [],
      ends,
      levels: {},
      links: [...links].map(([key, p]) => ({ from: Number(key.split(' ')[0]), to: Number(key.split(' ')[1]), p })),
      detected: [],
      isolated: [],
    }
  })
  const steps = Array.from({ length: n }, (_, i) => ({
    id: `s${i}`,
    reached: 0,
    bits: 0,
    detected: 0,
    isolated: 0,
    outcomes: [],
  }))
  const totals = {
    levels: {},
    expected_minutes: 1,
    worst_minutes: 1,
    expected_money: 0,
    mean_group: 1,
    largest_group: 1,
    lost: 0,
  }
  return { procedure: 'p', revision: 1, family: 'f4-bowl', hypotheses, steps, totals, findings: [] }
}

describe('the ditch', () => {
  it('loses no machine at any step: what comes turns out, goes on, or jumps', () => {
    for (let seed = 1; seed <= 25; seed++) {
      const next = chance(seed)
      const e = wandered(2 + (seed % 9), next)
      const f = flowOf(e)
      f.rows.forEach((r, k) => {
        const out = r.turnouts.reduce((s, o) => s + o.share, 0)
        const past = f.jumps.filter((j) => j.from === k).reduce((s, j) => s + j.share, 0)
        expect(r.comes).toBeCloseTo(out + r.goesOn + past, 9)
        for (const o of r.turnouts)
          expect(o.share).toBeCloseTo(
            o.faults.reduce((s, x) => s + x.share, 0),
            9,
          )
      })
      const all = [...f.rows, f.end].flatMap((r) => r.turnouts).reduce((s, o) => s + o.share, 0)
      expect(all).toBeCloseTo(1, 9)
      // The threads of single faults lie side by side in the whole.
      const parts = e.hypotheses.map((h) => flowOf(e, [h.fault]))
      f.rows.forEach((r, k) => expect(parts.reduce((s, p) => s + p.rows[k].comes, 0)).toBeCloseTo(r.comes, 9))
      // No way past crosses another's lane.
      const w = (share: number) => share * 100
      const at = lanes(f.jumps, w, 5)
      f.jumps.forEach((a, i) =>
        f.jumps.forEach((b, k) => {
          if (i >= k || a.from >= b.to || b.from >= a.to) return
          expect(at[i] + w(a.share) <= at[k] || at[k] + w(b.share) <= at[i]).toBe(true)
        }),
      )
    }
  })
  it('says shares of a hundred, and sums levels by how right they are', () => {
    expect([0.123, 0.0312, 0.0001, 0.9999].map(ofHundred)).toEqual(['12', '3.1', '0', '100'])
    const levels = {
      part: 0.5,
      reach: 0.1,
      sound: 0.05,
      lateral: 0.1,
      wrong_part: 0.05,
      wrong: 0.1,
      referred: 0.05,
      dead_end: 0.05,
    }
    const s = shares({ levels } as unknown as Schema['Totals'])
    expect(s.right).toBeCloseTo(0.65)
    expect(s.path).toBeCloseTo(0.15)
    expect(s.wrong).toBeCloseTo(0.1)
    expect(s.open).toBeCloseTo(0.1)
  })
})

describe('changes of a page', () => {
  it('move, add and leave out steps, and take what is offered', () => {
    const p = page('a', 'b', 'c', 'd')
    moveStep(p, 0, 2)
    expect(ids(p)).toBe('b c a d')
    takeMove(p, { kind: 'move', step: 'd', before: 'b', saves_minutes: 1, isolates: 0, wrong: 0 })
    expect(ids(p)).toBe('d b c a')
    takeMove(p, { kind: 'move', step: 'd', saves_minutes: 1, isolates: 0, wrong: 0 })
    expect(ids(p)).toBe('b c a d')
    takeMove(p, { kind: 'add', step: 'e', added: step('e'), before: 'a', saves_minutes: 1, isolates: 0, wrong: 0 })
    takeMove(p, { kind: 'drop', step: 'b', saves_minutes: 1, isolates: 0, wrong: 0 })
    expect(ids(p)).toBe('c e a d')
    expect(freshId(p, 'c')).toBe('c-2')
    expect(newStep(p, 'x').outcomes).toEqual([{ when: ['otherwise'], then: 'next' }])
  })
  it('move an edge with every band that ends or begins there', () => {
    const s: Schema['ProcedureStep'] = { id: 'g', test: 'g', outcomes: [{ when: ['otherwise'], then: 'next' }] }
    splitAt(s, '', 12)
    s.outcomes!.splice(1, 0, { from: 12, to: 20, then: 'next' })
    moveEdge(s, '', 12, 10)
    expect(s.outcomes!.map((o) => [o.from, o.to])).toEqual([
      [undefined, 10],
      [10, 20],
      [undefined, undefined],
    ])
    expect(edges(s, '')).toEqual([10, 20])
    expect(edges(s, 'hiss')).toEqual([])
  })
  it('find the remarks of a step, and those of the whole', () => {
    const all = ['steps[1].outcomes[0]', 'steps[1]', 'steps[11]', 'proof'].map((path) => ({
      path,
      code: 'x',
      serious: false,
    }))
    expect([remarksAt(all, 1).length, remarksAt(all, 11).length, remarksAt(all).map((r) => r.path)]).toEqual([
      2,
      1,
      ['proof'],
    ])
  })
})

/** A server that keeps one procedure and counts its changes. */
function server() {
  const s = {
    changes: 1,
    draft: page('a', 'b', 'c'),
    away: false,
    copies: 0,
    evaluations: [] as string[],
    answer: async () => {},
  }
  const line = () => ({
    id: 'x',
    title: s.draft.title,
    owner: 'T',
    machine_id: 'm',
    machine_name: 'M',
    family: 'f4-bowl',
    complaint: '',
    changes: s.changes,
    changed_at: '',
    archived: false,
    given_out: [],
  })
  const file = () => ({ line: line(), draft: JSON.parse(JSON.stringify(s.draft)) })
  globalThis.fetch = (async (r: Request) => {
    if (s.away) throw new TypeError('away')
    const url = new URL(r.url)
    const body = r.method === 'GET' ? undefined : await r.json()
    if (url.pathname === '/api/evaluations') {
      s.evaluations.push(body.procedure.title)
      await s.answer()
      if (r.signal.aborted) throw new DOMException('aborted', 'AbortError')
      return Response.json({
        findings: [],
        seen: [],
        evaluation: { ...wandered(3, chance(1)), procedure: body.procedure.title },
      })
    }
    if (url.pathname === '/api/better-orders') return Response.json([])
    if (r.method === 'POST') return (s.copies++, Response.json(file(), { status: 201 }))
    if (r.method === 'PUT') {
      if (body.changes !== s.changes)
        return Response.json(
          { code: 'http.procedure-changed-since-you-opened', problem: '', mend: '', now: file() },
          { status: 409 },
        )
      s.changes++
      s.draft = body.draft
    }
    return Response.json(file())
  }) as typeof fetch
  return s
}

describe('a draft', () => {
  beforeEach(() => {
    setActivePinia(createPinia())
    localStorage.clear()
    vi.useFakeTimers()
    return () => vi.useRealTimers()
  })
  const open = async () => {
    const d = effectScope().run(() => useDraft('x'))!
    await d.load()
    return d
  }
  it('comes back to the same page by as many Undos as there were changes, in any order', async () => {
    server()
    const d = await open()
    const first = JSON.stringify(d.work.value)
    const next = chance(3)
    const seen = [first]
    for (let i = 0; i < 40; i++) {
      const n = d.work.value!.draft.steps.length
      const [from, to] = [Math.floor(next() * n), Math.floor(next() * n)]
      if (next() < 0.3) d.edit((p) => p.steps.splice(to, 0, newStep(p, `t${i % 5}`)))
      else if (next() < 0.2 && n > 1) d.edit((p) => p.steps.splice(from, 1))
      else d.edit((p) => moveStep(p, from, to))
      seen.push(JSON.stringify(d.work.value))
    }
    for (let i = seen.length - 2; i >= 0; i--) {
      d.undo()
      expect(JSON.stringify(d.work.value)).toBe(seen[i])
    }
    expect(d.canUndo.value).toBe(false)
    for (let i = 1; i < seen.length; i++) d.redo()
    expect(JSON.stringify(d.work.value)).toBe(seen.at(-1))
  })
  it('takes what is typed into one field as one change', async () => {
    server()
    const d = await open()
    for (const t of ['N', 'Ne', 'New']) d.edit((p) => (p.title = t), 'title')
    d.edit((p) => moveStep(p, 0, 1))
    d.undo()
    expect(d.work.value!.draft.title).toBe('New')
    d.undo()
    expect(d.work.value!.draft.title).toBe('P')
  })
  it('is kept by the server a moment later, and on the device until then', async () => {
    const s = server()
    const d = await open()
    s.away = true
    d.edit((p) => (p.title = 'Typed'))
    await vi.advanceTimersByTimeAsync(1000)
    expect([d.kept.value, s.draft.title]).toEqual(['here', 'P'])
    s.away = false
    const again = await open() // after a reload
    await vi.advanceTimersByTimeAsync(1000)
    expect([again.kept.value, s.draft.title, s.changes]).toEqual(['saved', 'Typed', 2])
  })
  it('shows what somebody else has kept, and loses neither', async () => {
    const s = server()
    const d = await open()
    s.changes = 5
    s.draft = { ...s.draft, title: 'Theirs' }
    d.edit((p) => (p.title = 'Mine'))
    await vi.advanceTimersByTimeAsync(1000)
    expect(d.kept.value).toBe('moved')
    d.takeTheirs()
    expect(d.work.value!.draft.title).toBe('Theirs')
    d.undo()
    expect(d.work.value!.draft.title).toBe('Mine')
    await vi.advanceTimersByTimeAsync(1000)
    expect([d.kept.value, s.draft.title, s.changes]).toEqual(['saved', 'Mine', 6])
  })
})

describe('what it comes to', () => {
  it('is asked one at a time, the newest next, and never told out of order', async () => {
    setActivePinia(createPinia())
    const s = server()
    const gates: (() => void)[] = []
    s.answer = () => new Promise((go) => gates.push(go))
    const title = ref('one')
    const spec = (): Spec => ({ machine_id: 'm', complaint: '', procedure: { ...page('a'), title: title.value } })
    const e = effectScope().run(() => useEvaluation(spec))!
    await vi.waitFor(() => expect(gates).toHaveLength(1))
    for (const t of ['two', 'three', 'four']) {
      title.value = t
      await nextTick()
    }
    gates[0]()
    await vi.waitFor(() => expect(gates).toHaveLength(2))
    expect(e.whole.value!.procedure).toBe('one')
    gates[1]()
    await vi.waitFor(() => expect(e.whole.value!.procedure).toBe('four'))
    expect(s.evaluations).toEqual(['one', 'four'])
  })
})

describe('a page that is looked for', () => {
  const wanted = { machine_id: 'm', complaint: 'no-start', steps: 3 }
  /** An answer in pieces that do not end where lines do. */
  function answers(pieces: string[], status = 200) {
    globalThis.fetch = (async (_: string, o: RequestInit) => {
      const stream = new ReadableStream<Uint8Array>({
        async start(c) {
          for (const p of pieces) {
            await new Promise((go) => setTimeout(go))
            if (o.signal?.aborted) return c.error(new DOMException('aborted', 'AbortError'))
            c.enqueue(new TextEncoder().encode(p))
          }
          c.close()
        },
      })
      return new Response(stream, { status })
    }) as typeof fetch
  }
  beforeEach(() => setActivePinia(createPinia()))
  it('says how far it is, line by line, and is the last', async () => {
    answers(['{"done":0.1}\n{"do', 'ne":0.6}\n', `{"procedure":${JSON.stringify(page('a'))}}\n`])
    const p = effectScope().run(() => usePlan())!
    const far: number[] = []
    const going = p.plan(wanted)
    while (p.done.value) {
      far.push(p.done.value)
      await new Promise((go) => setTimeout(go))
    }
    expect(ids((await going)!)).toBe('a')
    expect(far).toContain(0.6)
    expect(far).toEqual(far.toSorted((a, b) => a - b))
  })
  it('is nothing where it is stopped, and says what kept it from coming', async () => {
    answers(['{"done":0.1}\n', '{"done":0.2}\n', '{"done":0.3}\n'])
    const p = effectScope().run(() => usePlan())!
    const going = p.plan(wanted)
    p.stop()
    expect([await going, p.trouble.value, p.done.value]).toEqual([undefined, null, 0])
    await p.plan(wanted) // cut short: the last line never comes
    expect(p.trouble.value!.away).toBe(true)
    answers(['{"code":"http.busy","problem":"x","mend":"y"}'], 503)
    await p.plan(wanted)
    expect(p.trouble.value!.status).toBe(503)
  })
})
