import { flushPromises } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import { forget, type Schema } from '@/api/client'
import { family as plain, server, show } from '@/testing/stage'
import HandPanel from './HandPanel.vue'
import StudyView from './StudyView.vue'

const test = (over: Partial<Schema['Test']>): Schema['Test'] => ({
  id: 'plug-gap',
  title: 'Measure the plug gap',
  lateral: 'spark',
  kind: 'number',
  minutes: 1,
  access: [],
  reaches: ['plug'],
  hazards: [],
  words: [],
  teaches: 'The gap with a wire gauge.',
  cannot: 'It does not prove the insulator.',
  unit: 'mm',
  units: ['mm', 'in'],
  valid: ['wire gauge', 'own sheet'],
  conditions: ['wire-gauge', 'own-sheet'],
  figure: 'plug_gap_mm',
  instrument: 'wire',
  long: false,
  ...over,
})
const family = {
  ...plain,
  tests: [
    test({}),
    test({
      id: 'run-long',
      title: 'Run it long',
      kind: 'run',
      long: true,
      outcomes: ['runs-well', 'dies'],
      figure: undefined,
    }),
    test({ id: 'look-over', title: 'Look it over', kind: 'look', words: ['sound', 'weeps'], figure: undefined }),
  ],
} as unknown as Schema['Family']
const bench = (over: object = {}) =>
  ({
    id: 'b1',
    ledger: [],
    sheet: [{ id: 'plug_gap_mm', figure: { low: 0.7, high: 0.8, unit: 'mm' } }],
    controls: { bar: 'held' },
    has: [],
    holds: [{ item: 'first-start' }],
    ...over,
  }) as unknown as Schema['Bench']

const open = async (chosen: string, over: object = {}) => {
  server({ 'GET /api/instruments': { body: [] } })
  const w = await show(HandPanel, '/', { PhotoPanel: true }, { family, bench: bench(over), chosen })
  const press = async (name: string) => {
    const b = w.findAll('button').find((x) => x.text().toLowerCase() === name.toLowerCase())
    expect(b, name).toBeDefined()
    await b!.trigger('click')
  }
  const sent = () => (w.findComponent(HandPanel).emitted('event') ?? []).map((e) => (e as [Schema['Event']])[0])
  const cannot = () =>
    w
      .findAll('button')
      .find((x) => x.text().startsWith('Write it down'))!
      .attributes('aria-description')
  return { w, press, sent, cannot }
}

beforeEach(() => {
  forget()
  localStorage.clear()
  setActivePinia(createPinia())
})

describe('a test on a real engine', () => {
  it('is written down once a figure, its unit and its band are there, with what was not seen to', async () => {
    const { w, press, sent, cannot } = await open('plug-gap')
    expect(cannot()).toContain('Reading')
    await w.get('input[type=checkbox][value="own-sheet"]').setValue(true)
    await w.get('.reading input').setValue('0,75')
    expect(cannot(), 'no unit and no band yet').toContain('Reading')
    await press('mm')
    await press('In band')
    expect(cannot()).toBeUndefined()
    await press('Write it down')
    expect(sent()).toEqual([
      { kind: 'by-hand', test: 'plug-gap', reading: '0,75', unit: 'mm', judged: 'within', missed: ['wire-gauge'] },
    ])
  })
  it('starts no engine before somebody has signed for it, and a long run wants its minutes', async () => {
    const { press, cannot } = await open('run-long')
    expect(cannot()).toMatch(/first start/i)
    const signed = await open('run-long', { holds: [{ item: 'first-start', by: 'Sam', initials: 'S' }] })
    await signed.press('Dies')
    expect(signed.cannot()).toMatch(/ran/i)
    for (const f of signed.w.findAll('.times input').slice(0, 2)) await f.setValue('12,5')
    expect(signed.cannot()).toBeUndefined()
    await signed.press('Write it down')
    expect(signed.sent()[0]).toMatchObject({ kind: 'by-hand', word: 'dies', ran_min: 12.5, faltered_min: 12.5 })
    await press('Not now')
  })
  it('comes back into its fields where it is refused, and is let go once it stands in the ledger', async () => {
    const { w, press } = await open('look-over')
    await press('Weeps')
    await press('Write it down')
    expect(
      w.findAll('h2').map((h) => h.text()),
      'the panel is free for the next',
    ).not.toContain('Look it over')
    await w.setProps({ refused: true } as object)
    await flushPromises()
    expect(w.get('h2').text()).toBe('Look it over')
    expect(
      w
        .findAll('button')
        .find((b) => b.text() === 'weeps')!
        .attributes('aria-pressed'),
    ).toBe('true')
    await w.setProps({
      refused: false,
      bench: bench({ ledger: [{ test: 'look-over', title: 'Look it over', result: 'weeps' }] }),
    } as object)
    expect(JSON.parse(localStorage.getItem('by-hand-sent.b1') ?? 'null')).toBeNull()
  })
  it('is put right as an entry alone: what was done is not done again', async () => {
    const { w, press, sent } = await open('plug-gap')
    await w.get('.reading input').setValue('7')
    await press('mm')
    await press('Above')
    await press('Write it down')
    const written = { test: 'plug-gap', title: 'Measure the plug gap', result: '7 mm' }
    await w.setProps({ chosen: undefined, bench: bench({ ledger: [written] }) } as object)
    await press('Put it right')
    expect(w.get<HTMLInputElement>('.reading input').element.value, 'what was written stands there').toBe('7')
    await w.get('.reading input').setValue('0.7')
    await press('In band')
    await press('Write it down')
    expect(sent()[1]).toEqual({ kind: 'entry', reading: '0.7', unit: 'mm', judged: 'within' })
  })
})

describe('the study of readings', () => {
  const rows = 'person,engine,value\nA,1,62\nA,2,70\nB,1,63\nB,2,x\n'
  it('says which line cannot be read, keeps what was typed, and shows no result of before', async () => {
    const asked = server({
      'POST /api/studies': {
        status: 422,
        body: { code: 'study.not-a-number', path: 'value', params: { line: 5, text: 'x' } },
      },
    })
    const w = await show(StudyView)
    const work = () => w.get('button[type=submit]')
    expect(work().attributes('aria-disabled'), 'a head alone is no study').toBe('true')
    await w.get('textarea').setValue(rows)
    await w.get('form').trigger('submit')
    await flushPromises()
    expect(asked.at(-1)!.body).toEqual({ file: rows })
    expect(w.get('[role=alert]').text()).not.toMatch(/study\.|[{}]|undefined/)
    expect(w.get<HTMLTextAreaElement>('textarea').element.value).toBe(rows)
    expect(w.find('section[aria-label]').exists()).toBe(false)
    w.unmount()
    expect((await show(StudyView)).get<HTMLTextAreaElement>('textarea').element.value, 'a reload loses nothing').toBe(
      rows,
    )
  })
})
