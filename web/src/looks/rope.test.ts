import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { ref } from 'vue'
import { useRope, type Drawn } from './useRope'

beforeEach(
  () =>
    void vi.useFakeTimers({
      toFake: ['requestAnimationFrame', 'cancelAnimationFrame', 'performance', 'Date', 'setTimeout'],
    }),
)
afterEach(() => void vi.useRealTimers())

type End = 'back' | 'stuck' | 'snatch' | 'stays' | 'missing'
function pulled(holds: number[], end: End, pace: number) {
  const got: Drawn[] = []
  const shakes: number[] = []
  Object.defineProperty(navigator, 'vibrate', { value: (ms: number) => shakes.push(ms) > 0, configurable: true })
  const rope = useRope(ref({ holds, end }), (how) => got.push(how))
  rope.grip()
  let most = 0
  for (let ms = 0; ms < 3000; ms += 16) {
    rope.move(ms / pace)
    vi.advanceTimersByTime(16)
    most = Math.max(most, rope.at.value)
  }
  return { got, shakes, most, rope }
}
const bumps = (top: number) => [0.1, 0.1, top, 0.1, 0.1, top, 0.1]

test('it is brisk or slow by how fast the hand went', () => {
  expect(pulled(bumps(0.2), 'back', 300).got).toEqual(['brisk'])
  expect(pulled(bumps(0.2), 'back', 1500).got).toEqual(['slow'])
})

test('each compression is felt, harder where it holds harder, and nothing of none', () => {
  const hard = pulled(bumps(0.9), 'back', 1000).shakes
  const soft = pulled(bumps(0.4), 'back', 1000).shakes
  expect(hard.length).toBe(2)
  expect(soft.length).toBe(2)
  expect(hard[0]).toBeGreaterThan(soft[0])
  expect(pulled(bumps(0.1), 'back', 1000).shakes).toEqual([])
})

test('what is locked does not move, and what snatches tears itself out of the hand', () => {
  const stuck = pulled([1, 1, 1], 'stuck', 500)
  expect(stuck.most).toBe(0)
  expect(stuck.got).toHaveLength(1)
  const torn = pulled(bumps(1), 'snatch', 500)
  expect(torn.got).toHaveLength(1)
  expect(torn.most).toBeLessThan(0.5)
  expect(torn.rope.at.value).toBe(0)
})

test('let go, it goes back, but for one that stays out', () => {
  for (const [end, at] of [
    ['back', 0],
    ['stays', 1],
  ] as const) {
    const { rope } = pulled(bumps(0.3), end, 500)
    rope.release()
    vi.advanceTimersByTime(2000)
    expect(rope.at.value).toBeCloseTo(at, 1)
  }
})
