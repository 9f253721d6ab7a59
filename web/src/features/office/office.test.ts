import { flushPromises } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { forget } from '@/api/client'
import { useSession } from '@/session/session'
import { server, show } from '@/testing/stage'
import AnalysisView from './AnalysisView.vue'
import PeopleView from './PeopleView.vue'
import RecordView from './RecordView.vue'
import RosterView from './RosterView.vue'

type Shown = Awaited<ReturnType<typeof show>>
const button = (w: Shown, name: string) => w.findAll('button').find((b) => b.text().startsWith(name))!

beforeEach(() => {
  forget()
  localStorage.clear()
  document.body.innerHTML = ''
  vi.stubGlobal('visualViewport', new EventTarget())
  setActivePinia(createPinia())
  useSession().me = { id: 'c', name: 'wenda', display_name: 'Wenda', role: 'coordinator' }
})

describe('a roster', () => {
  const row = (over: object) => ({
    table: 'users',
    id: 'u7',
    title: 'Ada Lane',
    file: 'users.csv',
    line: 3,
    act: 'added',
    ...over,
  })
  const compared = (over: object = {}) => ({
    fingerprint: 'f1',
    ok: true,
    counts: { added: 1 },
    rows: [row({})],
    more: 0,
    ...over,
  })
  const choose = async (w: Shown, name = 'roster.csv') => {
    const input = w.get<HTMLInputElement>('input[type=file]')
    Object.defineProperty(input.element, 'files', { value: [new File(['a,b\n'], name)], configurable: true })
    await input.trigger('change')
    await vi.waitFor(() => expect(w.find('[role=status]').exists()).toBe(false))
    await flushPromises()
  }
  it('is compared row by row, and none of it is taken in while something is wrong', async () => {
    const wrong = row({ act: 'wrong', wrong: [{ path: 'email', code: 'roster.plain-no-name', params: {} }] })
    const asked = server({
      'POST /api/roster/comparison': { body: compared({ ok: false, counts: { wrong: 1 }, rows: [wrong] }) },
    })
    const w = await show(RosterView)
    await choose(w)
    expect(asked[0].body).toEqual({ name: 'roster.csv', file: btoa('a,b\n') })
    expect(w.get('tbody').text()).toContain('Ada Lane')
    expect(w.get('tbody').text()).toMatch(/users\.csv.*3/)
    expect(button(w, 'Take it in').attributes('aria-disabled')).toBe('true')
    await button(w, 'Take it in').trigger('click')
    expect(asked).toHaveLength(1)
  })
  it('is taken in as it was compared; what has changed since is said, and the comparison stays', async () => {
    let moved = true
    const asked = server({
      'POST /api/roster/comparison': { body: compared() },
      'POST /api/roster': () => ({
        lines: [
          { done: 0.5 },
          moved
            ? { error: { code: 'roster.nothing-in-it', problem: 'x', mend: 'y' } }
            : { done: 1, counts: { added: 1 } },
        ],
      }),
    })
    const w = await show(RosterView)
    await choose(w)
    await button(w, 'Take it in').trigger('click')
    await vi.waitFor(() => expect(w.find('[role=alert]').exists()).toBe(true))
    expect(asked.at(-1)!.body).toMatchObject({ fingerprint: 'f1', name: 'roster.csv' })
    expect(w.find('tbody').exists(), 'it is still there to be tried again').toBe(true)
    moved = false
    await button(w, 'Take it in').trigger('click')
    await vi.waitFor(() => expect(w.find('.taken').exists()).toBe(true))
    expect(w.find('[role=alert]').exists()).toBe(false)
  })
})

describe('who is here', () => {
  const person = (over: object) => ({
    id: 'p1',
    name: 'ines',
    display_name: 'Ines Calder',
    role: 'apprentice',
    here: true,
    classes: [],
    signs_in: 'own',
    ...over,
  })
  const people = [
    person({}),
    person({ id: 'p2', name: 'rafi', display_name: 'Rafi Onwell', classes: ['k'] }),
    person({ id: 'p3', name: 'ben', display_name: 'Benna Loft', role: 'assessor' }),
    person({ id: 'p4', name: 'old', display_name: 'Gone Away', here: false }),
  ]
  const group = {
    id: 'k',
    title: 'Morning',
    term: 'autumn',
    ends: '2027-01-31',
    members: [{ person: 'p2', role: 'apprentice' }],
  }
  const open = async (more: object = {}) => {
    const asked = server({ 'GET /api/people': { body: people }, 'GET /api/classes': { body: [group] }, ...more })
    return { w: await show(PeopleView), asked }
  }
  const names = (w: Shown) => w.findAll('tbody tr').map((r) => r.findAll('td')[1].text())

  it('is found by class, by having none, by having left, and by name', async () => {
    const { w } = await open()
    expect(names(w)).toEqual(['Ines Calder', 'Rafi Onwell', 'Benna Loft'])
    const list = (title: string) => w.findAll('.classes .v-list-item').find((i) => i.text().includes(title))!
    await list('Morning').trigger('click')
    expect(names(w)).toEqual(['Rafi Onwell'])
    await list('left').trigger('click')
    expect(names(w)).toEqual(['Gone Away'])
    await list('Everybody').trigger('click')
    await w.get('input[maxlength="60"]').setValue('CALDER')
    expect(names(w)).toEqual(['Ines Calder'])
  })
  it('loses nothing of what was typed of somebody that is refused, or over a reload', async () => {
    const refused = { status: 422, body: { code: 'http.no-such-person', path: 'name', problem: 'x', mend: 'y' } }
    const { w, asked } = await open({ 'POST /api/people': refused })
    await button(w, 'Add').trigger('click')
    await flushPromises()
    const form = () => document.querySelector('form[role=document]')!
    const name = () => form().querySelector('input')! as HTMLInputElement
    name().value = 'Ada Lane'
    name().dispatchEvent(new Event('input'))
    await flushPromises()
    form().dispatchEvent(new Event('submit'))
    await vi.waitFor(() => expect(form().querySelector('.refusal')).not.toBeNull())
    expect(asked.find((a) => a.method === 'POST')!.body).toMatchObject({ display_name: 'Ada Lane', role: 'apprentice' })
    expect(name().value).toBe('Ada Lane')
    w.unmount()
    document.body.innerHTML = ''
    const again = await open({ 'POST /api/people': { status: 201, body: person({}) } })
    await flushPromises()
    expect(name().value, 'the form is open again').toBe('Ada Lane')
    form().dispatchEvent(new Event('submit'))
    await vi.waitFor(() => expect(JSON.parse(localStorage.getItem('office.person') ?? 'null')).toBeNull())
    again.w.unmount()
  })
})

describe('what somebody has shown', () => {
  const attempt = (id: string, over: object = {}) => ({
    id,
    job: 4,
    machine: 'Lift pump LP-2',
    at: '2026-11-01T10:00:00Z',
    minutes: 30,
    mark: 80,
    of: 100,
    outcome: 'competent',
    class: 'proven',
    signed: false,
    ...over,
  })
  const square = (over: object) => ({
    skill: 'readings',
    lateral: 'spark',
    score: 0.82,
    trend: 0.2,
    shown: true,
    evidence: [],
    ...over,
  })
  it('has behind each square the jobs that it stands on, the latest first, and says what is not counted', async () => {
    const body = {
      person: { id: 'p1', name: 'ines', display_name: 'Ines Calder', role: 'apprentice' },
      classes: ['Morning'],
      standard: 'Outside list',
      stands: [
        { code: 'A1', text: 'Finds it', shown: 2, of: 2 },
        { code: 'A2', text: 'Nothing tied', shown: 0, of: 0 },
      ],
      observed: [],
      sensed: [],
      record: {
        minutes: 90,
        competent: 1,
        attempts: [attempt('b', { job: 9, untested: true }), attempt('a')],
        squares: [
          square({
            evidence: [
              { attempt: 'a', score: 0.7 },
              { attempt: 'gone', score: 1 },
              { attempt: 'b', score: 0.94 },
            ],
          }),
          square({ skill: 'order', trend: -0.2, shown: false, score: 0.4 }),
        ],
      },
    }
    server({ 'GET /api/people/p1/record': { body } })
    const w = await show(RecordView, '/', {}, { person: 'p1' })
    const squares = w.findAll('button.square')
    expect(squares.map((s) => s.text())).toEqual([
      expect.stringMatching(/^82.*↗.*✓$/),
      expect.stringMatching(/^40.*↘$/),
    ])
    expect(squares[0].attributes('aria-label')).toMatch(/82/)
    expect(w.findAll('.dry'), 'of 24 squares').toHaveLength(22)
    await squares[0].trigger('click')
    expect(
      w.findAll('.behind li').map((l) => l.get('b').text()),
      'what is gone is not made up',
    ).toEqual(['94', '70'])
    expect(w.findAll('.behind li')[0].text()).toContain('nothing tested')
    expect(
      w.findAll('.lines li').map((l) => l.classes('met')),
      'nothing tied is not met',
    ).toEqual([true, false])
    expect(w.text()).not.toMatch(/undefined|NaN|record\.\w/)
  })
})

describe('what a class gets wrong together', () => {
  const analysis = (over: object = {}) => ({
    attempts: 5,
    confused: [
      { true: 'jets', named: 'jets', times: 3, minutes: 0 },
      { true: 'jets', named: 'coil', times: 1, minutes: 40 },
      { true: 'coil', named: '', times: 1, minutes: 25 },
    ],
    turns: [],
    trust: [
      { test: 'jet-look', best: 4, taken: 1 },
      { test: 'spark-gap', best: 2, taken: 0 },
      { test: 'pull-feel', best: 9, taken: 8 },
    ],
    set_ups: [],
    jobs: [],
    markers: { n: 0, kappa: 0, error: 0, low: 0, high: 0 },
    teach: [{ kind: 'apart', a: 'jets', b: 'coil', minutes: 40, times: 1 }],
    ...over,
  })
  const open = (over: object = {}) => {
    server({
      'GET /api/classes/k/analysis': { body: { title: 'Morning', analysis: analysis(over), numbers: {}, sensed: [] } },
    })
    return show(AnalysisView, '/', {}, { id: 'k' })
  }
  it('sets what was hidden against what was named, with a column for nothing named', async () => {
    const w = await open()
    expect(
      w
        .findAll('.matrix thead th')
        .map((h) => h.text())
        .slice(1),
    ).toEqual(['Coil', 'Jets', 'Nothing'])
    expect(w.findAll('.matrix tbody tr').map((r) => r.findAll('td').map((c) => c.text()))).toEqual([
      ['', '', '1'],
      ['1', '3', ''],
    ])
    expect(w.findAll('.matrix td.wrong')).toHaveLength(2)
    expect(w.get('[aria-label="Teach next"] li').text()).toMatch(/Jets.*Coil|Coil.*Jets/)
  })
  it('calls a test distrusted where it was best three times and half of them left it', async () => {
    const w = await open()
    const said = w
      .findAll('.bars li')
      .map((l) => l.text())
      .join('\n')
    expect(said).toContain('Look through the jet')
    expect(said).not.toContain('Feel the pull')
    expect(said).not.toContain('spark tester')
  })
  it('says that there is nothing yet, and draws no empty tables', async () => {
    const w = await open({ attempts: 0, confused: [], teach: [], trust: [] })
    expect(w.find('table').exists()).toBe(false)
    expect(w.text()).not.toMatch(/NaN|undefined/)
  })
})
