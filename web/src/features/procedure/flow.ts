import type { Schema } from '@/api/client'
import { places } from '@/words/words'

type Evaluation = Schema['Evaluation']

/** How a machine leaves the procedure: named at its part or reach, on its path only, wrongly, or not at all. */
export const kinds = ['right', 'path', 'wrong', 'open'] as const
export type Kind = (typeof kinds)[number]

const kindOf: Record<string, Kind> = {
  part: 'right',
  reach: 'right',
  sound: 'right',
  lateral: 'path',
  group: 'path',
  wrong_part: 'path',
  wrong: 'wrong',
  referred: 'open',
  dead_end: 'open',
  undetected: 'open',
}

/** What leaves at one step, by how right that is; and which faults, the most of them first. */
export type Turnout = { kind: Kind; share: number; faults: { id: string; share: number }[] }
export type Row = { id: string; comes: number; goesOn: number; turnouts: Turnout[] }
/** A way past the steps between two. */
export type Jump = { from: number; to: number; share: number }
export type Flow = { rows: Row[]; jumps: Jump[]; end: Row }

/** Shares less than this are of no machine. */
const NOTHING = 1e-9

/**
 * Lays an evaluation out as what flows from step to step and turns out at each. Shares
 * are of one; what comes to a step is what turns out there, goes on to the next, or
 * jumps. With faults named, only theirs.
 */
export function flowOf(e: Evaluation, only?: string[]): Flow {
  const at = new Map(e.steps.map((s, k) => [s.id, k]))
  const n = e.steps.length
  const blank = (id: string): Row => ({ id, comes: 0, goesOn: 0, turnouts: [] })
  const rows = e.steps.map((s) => blank(s.id))
  const end = blank('')
  const jumps = new Map<string, Jump>()
  for (const h of e.hypotheses) {
    if (only && !only.includes(h.fault)) continue
    for (const l of h.links) {
      const share = h.prior * l.p
      const to = rows[l.to] ?? end
      to.comes += share
      if (l.from < 0) continue
      if (l.to === l.from + 1) rows[l.from].goesOn += share
      else {
        const key = `${l.from} ${l.to}`
        const j = jumps.get(key) ?? { from: l.from, to: l.to, share: 0 }
        j.share += share
        jumps.set(key, j)
      }
    }
    for (const x of h.ends) {
      const row = at.has(x.step) ? rows[at.get(x.step)!] : end
      const kind = kindOf[x.level] ?? 'open'
      let out = row.turnouts.find((o) => o.kind === kind)
      if (!out) row.turnouts.push((out = { kind, share: 0, faults: [] }))
      const share = h.prior * x.p
      out.share += share
      const f = out.faults.find((y) => y.id === h.fault)
      if (f) f.share += share
      else out.faults.push({ id: h.fault, share })
    }
  }
  for (const r of [...rows, end]) {
    r.turnouts = kinds.flatMap((k) => r.turnouts.filter((o) => o.kind === k && o.share > NOTHING))
    for (const o of r.turnouts) o.faults.sort((a, b) => b.share - a.share)
  }
  const order = (a: Jump, b: Jump) => a.to - a.from - (b.to - b.from) || a.from - b.from
  return { rows, jumps: [...jumps.values()].filter((j) => j.share > NOTHING && j.to <= n).sort(order), end }
}

/** What a procedure comes to, by how right its ends are; sums to one. */
export function shares(totals: Schema['Totals']): Record<Kind, number> {
  const out = { right: 0, path: 0, wrong: 0, open: 0 }
  for (const [level, share] of Object.entries(totals.levels)) out[kindOf[level] ?? 'open'] += share
  return out
}

/** A share as so many of a hundred, as people say it. */
export const ofHundred = (share: number) => {
  const n = share * 100
  return n >= 9.95 || n < 0.05 ? String(Math.round(n)) : places(n, 1)
}

/** Lanes beside the ditch for ways past steps, so that none crosses another's: how far out each begins, by its width. */
export function lanes(jumps: Jump[], width: (share: number) => number, gap: number): number[] {
  const out: number[] = []
  jumps.forEach((j, i) => {
    let at = gap
    for (let k = 0; k < i; k++) {
      const o = jumps[k]
      if (Math.min(o.from, o.to) < Math.max(j.from, j.to) && Math.min(j.from, j.to) < Math.max(o.from, o.to))
        at = Math.max(at, out[k] + width(o.share) + gap)
    }
    out.push(at)
  })
  return out
}
