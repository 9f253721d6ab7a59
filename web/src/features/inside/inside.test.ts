import '@/words/yard'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Schema } from '@/api/client'
import { show } from '@/testing/stage'
import FilmStrip from './FilmStrip.vue'
import { down, fromTop, momentOf, passed, sparking, strokeOf, valueAt } from './cycle'

const frame = (minute: number, rpm: number) => ({
  minute,
  rpm,
  tank_vacuum_kpa: 0.1 * minute,
  fuel_share: 0.7,
  bowl_share: 1 - minute / 10,
  flow_ml_min: 20,
  use_ml_min: 12,
  manifold_kpa: 40,
  charge: 0.3,
  false_air: 0,
  lambda: 0.95,
  spark_kv: 14,
  leak_share: 0.1,
  pump_kpa: 0,
  choke: 0,
  throttle: 0.2,
  engine_c: 60,
  coil_c: 40,
  turn: rpm ? 0 : -1,
})
/** A cycle with an inlet that is open through its first stroke and a charge that burns every other time. */
const list = (of: (d: number) => number) => Array.from({ length: 72 }, (_, i) => of(10 * i))
const turn: Schema['Turn'] = {
  spark_at: 335,
  inlet: list((d) => (d < 180 ? 5 : 0)),
  exhaust: list((d) => (d >= 540 ? 5 : 0)),
  fires: list((d) => (d === 380 ? 3000 : 100)),
  misses: list((d) => (d === 360 ? 700 : 100)),
  beats: '10'.repeat(15),
}
const film: Schema['Inside'] = {
  name: 'Lift pump LP-2',
  family: 'f4-bowl',
  film: { frames: [frame(0, 0), frame(0.1, 3000), frame(0.2, 3200)], turns: [turn], degrees: 720, top: 360 },
}
const sound = { ...film.film, frames: film.film.frames.map((f) => ({ ...f, lambda: 1 })) }
beforeEach(() => (document.body.innerHTML = ''))

describe('a cycle', () => {
  it('goes with the speed: at 3000 rpm a hundredth of a second is half a turn', () => {
    const m = momentOf(film.film, frame(0, 3000), 0.01)!
    expect(m.degree).toBeCloseTo(180)
    expect([m.cycles, m.fires]).toEqual([0, true])
    const next = momentOf(film.film, frame(0, 3000), 0.05)!
    expect([next.cycles, next.fires]).toEqual([1, false])
    expect(momentOf(film.film, frame(0, 0), 0.5)).toBeUndefined()
  })
  it('has the piston at the top where it fires, and its strokes and spark in their places', () => {
    expect(down(film.film, 360)).toBeCloseTo(0)
    expect(down(film.film, 540)).toBeCloseTo(1)
    const at = (degree: number) => ({ turn, degree, cycles: 0, fires: true })
    expect([90, 270, 400, 600].map((d) => strokeOf(film.film, at(d)))).toEqual([
      'inlet',
      'compression',
      'power',
      'exhaust',
    ])
    expect([330, 336, 350, 700].map((d) => sparking(at(d)))).toEqual([false, true, false, true])
    expect(fromTop(film.film, 335)).toBe(-25)
  })
  it('is read between its values, and what flows has all gone through at the end', () => {
    expect(valueAt([0, 10], 5)).toBeCloseTo(5)
    expect(passed(turn.inlet, 90)).toBeCloseTo(0.5)
    expect(passed(turn.inlet, 720)).toBeCloseTo(1)
    expect(passed(turn.inlet, 300)).toBeCloseTo(1)
  })
})

describe('the film of a run', () => {
  it('shows the moment it stands at, in the cutaway, the figures and a table', async () => {
    const w = await show(FilmStrip, '/', { LineChart: true }, { film })
    expect(w.get('svg[role="img"]').attributes('aria-label')).toContain('standing')
    expect(w.text()).toContain('The crank stands.')
    await w.get('[aria-label="Step on"]').trigger('click')
    expect(w.get('svg[role="img"]').attributes('aria-label')).toContain('turning at 3000 rpm')
    expect(w.findAll('.traces figcaption b')[0].text()).toBe('3000 rpm')
    await w.findAll('.traces button').at(-1)!.trigger('click')
    expect(w.findAll('tbody tr').map((r) => r.findAll('td')[1].text())).toEqual(['0', '3200'])
  })
  it('turns the crank by ten degrees: valves and piston move, and what they are at is said', async () => {
    const w = await show(FilmStrip, '/', { LineChart: true }, { film })
    await w.get('[aria-label="Step on"]').trigger('click')
    const before = w.get('svg[role="img"]').html()
    for (let i = 0; i < 30; i++) await w.get('[aria-label^="Turn the crank on"]').trigger('click')
    expect(w.text()).toContain('Compression, 60° before the top; this charge burns')
    expect(w.get('svg[role="img"]').html()).not.toBe(before)
    await w.get('[aria-label^="Turn the crank back"]').trigger('click')
    expect(w.text()).toContain('70° before the top')
  })
  it('stands beside a sound one at the same minute, where something is wrong', async () => {
    const w = await show(FilmStrip, '/', { LineChart: true }, { film: { ...film, sound } })
    await w.get('[aria-label="Step on"]').trigger('click')
    await w.get('input[type="checkbox"]').setValue(true)
    const says = w.findAll('svg[role="img"]').map((s) => s.attributes('aria-label')!)
    expect(says.filter((s) => s.startsWith('Cutaway'))).toHaveLength(2)
    expect(says[0]).toContain('λ 0.95')
    expect(says[1]).toContain('λ 1.00')
    expect((await show(FilmStrip, '/', { LineChart: true }, { film })).find('input[type="checkbox"]').exists()).toBe(
      false,
    )
  })
  it('goes through the minutes of a sound one, where its own never begin', async () => {
    const locked = { ...film.film, frames: [frame(0, 0)] }
    const w = await show(FilmStrip, '/', { LineChart: true }, { film: { ...film, film: locked, sound } })
    expect(w.get('[aria-label="Step on"]').attributes('aria-disabled')).toBe('true')
    await w.get('input[type="checkbox"]').setValue(true)
    await w.get('[aria-label="Step on"]').trigger('click')
    await w.get('[aria-label^="Turn the crank on"]').trigger('click')
    expect(w.text()).toContain('The crank stands.')
    expect(w.text(), 'ten degrees of the one that turns').toContain('Inlet, 10° after the top')
    expect(w.findAll('.traces figcaption b')[0].text(), 'the figures are its own').toBe('0 rpm')
  })
  it('plays to its end and stops there', async () => {
    vi.useFakeTimers()
    const w = await show(FilmStrip, '/', { LineChart: true }, { film })
    await w.get('.play button').trigger('click')
    await vi.advanceTimersByTimeAsync(1000)
    expect(w.get('.when').text()).toBe('0.2 min')
    expect(w.get('.play button').text()).toBe('Play')
    vi.useRealTimers()
  })
  it('has nothing that moves by itself through a second for who wants nothing to move', async () => {
    vi.stubGlobal('matchMedia', (q: string) => ({
      matches: q.includes('reduce'),
      addEventListener: () => {},
      removeEventListener: () => {},
    }))
    const w = await show(FilmStrip, '/', { LineChart: true }, { film })
    expect(w.get('.slow').text()).not.toContain('Slowly')
    expect(w.find('[aria-label^="Turn the crank on"]').exists()).toBe(true)
    vi.unstubAllGlobals()
  })
})
