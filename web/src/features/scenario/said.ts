import type { Schema } from '@/api/client'
import { has, nameOf, text } from '@/words/words'

/** What a step showed: a word in words, or a figure as it is. */
export const outcome = (s: Schema['WayStep']) =>
  s.outcome && has(`word.${s.outcome}`) ? text(`word.${s.outcome}`) : (s.outcome ?? '')

/** Faults in one line. */
export const faults = (ids: string[]) => ids.map((id) => nameOf('fault', id)).join(' + ')

/** How far gone a fault is, where that is a matter of degree. */
export const far = (f: { id: string; severity?: number }) =>
  nameOf('fault', f.id) + (f.severity && f.severity < 1 ? ` ${Math.round(f.severity * 100)} %` : '')

/** A way in which time has a part. */
export function timeEffect(id: string) {
  const [what, test] = id.split('.')
  return test ? text('scene.hidden-by', { test }) : text(`scene.${what}`)
}

/** Conditions whose neglect changes a reading on the way. */
export const traps = (ids: string[]) => ids.map((id) => nameOf('condition', id, 'met')).join(', ')
