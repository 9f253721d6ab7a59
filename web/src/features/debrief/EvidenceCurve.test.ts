import { mount } from '@vue/test-utils'
import { expect, it } from 'vitest'
import { vuetify } from '@/theme'
import EvidenceCurve from './EvidenceCurve.vue'

const point = (minutes: number, bits: number, candidates = 3) => ({
  seq: 0,
  minutes,
  step: { kind: 'wait' },
  bits,
  candidates,
  theirs: {},
  evidence: {},
  standings: {},
})

it('draws a step down for each thing learned, and says the same in a table', async () => {
  const points = [point(0, 5.6), point(4, 2.1), point(20, 0.2, 1)]
  const w = mount(EvidenceCurve, {
    props: { points, at: 2, step: (p) => `after ${p.minutes}` },
    global: { plugins: [vuetify()] },
    attachTo: document.body,
  })
  await w.vm.$nextTick()
  // The line goes level, then down, twice: two corners and three ends.
  const line = w.findAll('path').find((p) => /^M[\d.]+ [\d.]+(L[\d.]+ [\d.]+){4}$/.test(p.attributes('d') ?? ''))
  expect(line).toBeDefined()
  await w.get('button').trigger('click')
  const rows = w.findAll('tbody tr').map((r) => r.findAll('td').map((c) => c.text()))
  expect(rows).toEqual([
    ['after 0', '0', '5.6', '3'],
    ['after 4', '4', '2.1', '3'],
    ['after 20', '20', '0.2', '1'],
  ])
})
