import { mount } from '@vue/test-utils'
import { expect, it } from 'vitest'
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

it('draws a step down for each thing learned and says where it stands', async () => {
  const w = mount(EvidenceCurve, { props: { points: [point(0, 5.6), point(4, 2.1), point(20, 0.2, 1)], at: 2 } })
  expect(w.findAll('circle')).toHaveLength(3)
  expect(w.get('.line').attributes('d')).toMatch(/^M[\d.]+ [\d.]+H[\d.]+V[\d.]+H[\d.]+V[\d.]+$/)
  expect(w.text()).toContain('1 left of the suspects')
  await w.findAll('circle')[0].trigger('click')
  expect(w.emitted('at')).toEqual([[0]])
})
