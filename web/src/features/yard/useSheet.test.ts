import { describe, expect, it } from 'vitest'
import { entriesOf, rowsOf } from './useSheet'

describe('a sheet as it is typed', () => {
  const lines = [
    { id: 'plug_gap_mm', name: 'Plug gap', figure: { low: 0.65, high: 0.75, unit: 'mm', source: 'plate' } },
    { id: 'bore_mm', name: 'Bore', figure: { low: 66, high: 66, unit: 'mm', source: 'plate' } },
    { id: 'ignition', name: 'Ignition', figure: { low: 0, high: 0, unit: '', word: 'points', source: 'plate' } },
  ]
  it('leaves the high end of a single figure open', () => {
    expect(rowsOf(lines).bore_mm).toMatchObject({ low: '66', high: '' })
    expect(rowsOf(lines).plug_gap_mm).toMatchObject({ low: '0.65', high: '0.75' })
  })
  it('sends a word as a word, and figures as they were typed', () => {
    const rows = rowsOf(lines)
    rows.plug_gap_mm.low = '0,026'
    rows.plug_gap_mm.unit = 'in'
    expect(entriesOf(rows)).toEqual([
      { id: 'plug_gap_mm', low: '0,026', high: '0.75', unit: 'in', source: 'plate' },
      { id: 'bore_mm', low: '66', high: '', unit: 'mm', source: 'plate' },
      { id: 'ignition', word: 'points', source: 'plate' },
    ])
  })
})
