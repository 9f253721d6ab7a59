import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import CompressionGauge from './CompressionGauge.vue'
import DialFace from './DialFace.vue'
import MeasuringCup from './MeasuringCup.vue'
import ScrewTurns from './ScrewTurns.vue'
import SteelRule from './SteelRule.vue'
import WaterJar from './WaterJar.vue'
import { angle } from './arc'

/** What a reader makes of the words: the numbered mark, and the small marks past it. */
function read(words: string, small: number): number {
  const between = words.match(/between small mark (\d+) and \d+ past (-?\d+)/)
  if (between) return Number(between[2]) + small * (Number(between[1]) + 0.5)
  const marks = words.match(/(\d+) small marks past (-?\d+)/)
  if (marks) return Number(marks[2]) + small * Number(marks[1])
  return Number(words.match(/on the mark (-?\d+)/)![1])
}
const turned = (style: string) => Number(style.match(/rotate\((-?[\d.]+)deg\)/)![1])

describe('drawing and words of an instrument agree with what it shows', () => {
  it('on round dials, within half a small mark', () => {
    for (const d of [
      { name: 'Torque wrench', max: 120, numbered: 20, small: 2, unit: 'N·m', values: [0, 7.3, 41, 74.9, 120] },
      { name: 'Pressure gauge', max: 60, numbered: 10, small: 1, unit: 'kPa', values: [0, 0.4, 31.2, 50] },
      { name: 'Pop-off gauge', max: 300, numbered: 50, small: 5, unit: 'kPa', values: [130, 94.2, 255] },
      { name: 'Lost', max: 100, numbered: 20, small: 2, unit: '%', values: [7, 30.5, 99] },
      {
        name: 'Degree wheel',
        min: -180,
        max: 180,
        numbered: 10,
        small: 2,
        unit: '°',
        from: -180,
        to: 180,
        values: [25, -12.4, 34],
      },
    ]) {
      for (const value of d.values) {
        const w = mount(DialFace, { props: { ...d, value } })
        const words = w.get('[role=status]').text()
        expect(Math.abs(read(words, d.small) - value), `${d.name} ${value}: ${words}`).toBeLessThanOrEqual(
          d.small * 0.8,
        )
        const at = turned(w.get('.hand:last-of-type').attributes('style')!)
        const min = d.min ?? 0
        const drawn = min + ((at - (d.from ?? -130)) / ((d.to ?? 130) - (d.from ?? -130))) * (d.max - min)
        expect(Math.abs(drawn - value), `${d.name} drawn`).toBeLessThan(d.small * 0.1)
      }
    }
  })
  it('on the compression gauge', () => {
    for (const psi of [0, 7, 43.1, 62, 120.6]) {
      const w = mount(CompressionGauge, { props: { psi } })
      expect(Math.abs(read(w.get('[role=status]').text(), 2) - psi)).toBeLessThanOrEqual(1.6)
      expect(turned(w.get('.needle').attributes('style')!)).toBeCloseTo(
        angle({ cx: 0, cy: 0, from: -100, to: 100, max: 160 }, psi),
      )
    }
  })
  it('in the cup, the jar and on the rule', () => {
    for (const ml of [8, 22, 89.5]) {
      const w = mount(MeasuringCup, { props: { ml, seconds: 60 } })
      expect(Math.abs(read(w.get('[role=status]').text(), 2) - ml)).toBeLessThanOrEqual(1.1)
      const level = Number(
        w
          .get('.fuel')
          .attributes('d')!
          .match(/M112 ([\d.]+)H/)![1],
      )
      expect((206 - level) / 1.22).toBeCloseTo(ml, 1)
    }
    for (const boundary of [24, 31.4]) {
      const w = mount(WaterJar, { props: { boundary, water: 20, shaken: true } })
      expect(Math.abs(read(w.get('[role=status]').text(), 2) - boundary)).toBeLessThanOrEqual(1.6)
    }
    for (const mm of [9, 14, 23.5]) {
      const w = mount(SteelRule, { props: { mm } })
      expect(Math.abs(read(w.get('.sr-only').text(), 1) - mm)).toBeLessThanOrEqual(0.8)
    }
  })
  it('on the screw', () => {
    const w = mount(ScrewTurns, { props: { turns: 1.375, seated: true } })
    expect(w.get('[role=status]').text()).toContain('1 whole turn and 3 eighths')
    expect(turned(w.get('.slot').attributes('style')!)).toBeCloseTo(495)
    expect(w.findAll('g > rect').length).toBe(12) // eleven eighths and the slot
  })
})
