import { beforeEach, expect, it, vi } from 'vitest'
import { useTogether } from './useTogether'

let told: (now: Record<string, number>) => void
vi.mock('./changes', () => ({
  useChanges: (_: string, then: typeof told) => {
    told = then
    return { lost: false }
  },
}))
const fetch = vi.fn(async () => fetch.mock.calls.length)
beforeEach(() => fetch.mockClear())
const of = { itself: 'wall', answers: 'votes' }

it('is fetched when it changes itself, and at an answer only for who counts them', async () => {
  for (const [counts, times] of [
    [false, 2],
    [true, 4],
  ] as const) {
    fetch.mockClear()
    const t = useTogether('/x', of, counts, fetch)
    told({ wall: 1, votes: 0 }) // all there are, at first
    told({ votes: 1 })
    told({ votes: 1 })
    told({ votes: 2 })
    told({ wall: 2 })
    await expect.poll(() => t.shown.value).toBe(times)
    expect(fetch).toHaveBeenCalledTimes(times)
  }
})
it('keeps what was shown, and says why something was refused until something is taken', async () => {
  const t = useTogether('/x', of, true, fetch)
  told({ wall: 1 })
  await expect.poll(() => t.shown.value).toBe(1)
  const why = { code: 'http.moved' }
  expect(await t.doing(() => Promise.reject(why))).toBe(false)
  expect(t.refusal.value).toEqual(why)
  expect(t.shown.value).toBe(1)
  expect(await t.doing(() => Promise.resolve())).toBe(true)
  expect(t.refusal.value).toBeUndefined()
})
