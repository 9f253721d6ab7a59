import { describe, expect, it } from 'vitest'
import { figure } from './figure'

describe('a figure', () => {
  it('keeps three digits that count, and no dust', () => {
    expect([0, 62, 1.4998, 0.04221, 427.47, 12345.6, -0.5].map(figure)).toEqual([
      '0',
      '62',
      '1.5',
      '0.0422',
      '427',
      '12346',
      '-0.5',
    ])
  })
})
