import { flushPromises } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { forget, type Schema } from '@/api/client'
import { useSession } from '@/session/session'
import { family, server, show } from '@/testing/stage'
import ComesOut from './ComesOut.vue'
import { deal } from './deal'
import GivePanel from './GivePanel.vue'
import LibraryView from './LibraryView.vue'
import OwnerPanel from './OwnerPanel.vue'
import ScenarioDesk from './ScenarioDesk.vue'
import { blank } from './useScenario'

const machine = {
  id: 'm',
  name: 'Lift pump',
  code: 'LP-2',
  family: 'f4-bowl',
  duty: '',
  family_name: 'Four-stroke',
  lacks: [],
  healthy: [],
  sheet: [],
  revision: 1,
}
const check = (over: Partial<Schema['ScenarioCheck']> = {}): Schema['ScenarioCheck'] => ({
  problems: [],
  complaint: { true: true, share: 1 },
  solvable: {
    true: true,
    often: 0.95,
    reaches: 0.97,
    minutes: 26.3,
    money: 2,
    tests: 1,
    test_minutes: 6,
    path: [
      { test: 'jet-look', outcome: 'part', minutes: 6 },
      { repair: 'clean', reach: 'jets', minutes: 9 },
      { test: 'start-attempt', outcome: 'runs-well', minutes: 5.4, proof: true },
    ],
  },
  difficulty: {
    level: 3,
    score: 2.4,
    bits: 3.19,
    best_bits_per_minute: 0.98,
    explanations: 34,
    traps: ['zeroed'],
    time_effects: ['comes-back', 'hidden-by.fuel-flow'],
    faults: 1,
    distractors: 0,
  },
  confused_with: [{ faults: ['emulsion-blocked'], separated_by: ['jet-look'] }],
  giveaway: undefined,
  hazards: ['fire'],
  proof: { test: 'start-attempt', minutes: 1 },
  ...over,
})
const line = (over: object) => ({
  id: 's1',
  title: 'The jet',
  owner: 'Sam',
  machine_id: 'm',
  machine_name: 'Lift pump',
  machine_code: 'LP-2',
  family: 'f4-bowl',
  complaint: 'no-start',
  laterals: ['fuel'],
  level: 3,
  minutes: 20,
  changes: 4,
  changed_at: '2026-01-01T00:00:00Z',
  archived: false,
  revisions: 1,
  given: 0,
  marked: 0,
  ...over,
})
const form = {
  title: 'The jet',
  machine: 'f4-bowl',
  faults: [],
  complaint: '',
  words: 'It coughs.',
  limit_minutes: 60,
  limit_money: 40,
}
const press = (w: Awaited<ReturnType<typeof show>>, name: string) =>
  w
    .findAll('button')
    .find((b) => b.text() === name)!
    .trigger('click')

beforeEach(() => {
  forget()
  localStorage.clear()
  setActivePinia(createPinia())
  useSession().me = { id: 'i', name: 'inst', display_name: 'Inst', role: 'instructor' }
})

describe('what a scenario comes to', () => {
  const at = (over: object) =>
    show(
      ComesOut,
      '/',
      {},
      {
        preview: { problems: [], rows: [], complaint_true: 0.96 },
        check: null,
        trouble: null,
        checking: false,
        ...over,
      },
    )
  it('is told part by part: the way, how hard, what it is taken for, and what gives it away', async () => {
    const w = await at({ check: check() })
    expect(w.findAll('.way li').map((l) => l.text())).toEqual([
      expect.stringContaining('Look through the jet'),
      expect.stringContaining('Clean'),
      expect.stringContaining('Try to start it'),
    ])
    expect(w.text()).toContain('Yes: in 95 of 100 jobs within the limits, in about 26 minutes.')
    expect(w.text()).toContain('Level 3 of 5')
    expect(w.text()).toContain('runs again once it has stood')
    expect(w.text()).toContain('told apart by: Look through the jet')
    expect(w.text()).toContain('No first look gives it away.')
    await w.setProps({
      check: check({ giveaway: 'jet-look', confused_with: [{ faults: ['a'], separated_by: [] }] }),
    } as object)
    expect(w.text()).toContain('One first look gives it away: Look through the jet.')
    expect(w.text()).toContain('no test here tells them apart')
  })
  it('says what keeps it from being found', async () => {
    const c = check({ problems: [{ path: 'faults', code: 'scenario.not-found', params: { percent: 40 } }] })
    c.solvable = { ...c.solvable, true: false, reaches: 0.4 }
    const w = await at({ check: c })
    expect(w.text()).toContain('Not as it stands: 40 % sure in the end')
    expect(w.text()).toContain('does not find it with what is on the bench')
  })
})

describe('equal variants', () => {
  const id = '00000000-0000-0000-0000-0000000000ff'
  const spec = (apprentices: string[]) => ({ ...blank(), id, apprentices }) as unknown as Schema['JobSpec']
  const variant = { ...form, faults: [{ id: 'emulsion-blocked', severity: 0.9 }], limit_minutes: 75 }
  it('are dealt in turn, so that neighbours differ, each a job under an id that stays', () => {
    const jobs = deal(spec(['a', 'b', 'c', 'd', 'e']), [variant, variant])
    expect(jobs.map((j) => j.apprentices)).toEqual([['a', 'd'], ['b', 'e'], ['c']])
    expect(jobs[1]).toMatchObject({ faults: variant.faults, limit_minutes: 75 })
    expect(new Set(jobs.map((j) => j.id)).size).toBe(3)
    expect(jobs.every((j) => j.giving === id)).toBe(true)
    expect(deal(spec(['a', 'b', 'c', 'd', 'e']), [variant, variant])).toEqual(jobs)
  })
  it('that nobody is left for are not set', () => {
    expect(deal(spec(['a']), [variant])).toHaveLength(1)
    expect(deal(spec([]), [variant])).toHaveLength(1)
  })
})

describe('what the owner brings', () => {
  it('has the words of the complaint until somebody has written others', async () => {
    const draft = { ...blank(), machine_id: 'm' }
    const w = await show(OwnerPanel, '/', {}, { modelValue: draft, fam: family, spec: draft, problems: [] })
    const choose = (id: string) => w.findAllComponents({ name: 'VAutocomplete' })[0].vm.$emit('update:modelValue', id)
    choose('races')
    expect(draft).toMatchObject({ claim: 'races', words: expect.stringContaining('It screams') })
    choose('drips')
    expect(draft.words).toContain('There is fuel under it')
    draft.words = 'It leaks.'
    choose('races')
    expect(draft).toMatchObject({ claim: 'races', words: 'It leaks.' })
  })
})

describe('giving it out', () => {
  it('has times by the clock here, and says why it cannot be set or tried', async () => {
    const draft = { ...blank(), opens_at: new Date(2026, 0, 5, 8, 30).toISOString() }
    const w = await show(
      GivePanel,
      '/',
      {},
      { modelValue: draft, apprentices: [], classes: [], variants: 2, refusal: null, busy: false, not: 'Not yet' },
    )
    expect(w.find<HTMLInputElement>('input[type=datetime-local]').element.value).toBe('2026-01-05T08:30')
    expect(w.text()).toContain('Others as hard: 2.')
    expect(w.findAll('[aria-description="Not yet"]')).toHaveLength(2)
    await w.setProps({ not: '' } as object)
    await press(w, 'Try it')
    expect(w.emitted('try')).toHaveLength(1)
    await w.findAll('input[type=datetime-local]')[1].setValue('2026-01-05T10:00')
    expect(w.emitted('update:modelValue')!.at(-1)).toMatchObject([
      { closes_at: new Date(2026, 0, 5, 10).toISOString() },
    ])
  })
})

describe('the library', () => {
  it('is found through by level and words, and says where what came of it is not what was computed', async () => {
    server({
      'GET /api/scenarios': {
        body: [
          line({ given: 4, marked: 3, share: 0.3, took: 50 }),
          line({ id: 's2', title: 'The cap', level: 5, given: 2, marked: 2, share: 0.8, took: 90 }),
          line({ id: 's3', title: 'Away', archived: true }),
        ],
      },
    })
    const w = await show(LibraryView)
    expect(w.findAll('tbody tr').map((r) => r.text())).toEqual([
      expect.stringMatching(/The jet.*30 of 100 marks, 50 min.*Harder than computed/s),
      expect.stringMatching(/The cap.*Takes longer than computed/s),
    ])
    await press(w, '5')
    expect(w.findAll('tbody tr')).toHaveLength(1)
    await press(w, 'Any')
    await w.find('input').setValue('jet')
    expect(w.findAll('tbody tr')).toHaveLength(1)
  })
})

describe('a scenario of the library', () => {
  const ready = async (answers: object) => {
    vi.useFakeTimers()
    const asked = server({
      'GET /api/machines': { body: [machine] },
      'GET /api/apprentices': { body: [] },
      'GET /api/classes': { body: [] },
      'GET /api/procedures': { body: [] },
      'GET /api/families/f4-bowl': { body: family },
      'POST /api/preview': { body: { problems: [], rows: [], complaint_true: 0.9 } },
      'POST /api/scenario-checks': { body: check() },
      'GET /api/scenarios/s1': { body: { line: line({}), draft: form } },
      ...answers,
    })
    const w = await show(ScenarioDesk, '/', { LateralBoard: true }, { id: 's1' })
    await vi.advanceTimersByTimeAsync(600)
    await flushPromises()
    return { w, asked }
  }
  const settle = async () => {
    await vi.advanceTimersByTimeAsync(1500)
    await flushPromises()
  }
  it('is kept by the server a moment after it was typed, made from what stood there', async () => {
    const { w, asked } = await ready({
      'PUT /api/scenarios/s1': { body: { line: line({ changes: 5 }), draft: form } },
    })
    const name = w.find<HTMLInputElement>('input')
    expect(name.element.value).toBe('The jet')
    await name.setValue('The main jet')
    expect(w.find('.kept').text()).toBe('saving …')
    await settle()
    const put = asked.filter((a) => a.method === 'PUT')
    expect(put).toHaveLength(1)
    expect(put[0].body).toMatchObject({ changes: 4, machine_id: 'm', draft: { title: 'The main jet' } })
    expect(w.find('.kept').text()).toBe('saved')
    vi.useRealTimers()
    w.unmount()
  })
  it.each([
    { problems: [], set: 1 },
    { problems: [{ path: 'faults', code: 'scenario.not-found', params: {} }], set: 0 },
  ])('is set once it is known whether it can be, where it was pressed before: $set', async ({ problems, set }) => {
    let answer = () => {}
    const { w, asked } = await ready({
      'POST /api/preview': () =>
        new Promise((told) => (answer = () => told({ body: { problems, rows: [], complaint_true: 1 } }))),
      'POST /api/jobs': { status: 201, body: { attempts: [] } },
    })
    await press(w, 'Set the job')
    await settle()
    const jobs = () => asked.filter((a) => a.path === '/api/jobs' && a.method === 'POST')
    expect(jobs()).toHaveLength(0)
    answer()
    await settle()
    expect(jobs()).toHaveLength(set)
    vi.useRealTimers()
    w.unmount()
  })
  it('shows both where somebody else has kept another, and the one that is chosen stands', async () => {
    let calls = 0
    const now = { line: line({ changes: 9, owner: 'Pat' }), draft: { ...form, title: 'Theirs' } }
    const { w, asked } = await ready({
      'PUT /api/scenarios/s1': () =>
        ++calls === 1 ? { status: 409, body: { code: 'x', problem: 'x', mend: 'x', now } } : { body: now },
    })
    await w.find('input').setValue('Mine')
    await settle()
    expect(w.find('.refusal[role=alert]').text()).toContain('Pat or somebody else has kept another version')
    await press(w, 'Mine')
    await settle()
    expect(asked.filter((a) => a.method === 'PUT').at(-1)?.body).toMatchObject({ changes: 9, draft: { title: 'Mine' } })
    vi.useRealTimers()
    w.unmount()
  })
})
