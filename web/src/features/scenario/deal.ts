import type { Schema } from '@/api/client'

/**
 * The jobs that a scenario and its equal variants come to: whoever has it is dealt them in
 * turn, so that neighbours differ. Without variants, or for one person, there is one job.
 * The ids are made of the first's, so that setting it twice sets it once.
 */
export function deal(spec: Schema['JobSpec'], variants: Schema['ScenarioForm'][]): Schema['JobSpec'][] {
  const people = spec.apprentices ?? []
  const all = [
    spec,
    ...variants.map((v, i) => ({
      ...spec,
      id: spec.id && nth(spec.id, i + 1),
      scenario: undefined,
      faults: v.faults,
      distractors: v.distractors,
      told: v.history,
      limit_minutes: v.limit_minutes,
      limit_money: v.limit_money,
    })),
  ]
  return all
    .map((s, i) => ({ ...s, giving: spec.id, apprentices: people.filter((_, k) => k % all.length === i) }))
    .filter((s, i) => i === 0 || s.apprentices.length > 0)
}
/** An id that follows from another: its last figures count on. */
function nth(id: string, n: number) {
  const tail = (parseInt(id.slice(-6), 16) + n) % 0x1000000
  return id.slice(0, -6) + tail.toString(16).padStart(6, '0')
}
