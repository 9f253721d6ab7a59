import type { Schema } from '@/api/client'

type Film = Schema['Film']
type Turn = Schema['Turn']

/** Values of a cycle are so many degrees apart. */
export const STEP = 10

/** Where the crank of a film's machine is at a moment of the second that is looked at. */
export interface Moment {
  turn: Turn
  /** Degrees of the cycle, and how many cycles of the second are over. */
  degree: number
  cycles: number
  /** Its charge burns in this cycle. */
  fires: boolean
}

/** The moment of a frame at a part of its second, 0 to 1; undefined where the crank stands. */
export function momentOf(film: Film, frame: Schema['Frame'], second: number): Moment | undefined {
  const turn = film.turns[frame.turn]
  if (!turn || frame.rpm <= 0) return undefined
  const turned = 6 * frame.rpm * second // 6 degrees a second for each turn a minute
  const cycles = Math.floor(turned / film.degrees)
  return {
    turn,
    degree: turned - cycles * film.degrees,
    cycles,
    fires: turn.beats[cycles % turn.beats.length] === '1',
  }
}

/** The value of a cycle's list at a degree, between two of its values by a straight line. */
export function valueAt(list: number[], degree: number): number {
  const x = degree / STEP
  const i = Math.floor(x) % list.length
  const to = list[(i + 1) % list.length]
  return list[i] + (to - list[i]) * (x - Math.floor(x))
}

/** How far the piston is down from its top, 0 to 1, on a crank whose rod is long. */
export const down = (film: Film, degree: number) => (1 - Math.cos(((degree - film.top) * Math.PI) / 180)) / 2

export type Stroke = 'inlet' | 'compression' | 'power' | 'exhaust' | 'filling'

/** What a degree of the cycle is called. */
export function strokeOf(film: Film, m: Moment): Stroke {
  if (film.degrees === 720) return (['inlet', 'compression', 'power', 'exhaust'] as const)[Math.floor(m.degree / 180)]
  if (valueAt(m.turn.transfer!, m.degree) > 0) return 'filling'
  if (valueAt(m.turn.exhaust, m.degree) > 0) return 'exhaust'
  return m.degree < film.top ? 'compression' : 'power'
}

/** Degrees after the nearest top; before it they are less than nought. */
export const fromTop = (film: Film, degree: number) => Math.round(((degree - film.top + 540) % 360) - 180)

/** How much of a whole cycle's flow has gone through by a degree, 0 to 1: it flows while the way stands open. */
export function passed(list: number[], degree: number): number {
  const all = list.reduce((a, b) => a + b, 0)
  if (!all) return 0
  let sum = 0
  for (let i = 0; i * STEP < degree; i++) sum += list[i] * Math.min(1, degree / STEP - i)
  return sum / all
}

/** How long the spark is drawn, degrees. */
const SPARKS = 14
/** The spark comes once a turn: a magneto knows no strokes. */
export function sparking(m: Moment): boolean {
  const after = (m.degree - m.turn.spark_at + 720) % 360
  return after < SPARKS
}
