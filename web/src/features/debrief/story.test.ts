import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import '@/words/debrief'
import type { Schema } from '@/api/client'
import { vuetify } from '@/theme'
import DebriefStory from './DebriefStory.vue'

const reason = (code: string, marks: number, of: number, params: object = {}) => ({
  code,
  marks,
  of,
  right: marks === of,
  seq: -1,
  params,
})
const assessed = (over: object = {}) =>
  ({
    truth: [{ id: 'main-jet-blocked', severity: 0.6, reach: 'jets', mended: true }],
    outcome: 'competent',
    class: 'proven',
    verdict: [],
    against: [],
    minutes: 31.5,
    limit_minutes: 60,
    money: 2,
    limit_money: 40,
    wasted: [],
    sections: [
      { id: 'readings', mark: 18, of: 20, reasons: [reason('reading.none', 18, 20)] },
      {
        id: 'economy',
        mark: 3,
        of: 10,
        reasons: [reason('economy.minutes', 3, 10, { minutes: 90, reference: 30, ratio: 3 })],
      },
      {
        id: 'order',
        mark: 9,
        of: 10,
        reasons: [reason('order.no-steps', 9, 10), reason('order.costly', -1, 0, { test: 'jet-look' })],
      },
    ],
    ...over,
  }) as unknown as Schema['Assessment']
const story = (of: Schema['Assessment'], more: object = {}) =>
  mount(DebriefStory, { props: { of, ...more }, global: { plugins: [vuetify()] } })

describe('the story of a job', () => {
  it('sums up, says what it was and cost, and has what lost most practised next', () => {
    const w = story(assessed())
    expect(w.classes()).toContain('good')
    expect(w.text()).toContain('30 of 40')
    expect(w.text()).toMatch(/Main jet blocked.*60 %.*put right/)
    expect(w.text()).toContain('31.5 of 60 min')
    expect(w.get('.next').text(), 'economy lost seven').toMatch(/economy/)
    expect(w.find('.next button').exists()).toBe(false)
  })
  it('says that nothing was tested, and what a part cost that mended nothing', () => {
    const w = story(assessed({ untested: true, wasted: [{ act: 'replace', reach: 'coil', cost: 14 }] }))
    expect(w.text()).toMatch(/no test was made that had anything to tell/)
    expect(w.text()).toMatch(/coil.*14\.00/)
    expect(story(assessed()).text()).not.toMatch(/no test was made/)
  })
  it('is not good where the outcome is not, whatever the conclusion was, and says why', () => {
    const w = story(
      assessed({
        outcome: 'not-yet',
        against: [reason('outcome.threshold', 0, 0, { mark: 30, of: 40, threshold: 60 })],
      }),
    )
    expect(w.classes()).not.toContain('good')
    expect(w.findAll('.against li')).toHaveLength(1)
    expect(story(assessed({ outcome: '', class: 'misled' })).classes()).not.toContain('good')
    expect(story(assessed({ outcome: '', class: 'supported' })).classes()).toContain('good')
  })
  it('offers a job that practises it to whose it is, and to nobody else', async () => {
    const practise = { lateral: 'fuel' } as unknown as Schema['Practise']
    expect(story(assessed(), { practise }).find('.next button').exists()).toBe(false)
    const own = story(assessed(), { practise, mine: true })
    await own.get('.next button').trigger('click')
    expect(own.emitted('practise')).toHaveLength(1)
  })
})
