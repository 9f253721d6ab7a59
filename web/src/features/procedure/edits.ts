import type { Schema } from '@/api/client'

type Procedure = Schema['Procedure']
type Step = Schema['ProcedureStep']
type Outcome = Schema['ProcedureOutcome']

/** An id for a new step: what it tests, numbered where that is taken. */
export function freshId(p: Procedure, test: string) {
  const taken = new Set(p.steps.map((s) => s.id))
  if (!taken.has(test)) return test
  let n = 2
  while (taken.has(`${test}-${n}`)) n++
  return `${test}-${n}`
}

/** A step that makes a test and goes on, whatever it says. */
export const newStep = (p: Procedure, test: string): Step => ({
  id: freshId(p, test),
  test,
  outcomes: [{ when: ['otherwise'], then: 'next' }],
})

/** Moves the step at one place to another, counted without it. */
export function moveStep(p: Procedure, from: number, to: number) {
  const [s] = p.steps.splice(from, 1)
  if (s) p.steps.splice(to, 0, s)
}

/** Takes an offered change. */
export function takeMove(p: Procedure, m: Schema['Move']) {
  const from = p.steps.findIndex((s) => s.id === m.step)
  if (m.kind === 'drop') {
    if (from >= 0) p.steps.splice(from, 1)
    return
  }
  const step = m.kind === 'add' ? m.added : p.steps.splice(from, 1)[0]
  if (!step) return
  const at = p.steps.findIndex((s) => s.id === m.before)
  p.steps.splice(at < 0 ? p.steps.length : at, 0, structuredClone(step))
}

/** The part of a reading that an outcome speaks of; empty for the first. */
export const partOf = (o: Outcome, test?: Schema['Test']) => (!o.part || o.part === test?.parts?.[0]?.id ? '' : o.part)

/** Where bands that were typed begin or end, each once, in order. */
export function edges(s: Step, part: string, test?: Schema['Test']): number[] {
  const all = (s.outcomes ?? []).filter((o) => partOf(o, test) === part).flatMap((o) => [o.from, o.to])
  return [...new Set(all.filter((v): v is number => v !== undefined))].sort((a, b) => a - b)
}

/** Moves an edge, and with it every band that begins or ends there. */
export function moveEdge(s: Step, part: string, from: number, to: number, test?: Schema['Test']) {
  for (const o of s.outcomes ?? []) {
    if (partOf(o, test) !== part) continue
    if (o.from === from) o.from = to
    if (o.to === from) o.to = to
  }
}

/** Parts a number's scale in two where no band of its own stands yet: under, and from there on. */
export function splitAt(s: Step, part: string, at: number) {
  const rest = (s.outcomes ?? []).find((o) => o.when?.includes('otherwise'))
  const under: Outcome = { ...(part ? { part } : {}), to: at, then: 'next' }
  s.outcomes = [under, ...(s.outcomes ?? []).filter((o) => o !== rest), rest ?? { when: ['otherwise'], then: 'next' }]
}

/** The remarks that are about a step, or about one of its outcomes, by their place; and those about the whole. */
export function remarksAt(all: Schema['Remark'][], step?: number) {
  return all.filter((r) => {
    const at = /^steps\[(\d+)\]/.exec(r.path)
    return step === undefined ? !at : Number(at?.[1]) === step
  })
}
