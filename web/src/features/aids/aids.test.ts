import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { forget } from '@/api/client'
import { family, server, show } from '@/testing/stage'
import AidsPanel from './AidsPanel.vue'

const aid = {
  id: 'premix',
  name: 'Oil in the petrol',
  formula: 'oil = petrol ÷ ratio',
  source: 'arithmetic',
  limits: 'as the sheet says',
  inputs: [{ id: 'litres', name: 'Petrol', unit: 'l', start: 5, low: 0, high: 50 }],
}
const test = {
  id: 'x',
  title: 'Compression, dry',
  teaches: 'Whether it holds.',
  cannot: 'Not where.',
  valid: [],
  reaches: [],
}
const answers = {
  'GET /api/aids': { body: { units: ['bar', 'psi'], aids: [aid], families: [{ id: 'f4-bowl', name: 'Four-stroke' }] } },
  'GET /api/families/f4-bowl': { body: { ...family, tests: [test, { ...test, id: 'y', title: 'Look at the plug' }] } },
  'POST /api/conversions': { body: [{ name: 'bar', value: 4.275, unit: 'bar' }] },
  'POST /api/aids/premix': { body: [{ name: 'Oil', value: 100, unit: 'ml' }] },
}
beforeEach(() => {
  forget()
  localStorage.clear()
  document.body.innerHTML = ''
})

describe('the job aids', () => {
  it('work sums out by the server as they are filled in, and keep the figures', async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true })
    const asked = server(answers)
    const w = await show(AidsPanel)
    await vi.advanceTimersByTimeAsync(300)
    await flushPromises()
    expect(asked.find((a) => a.path === '/api/aids/premix')!.body).toEqual({ litres: 5 })
    expect(w.get('[aria-label="Oil in the petrol"]').text()).toContain('100 ml')
    expect(w.get('[aria-label="Units"]').text()).toContain('4.28 bar')
    vi.useRealTimers()
  })
  it('find the card of a test by a word of it', async () => {
    server(answers)
    const w = await show(AidsPanel)
    await flushPromises()
    expect(w.text()).toContain('Look at the plug')
    await w.get('input[type="search"]').setValue('compr')
    expect(w.text()).toContain('Compression, dry')
    expect(w.text()).not.toContain('Look at the plug')
  })
  it('say so where they cannot be fetched', async () => {
    server({ 'GET /api/aids': { status: 503, body: { code: 'http.database-away' } } })
    const w = await show(AidsPanel)
    expect(w.get('[role="status"]').text()).toContain('cannot be fetched')
  })
})
