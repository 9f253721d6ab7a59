import { expect, test } from 'vitest'
import type { Schema } from '@/api/client'
import { render } from './render'

const RATE = 8000

/** So many firings a second for some seconds, some of them left out. */
function score(perSecond: number, seconds: number, missed?: (i: number) => boolean): Schema['Heard'] {
  const beats: Schema['Beat'][] = []
  for (let i = 0; i < perSecond * seconds; i++)
    beats.push({ at: i / perSecond, loud: 0.6, kind: missed?.(i) ? 'puff' : 'fire' })
  return { seconds, tone_hz: 170, two_stroke: false, beats }
}
/** How loud it is, in steps of 2 ms. */
function envelope(x: Float32Array) {
  const step = RATE / 500
  return Array.from({ length: Math.floor(x.length / step) }, (_, k) => {
    let sum = 0
    for (let i = 0; i < step; i++) sum += x[k * step + i] ** 2
    return Math.sqrt(sum / step)
  })
}
/** The period at which loudness repeats best, s. */
function period(x: Float32Array, from: number, to: number) {
  const e = envelope(x)
  const mean = e.reduce((a, b) => a + b) / e.length
  let best = 0
  let at = 0
  for (let lag = Math.round(from * 500); lag <= to * 500; lag++) {
    let sum = 0
    for (let i = 0; i + lag < e.length; i++) sum += (e[i] - mean) * (e[i + lag] - mean)
    if (sum / (e.length - lag) > best) {
      best = sum / (e.length - lag)
      at = lag / 500
    }
  }
  return at
}

test.each([
  [1800, 120],
  [3600, 120],
  [2800, 60],
])('at %i rpm it sounds at the speed over %i', (rpm, turns) => {
  const hz = rpm / turns
  const { right } = render(score(hz, 3), RATE)
  // Over ten firings, so that the steps of the envelope do not count.
  expect(10 / period(right, 9.6 / hz, 10.4 / hz)).toBeCloseTo(hz, 0)
})

test('a missed firing is quiet, and the share of them can be told', () => {
  const missed = (i: number) => i % 5 === 3
  const { right } = render(score(15, 4, missed), RATE)
  const e = envelope(right)
  const loud = Array.from({ length: 60 }, (_, i) =>
    Math.max(...e.slice(Math.floor((i / 15) * 500), Math.floor((i / 15) * 500) + 15)),
  )
  const most = Math.max(...loud)
  expect(loud.map((x) => x < most / 3)).toEqual(Array.from({ length: 60 }, (_, i) => missed(i)))
})

test('it neither clips nor breaks off, and the same score gives the same samples', () => {
  const all = score(20, 2)
  const kinds: Schema['Beat']['kind'][] = ['hiss', 'knock', 'thump', 'pop', 'spit', 'bang', 'rope']
  kinds.forEach((kind, i) => all.beats.push({ at: 0.2 * i, loud: 1, kind }))
  all.beats.push({ at: all.seconds, loud: 1, kind: 'bang' })
  const a = render(all, RATE)
  expect(a.left.length).toBe(Math.ceil(2.4 * RATE))
  for (const x of [a.left, a.right]) {
    expect(x.every((v) => Number.isFinite(v) && Math.abs(v) <= 0.86)).toBe(true)
    expect(Math.abs(x[x.length - 1])).toBeLessThan(0.02)
  }
  expect(render(all, RATE).right).toEqual(a.right)
  expect(render({ ...all, beats: [] }, RATE).left.every((v) => v === 0)).toBe(true)
})
