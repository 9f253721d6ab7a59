import '@/words/yard'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { show } from '@/testing/stage'
import FilmStrip from './FilmStrip.vue'

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
})
const film = { name: 'Lift pump LP-2', family: 'f4-bowl', frames: [frame(0, 0), frame(0.1, 3000), frame(0.2, 3200)] }
beforeEach(() => (document.body.innerHTML = ''))

describe('the film of a run', () => {
  it('shows the moment it stands at, in the cutaway, the figures and a table', async () => {
    const w = await show(FilmStrip, '/', { LineChart: true }, { film })
    expect(w.get('svg[role="img"]').attributes('aria-label')).toContain('standing')
    await w.get('[aria-label="Step on"]').trigger('click')
    expect(w.get('svg[role="img"]').attributes('aria-label')).toContain('turning at 3000 rpm')
    expect(w.findAll('figcaption b')[0].text()).toBe('3000 rpm')
    await w.findAll('.traces button').at(-1)!.trigger('click')
    expect(w.findAll('tbody tr').map((r) => r.findAll('td')[1].text())).toEqual(['0', '3200'])
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
})
