import { describe, expect, it } from 'vitest'
import { angle, inWords, point } from './arc'

const dial = { cx: 0, cy: 0, from: -90, to: 90, max: 160 }

describe('a dial', () => {
  it('turns from its start to its end and rests on its stops', () => {
    expect(angle(dial, 0)).toBe(-90)
    expect(angle(dial, 80)).toBe(0)
    expect(angle(dial, 160)).toBe(90)
    expect(angle(dial, 900)).toBeLessThan(95)
    expect(angle(dial, -50)).toBeGreaterThan(-95)
  })
  it('points up at the middle', () => {
    const p = point(dial, 10, angle(dial, 80))
    expect(p.x).toBeCloseTo(0)
    expect(p.y).toBeCloseTo(-10)
  })
  it('says the needle without saying the value', () => {
    expect(inWords(44, 20, 2, 'psi')).toBe('Needle 2 small marks past 40; small marks are 2 psi.')
    expect(inWords(60, 20, 2, 'psi')).toBe('Needle on the mark 60; small marks are 2 psi.')
    expect(inWords(61.1, 20, 2, 'psi')).toContain('between small mark 0 and 1')
  })
})
