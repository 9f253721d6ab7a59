import { text } from '@/words/words'

/** What the board can say of a reach. Nothing is said of a dry one. */
export type Mark = '' | 'clear' | 'suspect' | 'condemned'

export type Reach = { id: string; name: string; lateral: string; beside?: boolean }
export type Lateral = { id: string; name: string }
export type Marks = Record<string, string>

/** The marks in the order in which they are offered, with the key that makes each. */
export const MARKS: { mark: Mark; name: string; said: string; key: string }[] = [
  { mark: 'clear', name: text('board.clear'), said: text('board.said-clear'), key: 'f' },
  { mark: 'suspect', name: text('board.suspect'), said: text('board.said-suspect'), key: 's' },
  { mark: 'condemned', name: text('board.condemned'), said: text('board.said-condemned'), key: 'x' },
  { mark: '', name: text('board.undecided'), said: text('board.said-undecided'), key: 'u' },
]

export const said = (mark: string | undefined) =>
  MARKS.find((m) => m.mark === (mark ?? ''))?.said ?? text('board.said-undecided')

/** The reaches by lateral, in order from source to cylinder. */
export function lanes(laterals: Lateral[], reaches: Reach[]) {
  return laterals.map((l) => ({ ...l, reaches: reaches.filter((r) => r.lateral === l.id) }))
}

/** A lateral arrives at the cylinder when every reach of it flows; what stands beside it does not count. */
export const arrives = (reaches: Reach[], marks: Marks) =>
  reaches.length > 0 && reaches.every((r) => r.beside || marks[r.id] === 'clear')

/** A reach and those before it on its lateral that are not accused. */
export function upTo(reaches: Reach[], id: string, marks: Marks): string[] {
  const at = reaches.find((r) => r.id === id)
  if (!at) return []
  const lane = reaches.filter((r) => r.lateral === at.lateral)
  return lane
    .slice(0, lane.indexOf(at) + 1)
    .filter((r) => marks[r.id] !== 'suspect' && marks[r.id] !== 'condemned' && marks[r.id] !== 'clear')
    .map((r) => r.id)
}

/** Where an arrow key leads from a reach: along the lateral, or to the same share of the next. */
export function walk(lanesOf: { reaches: Reach[] }[], id: string, key: string): string {
  const row = lanesOf.findIndex((l) => l.reaches.some((r) => r.id === id))
  if (row < 0) return id
  const lane = lanesOf[row].reaches
  const col = lane.findIndex((r) => r.id === id)
  const pick = (r: number, share: number) => {
    const to = lanesOf[(r + lanesOf.length) % lanesOf.length].reaches
    return to[Math.min(to.length - 1, Math.round(share * (to.length - 1)))].id
  }
  const share = lane.length > 1 ? col / (lane.length - 1) : 0
  switch (key) {
    case 'ArrowRight':
      return lane[Math.min(col + 1, lane.length - 1)].id
    case 'ArrowLeft':
      return lane[Math.max(col - 1, 0)].id
    case 'ArrowDown':
      return pick(row + 1, share)
    case 'ArrowUp':
      return pick(row - 1, share)
    case 'Home':
      return lane[0].id
    case 'End':
      return lane[lane.length - 1].id
  }
  return id
}
