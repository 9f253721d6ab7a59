import { describe, expect, it } from 'vitest'
import { arrives, lanes, said, upTo, walk } from './marks'

const reaches = [
  ...['tank', 'line', 'jets'].map((id) => ({ id, name: id, lateral: 'fuel' })),
  ...['filter', 'throttle'].map((id) => ({ id, name: id, lateral: 'air' })),
]
const rows = lanes(
  [
    { id: 'fuel', name: 'Fuel' },
    { id: 'air', name: 'Air' },
  ],
  reaches,
)

describe('the board', () => {
  it('walks along a lateral and stops at its ends', () => {
    expect(walk(rows, 'tank', 'ArrowRight')).toBe('line')
    expect(walk(rows, 'jets', 'ArrowRight')).toBe('jets')
    expect(walk(rows, 'tank', 'ArrowLeft')).toBe('tank')
    expect(walk(rows, 'line', 'End')).toBe('jets')
  })
  it('crosses to the same share of the next lateral, round and round', () => {
    expect(walk(rows, 'jets', 'ArrowDown')).toBe('throttle')
    expect(walk(rows, 'tank', 'ArrowUp')).toBe('filter')
    expect(walk(rows, 'nowhere', 'ArrowUp')).toBe('nowhere')
  })
  it('clears up to a reach, but nothing that is accused', () => {
    expect(upTo(reaches, 'jets', {})).toEqual(['tank', 'line', 'jets'])
    expect(upTo(reaches, 'jets', { line: 'suspect', tank: 'clear' })).toEqual(['jets'])
  })
  it('arrives only when every reach flows', () => {
    expect(arrives(rows[1].reaches, { filter: 'clear' })).toBe(false)
    expect(arrives(rows[1].reaches, { filter: 'clear', throttle: 'clear' })).toBe(true)
  })
  it('says a mark in words', () => {
    expect(said(undefined)).toBe('undecided')
    expect(said('condemned')).toBe('condemned')
  })
})
