import type { Schema } from '@/api/client'
import { figure, nameOf, text } from '@/words/words'

/** The set-up that a step teaches, in the words of the bench: a lever by its ends, a figure with its unit. */
export function taught(s: { setup?: Record<string, unknown> }, family: Schema['Family']) {
  return Object.entries(s.setup ?? {})
    .map(([id, v]) => {
      const u = family.setups.find((x) => x.id === id)
      const lever = family.controls.find((c) => c.id === id && c.lever)
      if (lever && (v === 0 || v === 1)) return `${lever.name.toLowerCase()} ${v === 0 ? lever.low : lever.high}`
      const label = u?.options?.find((o) => o.value === v)?.label
      if (label) return label
      const [what, unit = ''] = (u?.name ?? id.replaceAll('_', ' ')).split(', ') // "dose, ml" is a dose in ml
      return `${what} ${typeof v === 'number' ? figure(v) : v} ${unit}`.trim()
    })
    .join(', ')
}

/** What an outcome that ends a procedure comes to: what is found, or why one stops. */
export function leadsTo(o: Schema['ProcedureOutcome']) {
  if (o.then === 'stop') return text('page.stops', { why: o.why ?? '' })
  return [
    ...(o.faults ?? []).map((f) => nameOf('fault', f)),
    ...(o.reach ? [nameOf('reach', o.reach)] : []),
    ...(o.lateral ? [text('print.path', { lateral: o.lateral })] : []),
  ].join(text('print.or'))
}
