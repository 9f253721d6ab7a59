import { text, nameOf } from '@/words/words'
import type { Schema } from '@/api/client'
import type { Bench } from './useFloor'

/** Why somebody is wanted at a bench, the most pressing first; at-work and what follows want nobody. */
export const NEEDS = ['unsafe', 'asks', 'still', 'over', 'stopped', 'paused', 'at-work', 'not-begun', 'handed'] as const
export type Need = (typeof NEEDS)[number]

/** Those that somebody should go and see to. */
export const PRESSING: Need[] = ['unsafe', 'asks', 'still', 'over', 'stopped']

/** After so long without an act somebody is said to stand still. */
export const STILL_MIN = 10

const HANDED: Bench['stands'][] = ['marking', 'to-review', 'done', 'missed']
/** Minutes since the last act; nothing for a bench that has not begun or is given back. */
export function standsFor(b: Bench, now: number): number | undefined {
  if (!b.last_at || HANDED.includes(b.stands)) return
  return Math.floor((now - Date.parse(b.last_at)) / 60_000)
}

export function needOf(b: Bench, now: number): Need {
  if (HANDED.includes(b.stands)) return 'handed'
  if (b.stands === 'stopped') return 'stopped'
  if (b.unsafe) return 'unsafe'
  if (b.asks) return 'asks'
  if (b.paused) return 'paused'
  if ((standsFor(b, now) ?? 0) >= STILL_MIN) return 'still'
  if (b.stands === 'over') return 'over'
  return b.last_at ? 'at-work' : 'not-begun'
}

/** An act in few words: what was done, and what was written down of it. */
export function actWords(a: Schema['FloorAct']): string {
  const read = a.reading ? `${a.reading} ${a.unit ?? ''}`.trim() : a.word ? text(`word.${a.word}`) : ''
  switch (a.kind) {
    case 'take':
      return nameOf('test', a.test ?? '', 'title') + (read ? `: ${read}` : '')
    case 'repair':
      return text('line.repair', { repair: a.repair, reach: a.reach })
    case 'cover':
      return nameOf('cover', a.cover ?? '')
    case 'wait':
      return text('line.wait')
  }
  return nameOf('action', a.action ?? '')
}
