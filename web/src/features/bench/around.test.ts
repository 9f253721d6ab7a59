import { flushPromises } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { forget, type Schema } from '@/api/client'
import { family as bare, server, show } from '@/testing/stage'
import BenchHead from './BenchHead.vue'
import HandOver from './HandOver.vue'
import PagePanel from './PagePanel.vue'
import ShortcutSheet from './ShortcutSheet.vue'
import ThumbBar from './ThumbBar.vue'
import WalkRound from './WalkRound.vue'

const family = {
  ...bare,
  tests: [
    { id: 'start-attempt', title: 'Try to start it', kind: 'run', reaches: [], words: [], hazards: [] },
    { id: 'jet-look', title: 'Look through the jet', kind: 'look', reaches: ['jets'], words: ['none'], hazards: [] },
  ],
  covers: [{ id: 'plugout', name: 'Spark plug', off: 'plug out', note: '' }],
} as unknown as Schema['Family']
const line = (seq: number, test: string, title: string, result: string) => ({
  seq,
  at_min: seq,
  kind: 'take',
  test,
  title,
  result,
  waiting: false,
})
const bench = (over: object = {}) =>
  ({
    id: 'a',
    state: 'in-hand',
    job_number: 4,
    family: 'f4-bowl',
    machine_name: 'Lift pump',
    machine_code: 'LP-2',
    words: 'It coughs.',
    history: '',
    mode: 'guided',
    first: false,
    minutes: 12,
    limit_minutes: 60,
    money: 2,
    limit_money: 40,
    seq: 5,
    has: [],
    controls: {},
    taken: [],
    open: [],
    board: { jets: 'condemned' },
    sheet: [],
    tray: [],
    ledger: [
      line(1, 'jet-look', 'Look through the jet', 'no light'),
      line(3, 'start-attempt', 'Try to start it', 'runs well'),
    ],
    ...over,
  }) as unknown as Schema['Bench']

beforeEach(() => {
  forget()
  localStorage.clear()
  setActivePinia(createPinia())
  document.body.innerHTML = ''
})

describe('the head of the bench', () => {
  const head = (props: object) =>
    show(BenchHead, '/', {}, { bench: bench(), home: '/jobs', offline: false, kept: 0, busy: false, ...props })
  it('says whether all is saved, on its way, or kept here', async () => {
    expect((await head({})).get('.kept').text()).toBe('saved')
    expect((await head({ busy: true })).get('.kept').text()).toBe('saving …')
    const cut = await head({ offline: true, kept: 2 })
    expect(cut.get('.kept').text()).toBe('not sent')
    expect(cut.get('.flag').text()).toContain('2')
  })
  it('shows minutes and parts spent, and says when they are over', async () => {
    const w = await head({ bench: bench({ minutes: 61 }) })
    expect(w.findAll('.count').map((c) => [c.classes('over'), c.text()])).toEqual([
      [true, '61 of 60 min'],
      [false, '2.00 of 40.00 parts'],
    ])
  })
  it('opens what lies beside the bench', async () => {
    const w = await head({})
    await w.get('[aria-label="Job aids"]').trigger('click')
    expect(w.emitted('aids')).toHaveLength(1)
  })
})

it('one press of a thumb goes to each part of the bench', async () => {
  const part = document.createElement('div')
  part.className = 'ledger'
  part.scrollIntoView = vi.fn()
  const w = await show(ThumbBar)
  document.body.append(part)
  await w.findAll('button').at(-1)!.trigger('click')
  expect(part.scrollIntoView).toHaveBeenCalledOnce()
})

it('says what each key does', async () => {
  const w = await show(ShortcutSheet, '/', { VDialog: { template: '<div><slot/></div>' } }, { modelValue: true })
  const said = w.findAll('dt').map((d) => d.text())
  expect(said.join(' ')).toMatch(/F.*S.*X.*U/)
  expect(w.findAll('dd').every((d) => d.text() !== '')).toBe(true)
})

it('walks round the machine: what is off or spilt, and puts it right', async () => {
  const w = await show(WalkRound, '/', {}, { family, bench: bench({ open: ['plugout'], spilt: true }) })
  expect(w.text()).toContain('Plug out.')
  for (const b of w.findAll('.found button')) await b.trigger('click')
  expect(w.emitted('event')).toEqual([
    [{ kind: 'cover', cover: 'plugout', off: false }],
    [{ kind: 'do', do: 'wipe-spill' }],
  ])
})

describe('the hand-over', () => {
  const answers = (over: object = {}) => ({
    'GET /api/attempts/a': { body: bench(over) },
    'GET /api/families/f4-bowl': { body: family },
    'PUT /api/attempts/a/draft': { status: 204 },
    'POST /api/attempts/a/hand-over': { status: 202, body: { attempt: 'a', state: 'marking' } },
  })
  const form = async () => {
    const at = await show(HandOver, '/bench/a/hand-over')
    await flushPromises()
    return at
  }
  it('begins with what was condemned, takes evidence by a press, and keeps it on the device at once', async () => {
    server(answers())
    const w = await form()
    const chips = w.findAll('button.chip')
    expect(chips.map((c) => c.text())).toEqual(['Look through the jet: no light', 'Try to start it: runs well'])
    await chips[0].trigger('click')
    const kept = JSON.parse(localStorage.getItem('zanjero.hand-over.a')!)
    expect(kept.findings).toEqual([{ reach: 'jets', filing: 'root', fault: '', evidence: [1] }])
  })
  it('goes on from the draft that the server has', async () => {
    server(
      answers({
        draft: {
          findings: [{ reach: 'jets', filing: 'root', fault: 'main-jet-blocked', evidence: [1] }],
          verdict: 'repaired',
          proof_seq: 3,
        },
      }),
    )
    const w = await form()
    expect(w.get('button.chip').attributes('aria-pressed')).toBe('true')
    expect(w.text()).toContain('Main jet blocked')
  })
  it('hands over what is filled in; what is refused stays, with what to mend', async () => {
    const refused = { path: 'verdict', code: 'assess.no-verdict', params: { verdict: '' } }
    const asked = server({
      ...answers(),
      'POST /api/attempts/a/hand-over': { status: 422, body: { ...refused, problem: 'x', mend: 'y', all: [refused] } },
    })
    const w = await form()
    await w.get('button.big').trigger('click')
    await flushPromises()
    const sent = asked.find((x) => x.path.endsWith('/hand-over'))!.body!
    expect(sent.findings).toEqual([{ reach: 'jets', filing: 'root', evidence: [] }])
    expect(w.get('.refusal').text()).not.toBe('')
    expect(localStorage.getItem('zanjero.hand-over.a')).not.toBeNull()
  })
})

describe('the page that is followed', () => {
  const page = (more: Partial<Schema['BenchPage']> = {}): Schema['BenchPage'] => ({
    title: 'Look first',
    at: 1,
    of: 12,
    ended: false,
    passed: [{ place: 0, test: 'look-switches', seq: 0, outcome: { when: ['otherwise'], then: 'next' } }],
    step: { test: 'compression-dry', setup: { throttle: 1 }, precautions: ['ventilate'], note: 'Five pulls.' },
    ...more,
  })
  const panel = (more: object) => show(PagePanel, '/', {}, { page: page(), family, taken: [], ...more })
  it('says the step, what comes first, and takes its test up by a press', async () => {
    const w = await panel({})
    expect(w.text()).toContain('step 2 of 12')
    expect(w.text()).toContain('Five pulls.')
    expect(w.get('.before').text()).toContain('First:')
    await w
      .findAll('button')
      .find((b) => b.text() === 'Take it up')!
      .trigger('click')
    expect(w.emitted('choose')).toEqual([['compression-dry']])
  })
  it('makes room once its test is in hand, and says nothing more of what has been done first', async () => {
    const w = await panel({ inHand: 'compression-dry', taken: ['ventilate'] })
    expect(w.text()).not.toContain('Five pulls.')
    expect(w.find('.before').exists()).toBe(false)
  })
  it('is come back to by a press once it is left, and says what it came to at its end', async () => {
    const left = await panel({ page: page({ left: 'safety' }) })
    expect(left.text()).toContain('It is not safe to go on by it')
    await left.get('button').trigger('click')
    expect(left.emitted('event')).toEqual([[{ kind: 'page' }]])
    const passed = [
      {
        place: 0,
        test: 'look-switches',
        seq: 0,
        outcome: { when: ['stop'], then: 'conclude', faults: ['switch-off'] },
      },
    ]
    expect((await panel({ page: page({ at: 12, step: undefined, ended: true, passed }) })).text()).toContain(
      'Stop switch left in STOP',
    )
    expect((await panel({ page: page({ at: 12, step: undefined, passed: [] }) })).text()).toContain(
      'The page ends here',
    )
  })
})
