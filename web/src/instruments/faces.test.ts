import { mount, type VueWrapper } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import instruments from '../../../core/catalogue/data/instruments.json'
import CompressionGauge from './CompressionGauge.vue'
import DialFace from './DialFace.vue'
import MeasuringCup from './MeasuringCup.vue'
import ScrewTurns from './ScrewTurns.vue'
import SparkTester from './SparkTester.vue'
import SteelRule from './SteelRule.vue'
import WaterJar from './WaterJar.vue'
import type { Scale } from './arc'

/** The scale of an instrument, from the same file as the model's. */
const scaleOf = (id: string): Scale => ({ least: 0, ...instruments.find((i) => i.id === id)!.scale! }) as Scale

/** What a reader makes of the words: the numbered mark, and the small marks past it. */
function read(words: string): number {
  const small = Number(words.match(/small marks are ([\d.]+)/)![1])
  const between = words.match(/between small mark (\d+) and \d+ past (-?\d+)/)
  if (between) return Number(between[2]) + small * (Number(between[1]) + 0.5)
  const marks = words.match(/(\d+) small marks past (-?\d+)/)
  if (marks) return Number(marks[2]) + small * Number(marks[1])
  return Number(words.match(/on the mark (-?\d+)/)![1])
}
const turned = (style: string) => Number(style.match(/rotate\((-?[\d.]+)deg\)/)![1])
const status = (w: VueWrapper) => w.get('[role=status]').text()
const values = (s: Scale) => [0, 0.013, 0.31, 0.5, 0.743, 1].map((x) => s.least + x * (s.most - s.least))

/** What a reader makes of the drawing: between which marks something stands, each mark found by where it is drawn. */
function among(marks: number[], scale: Scale, at: number): number {
  const up = marks[1] > marks[0] ? 1 : -1
  const i = Math.max(
    1,
    marks.findIndex((m) => up * (m - at) >= 0),
  )
  return scale.least + scale.division * (i - 1 + (at - marks[i - 1]) / (marks[i] - marks[i - 1]))
}
/** The angle of a tick from a middle, degrees clockwise from straight up, from its ends alone. */
function angles(w: VueWrapper, cx: number, cy: number) {
  let last = -Infinity
  return w.findAll('path.mark').map((m) => {
    const [x, y] = m.attributes('d')!.split('L')[1].split(' ').map(Number)
    let a = (Math.atan2(x - cx, cy - y) * 180) / Math.PI
    while (a < last - 1e-6 && last - a > 180) a += 360 // past the lowest point
    return (last = a)
  })
}
const heights = (w: VueWrapper, last: RegExp) =>
  w
    .findAll('path')
    .map((p) => p.attributes('d')!.match(last))
    .filter((m) => m)
    .map((m) => Number(m![1]))

describe('drawing and words of an instrument agree with what it shows', () => {
  it.each(['torque-wrench', 'line-gauge', 'pop-off-gauge', 'leak-down-pair', 'stopwatch', 'degree-mark'])(
    'on the round dial of the %s, over its whole scale',
    (id) => {
      const scale = scaleOf(id)
      const ends = { 'degree-mark': { from: -180, to: 180 }, stopwatch: { from: 0, to: 360 } }[id] ?? {}
      for (const value of values(scale)) {
        const w = mount(DialFace, { props: { name: id, unit: 'u', scale, value, ...ends } })
        const words = status(w)
        expect(Math.abs(read(words) - value), `${value}: ${words}`).toBeLessThanOrEqual(scale.division * 0.8)
        const marks = angles(w, 120, 120)
        expect(marks).toHaveLength(Math.round((scale.most - scale.least) / scale.division) + 1)
        const at = turned(w.get('.hand:last-of-type').attributes('style')!)
        const turn = Math.round((marks[0] - ((ends as { from?: number }).from ?? -130)) / 360) * 360
        expect(Math.abs(among(marks, scale, at + turn) - value), `${value} drawn`).toBeLessThan(scale.division * 0.2)
      }
      const over = mount(DialFace, { props: { name: id, unit: 'u', scale, value: scale.most, beyond: true, ...ends } })
      expect(status(over)).toContain(`beyond ${scale.most}`)
    },
  )
  it('on the compression gauge', () => {
    const scale = scaleOf('compression-gauge')
    for (const psi of values(scale)) {
      const w = mount(CompressionGauge, { props: { psi, scale } })
      expect(Math.abs(read(status(w)) - psi)).toBeLessThanOrEqual(1.6)
      const drawn = among(angles(w, 180, 178), scale, turned(w.get('.needle').attributes('style')!))
      expect(Math.abs(drawn - psi)).toBeLessThan(0.4)
    }
    expect(status(mount(CompressionGauge, { props: { psi: scale.most, scale, beyond: true } }))).toContain('beyond')
  })
  it('in the cup, the jar and on the rule', () => {
    const cup = scaleOf('cup')
    for (const ml of values(cup)) {
      const w = mount(MeasuringCup, { props: { ml, seconds: 60, scale: cup } })
      expect(Math.abs(read(status(w)) - ml)).toBeLessThanOrEqual(1.6)
      const level = Number(
        w
          .get('.fuel')
          .attributes('d')!
          .match(/M112 ([\d.]+)H/)![1],
      )
      expect(Math.abs(among(heights(w, /([\d.]+)H205$/), cup, level) - ml)).toBeLessThan(0.4)
    }
    expect(status(mount(MeasuringCup, { props: { ml: 190, seconds: 60, scale: cup } }))).toContain('run over')
    const jar = scaleOf('jar')
    for (const boundary of [24, 31.4, 88]) {
      const w = mount(WaterJar, { props: { boundary, water: 20, shaken: true, scale: jar } })
      expect(Math.abs(read(status(w)) - boundary)).toBeLessThanOrEqual(1.6)
      const line = Number(
        w
          .get('.water')
          .attributes('d')!
          .match(/M132 ([\d.]+)H/)![1],
      )
      expect(Math.abs(among(heights(w, / ([\d.]+)H228$/), jar, line) - boundary)).toBeLessThan(0.4)
    }
    const rule = scaleOf('steel-rule')
    for (const mm of [9, 14, 23.5, 55]) {
      const w = mount(SteelRule, { props: { mm, scale: rule } })
      expect(Math.abs(read(w.get('.sr-only').text()) - mm)).toBeLessThanOrEqual(0.8)
      const edge = Number(w.get('rect[rx="10"]').attributes('y'))
      expect(Math.abs(among(heights(w, / ([\d.]+)H156$/), rule, edge) - mm)).toBeLessThan(0.2)
    }
  })
  it('between the points of the spark tester', () => {
    const scale = scaleOf('spark-tester')
    for (const gap of [4, 7.5, 20]) {
      const w = mount(SparkTester, { props: { gap, spark: 'blue', scale } })
      const marks = w.findAll('.scale path').map((p) => Number(p.attributes('d')!.match(/M([\d.]+)/)![1]))
      const pointer = Number(
        w
          .get('.pointer')
          .attributes('d')!
          .match(/M([\d.]+)/)![1],
      )
      expect(among(marks, scale, pointer)).toBeCloseTo(gap)
    }
  })
  it('on the screw, as far as it can be turned', () => {
    const w = mount(ScrewTurns, { props: { turns: 1.375, seated: true } })
    expect(status(w)).toContain('1 whole turn and 3 eighths')
    expect(turned(w.get('.slot').attributes('style')!)).toBeCloseTo(495)
    expect(w.findAll('g > rect').length).toBe(12) // eleven eighths and the slot
    const most = mount(ScrewTurns, { props: { turns: scaleOf('screw').most, seated: false } })
    const low = Math.max(
      ...most.findAll('g > rect').map((r) => Number(r.attributes('y')) + Number(r.attributes('height'))),
    )
    expect(low).toBeLessThan(180)
  })
})
