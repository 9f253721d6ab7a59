import { flushPromises } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { forget } from '@/api/client'
import { useSession } from '@/session/session'
import { family, server, show } from '@/testing/stage'
import DebriefView from './debrief/DebriefView.vue'
import MyJobs from './jobs/MyJobs.vue'
import ReviewsView from './reviews/ReviewsView.vue'
import JobDesk from './scenario/ScenarioDesk.vue'
import OwnFigures from './yard/OwnFigures.vue'
import SheetDesk from './yard/SheetDesk.vue'
import YardView from './yard/YardView.vue'

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
const people = [
  { id: 'p1', name: 'ines', display_name: 'Sam', role: 'apprentice' },
  { id: 'p2', name: 'rafi', display_name: 'Sam', role: 'apprentice' },
]
const card = (over: object) => ({
  id: 'a1',
  job_number: 4,
  machine_name: 'Lift pump',
  machine_code: 'LP-2',
  words: 'It coughs.',
  state: 'new',
  minutes: 0,
  limit_minutes: 60,
  apprentice: 'Sam',
  apprentice_id: 'p1',
  ...over,
})
const job = (attempts: object[]) => ({
  id: 'j',
  number: 4,
  machine_name: 'Lift pump',
  spec: { words: 'It coughs.' },
  attempts,
})

beforeEach(async () => {
  forget()
  localStorage.clear()
  setActivePinia(createPinia())
  useSession().me = { id: 'i', name: 'inst', display_name: 'Inst', role: 'instructor' }
})

describe('the yard', () => {
  it('tells who has a job by their id, though two have one name, and gives it in one request', async () => {
    const asked = server({
      'GET /api/jobs': { body: { items: [job([card({})])] } },
      'GET /api/machines': { body: [machine] },
      'GET /api/apprentices': { body: people },
      'POST /api/jobs/j/attempts': { body: job([]) },
    })
    const w = await show(YardView)
    const give = w.findComponent({ name: 'VSelect' })
    expect(give.props('items').map((o: { value: string }) => o.value)).toEqual(['p2'])
    await give.setValue('p2')
    await flushPromises()
    expect(asked.filter((a) => a.method === 'POST').map((a) => a.body)).toEqual([{ apprentices: ['p2'] }])
  })
  it('says why an attempt is stopped, and gives it anew at a press', async () => {
    const frozen = { path: '', code: 'attempt.shows-otherwise-now', params: { seq: 3 } }
    const asked = server({
      'GET /api/jobs': {
        body: {
          items: [job([card({ state: 'frozen', frozen }), card({ id: 'a2', state: 'in-hand', outdated: true })])],
        },
      },
      'GET /api/machines': { body: [] },
      'GET /api/apprentices': { body: [] },
      'POST /api/attempts/a1/renewal': { status: 204 },
    })
    const w = await show(YardView)
    expect(w.text()).toContain('Act 3 shows something else now than it did then. Give it anew;')
    expect(w.text()).toContain('another version of the engine model. Give it anew.')
    await w
      .findAll('button')
      .find((b) => b.text() === 'Give it anew')!
      .trigger('click')
    await flushPromises()
    expect(asked.some((a) => a.path === '/api/attempts/a1/renewal')).toBe(true)
  })
})

describe('the job desk', () => {
  const answers = (problems: object[]) => ({
    'GET /api/machines': { body: [machine] },
    'GET /api/apprentices': { body: people },
    'GET /api/families/f4-bowl': { body: family },
    'POST /api/preview': { body: { problems, rows: [], complaint_true: 0.9 } },
    'POST /api/jobs': { status: 201, body: job([]) },
  })
  const ready = async () => {
    vi.useFakeTimers()
    const w = await show(JobDesk)
    await vi.advanceTimersByTimeAsync(500)
    await flushPromises()
    vi.useRealTimers()
    return w
  }
  it('sets a job and gives it out in one request, under an id of its own', async () => {
    const asked = server(answers([]))
    const w = await ready()
    for (const box of w
      .findAll<HTMLInputElement>('input[type=checkbox]')
      .filter((b) => ['p1', 'p2'].includes(b.element.value)))
      await box.setValue(true)
    const set = () => w.findAll('button').find((b) => b.text().startsWith('Set the job'))!
    await set().trigger('click')
    const sent = () => asked.filter((a) => a.path === '/api/jobs')
    await vi.waitFor(() => expect(sent(), 'once what it comes to is known').toHaveLength(1))
    expect(sent()[0].body).toMatchObject({ apprentices: ['p1', 'p2'], machine_id: 'm' })
    expect(sent()[0].body!.id).toMatch(/^[0-9a-f-]{36}$/)
  })
  it('keeps what is typed on the device and says so; beginning anew can be taken back', async () => {
    server(answers([]))
    const w = await ready()
    const press = (name: string) => w.findAll('button').find((b) => b.text().startsWith(name))!
    expect(press('Begin anew').attributes('aria-disabled')).toBe('true')
    await w.get('textarea').setValue('It coughs.')
    expect(w.text()).toContain('Kept on this device')
    expect(localStorage.getItem('zanjero.job-desk.i')).toContain('It coughs.')
    await press('Begin anew').trigger('click')
    expect((w.get('textarea').element as HTMLTextAreaElement).value).toBe('')
    await press('Put it back').trigger('click')
    expect((w.get('textarea').element as HTMLTextAreaElement).value).toBe('It coughs.')
  })
  it('says what is missing in words, and cannot be pressed', async () => {
    server(
      answers([
        { path: 'faults', code: 'scenario.no-fault-hidden' },
        { path: 'words', code: 'scenario.no-words' },
      ]),
    )
    const w = await ready()
    expect(w.findAll('.hint').length).toBe(2)
    expect(
      w
        .findAll('button')
        .find((b) => b.text().startsWith('Set the job'))!
        .attributes('aria-description'),
    ).toContain('missing')
  })
})

describe('my jobs', () => {
  it('keeps what is marked, what is being marked and what is stopped apart', async () => {
    server({
      'GET /api/attempts': {
        body: {
          items: [
            card({ id: 'a1', words: 'Open one.' }),
            card({ id: 'a2', state: 'marking' }),
            card({ id: 'a3', state: 'handed-over', class: 'symptom-for-cause', mark: 31, of: 65 }),
            card({ id: 'a4', state: 'frozen' }),
          ],
        },
      },
    })
    const w = await show(MyJobs)
    expect(w.findAll('.card')).toHaveLength(1)
    expect(w.get('[aria-label="Handed over"]').text()).toMatch(/Being marked.*Symptom for cause.*31 of 65/s)
    expect(w.get('[aria-label="Stopped"]').text()).toContain('Ask your instructor')
    w.unmount()
  })
})

describe('the debrief', () => {
  const assessment = {
    form: 1,
    model_version: '1',
    truth: [{ id: 'main-jet-blocked', reach: 'jets', severity: 0.6, mended: true }],
    outcome: 'not-yet',
    against: [{ code: 'outcome.critical', seq: -1, good: false, marks: 0, of: 0 }],
    p: 0.62,
    cause_share: 0,
    falsely_accused: [],
    class: 'misled',
    verdict: [
      {
        code: 'conclusion.misled',
        params: { reach: 'jets', percent: '62 %', fault: 'main-jet-blocked' },
        seq: -1,
        good: false,
        marks: 0,
        of: 0,
      },
    ],
    sections: [
      { id: 'readings', mark: 3, of: 20, reasons: [] },
      { id: 'order', mark: 8, of: 10, reasons: [] },
      {
        id: 'proof',
        mark: 3,
        of: 10,
        reasons: [{ code: 'proof.too-short', params: { minutes: 2, needs: 12 }, seq: 1, good: false, marks: 0, of: 3 }],
      },
    ],
    readings: [
      {
        seq: 1,
        taken_at: 1,
        test: 'compression-dry',
        shown: { value: 62.3, unit: 'psi' },
        would_have: { value: 131, unit: 'psi' },
        typed: '62',
        unit: 'psi',
        valid: false,
        missed: ['throttle-open'],
        error_by_setup: -69,
        divisions: 0,
        read_right: false,
        slip: 'decimal',
        judged: 'within',
        judged_right: false,
        true_band: 'below',
      },
    ],
    points: [
      { seq: -1, minutes: 0, step: { kind: '' }, bits: 5, candidates: 9, theirs: {}, evidence: {}, standings: {} },
      {
        seq: 1,
        minutes: 4,
        step: { kind: 'repair', repair: 'clean', reach: 'jets' },
        bits: 2,
        candidates: 3,
        theirs: {},
        evidence: {},
        standings: {},
      },
    ],
    standings: {
      shown: { 'main-jet-blocked': 0.999 },
      recorded: { 'main-jet-blocked': 0.4 },
      as_if_valid: { 'main-jet-blocked': 0.001 },
    },
    handed_back: [
      { kind: 'cover', item: 'plugout' },
      { kind: 'fault', item: 'seized' },
    ],
    minutes: 4,
    limit_minutes: 60,
    money: 1,
    limit_money: 40,
    wasted: [],
    makeshifts: [],
    skipped: [{ seq: 1, test: 'compression-dry', precaution: 'ventilate' }],
    worth: { parts: 10, minutes: 20, labour: 15, cost: 25, value: 200, repair: true },
    hand_over: {},
    economy: {
      minutes: 4,
      money: 1,
      reference_minutes: 20,
      reference_money: 5,
      ratio: 0.2,
      useless: [],
      unfounded: [],
      reference: [
        { test: 'jet-look', outcome: 'part', minutes: 3 },
        { repair: 'clean', reach: 'jets', minutes: 9 },
        { test: 'start-attempt', outcome: 'runs-well', minutes: 5, proof: true },
      ],
    },
    order: [
      { seq: 1, test: 'compression-dry', regret_minutes: 4.2, better: 'jet-look' },
      { seq: 2, test: 'start-attempt', regret_minutes: 0, exempt: 'proof' },
    ],
    proof: { right: false, why: 'too-short' },
    skills: [],
  }
  const review = {
    after: 0,
    acts: [],
    changed: [],
    outcome_set: false,
    signed: false,
    appealed: false,
    appeal_open: false,
    seconds: [],
    may: ['line', 'outcome', 'comment', 'sign-off', 'ask-second'],
    blind: false,
  }
  const told = {
    attempt: 'a1',
    apprentice: 'Ines',
    job_number: 4,
    family: 'f4-bowl',
    machine_name: 'Lift pump',
    machine_code: 'LP-2',
    words: 'w',
    assessment,
    review,
  }
  const debriefed = (body: object) => ({
    'GET /api/attempts/a1/debrief': { body },
    'GET /api/families/f4-bowl': { body: family },
    'GET /api/markers': { body: [{ id: 'b', name: 'benna', display_name: 'Benna Loft', role: 'assessor' }] },
  })

  it('waits while it is marked, and then says every code in words', async () => {
    vi.useFakeTimers()
    let marked = false
    server({
      'GET /api/attempts/a1/debrief': () =>
        marked ? { body: told } : { status: 202, body: { attempt: 'a1', state: 'marking' } },
      'GET /api/families/f4-bowl': { body: family },
    })
    const w = await show(DebriefView, '/debrief/a1')
    expect(w.get('[role=status]').text()).toContain('Being marked')
    marked = true
    await vi.advanceTimersByTimeAsync(1500)
    await flushPromises()
    vi.useRealTimers()
    const text = w.text()
    for (const said of [
      'You named “Jets”, and the record pointed there (62 %). The cause was: Main jet blocked.',
      'The proof run lasted 2 minutes; this complaint needs 12 to show.',
      '62.3 psi',
      'the point in another place',
      'the throttle was shut',
      'in band',
      'plug out',
      'fault still in it: Engine seized',
      'over 99 %',
      'under 1 %',
    ])
      expect(text).toContain(said)
    expect(text, 'no code, id or hole is left').not.toMatch(/conclusion\.|proof\.|main-jet-blocked|[{}@]|undefined/)
    w.unmount()
  })
  it('lays the way of somebody competent under the way that was taken', async () => {
    server(debriefed(told))
    const w = await show(DebriefView, '/debrief/a1')
    const ways = w.findAll('ol[aria-label="Yours"], ol[aria-label="Competent"]')
    expect(ways.map((x) => x.findAll('li').length)).toEqual([1, 3])
    const widths = ways[1].findAll('li').map((x) => parseFloat(x.attributes('style')!.match(/width: ([\d.]+)%/)![1]))
    expect(widths[1] / widths[0], 'to scale').toBeCloseTo(3, 5)
    expect(ways[1].get('li.proof').text()).toContain('Try to start it')
    expect(w.text()).toContain('A precaution was left out that can kill or burn.')
    expect(w.text(), 'what could have been better').toMatch(/4.2 min.*Look through the jet/)
    w.unmount()
  })
  it('keeps the reason that was typed when somebody else was quicker, and sends how many acts it has seen', async () => {
    const asked = server({
      ...debriefed({ ...told, review: { ...review, after: 3 } }),
      'POST /api/attempts/a1/review': { status: 409, body: { code: 'http.review-moved-on' } },
    })
    const w = await show(DebriefView, '/debrief/a1')
    await w
      .findAll('button')
      .find((b) => b.text() === 'change')!
      .trigger('click')
    await w.get('input[maxlength="2000"]').setValue('I saw it stall.')
    await w
      .findAll('button')
      .find((b) => b.text() === 'Set')!
      .trigger('click')
    await flushPromises()
    const sent = asked.find((r) => r.method === 'POST')!.body!
    expect(sent).toMatchObject({ after: 3, kind: 'line', section: 'proof', line: 0, text: 'I saw it stall.' })
    expect(w.text()).toContain('omebody else has marked here meanwhile')
    expect(asked.filter((r) => r.path.endsWith('/debrief')).length, 'it is fetched anew').toBe(2)
    expect(w.get<HTMLInputElement>('input[maxlength="2000"]').element.value).toBe('I saw it stall.')
    w.unmount()
  })
  it('shows who marks second nothing but what was done', async () => {
    const blank = assessment.sections.map((s) => ({ ...s, mark: 0, reasons: [] }))
    const asked = server({
      ...debriefed({
        ...told,
        assessment: { ...assessment, class: '', outcome: '', against: [], verdict: [], order: [], sections: blank },
        review: { ...review, may: ['second'], blind: true },
      }),
      'POST /api/attempts/a1/review': { body: told },
    })
    const w = await show(DebriefView, '/debrief/a1')
    expect(w.find('[aria-label="Verdict"]').exists()).toBe(false)
    const give = () => w.findAll('button').find((b) => b.text().startsWith('Give these marks'))!
    expect(give().attributes('aria-disabled')).toBe('true')
    for (const [i, field] of w.findAll('input[inputmode="decimal"]').entries()) await field.setValue(String(i + 1))
    await w
      .findAll('button')
      .find((b) => b.text() === 'Not yet')!
      .trigger('click')
    await give().trigger('click')
    await flushPromises()
    expect(asked.find((r) => r.method === 'POST')!.body).toMatchObject({
      kind: 'second',
      outcome: 'not-yet',
      sections: { readings: 1, order: 2, proof: 3 },
    })
    w.unmount()
  })
  it('says what is wrong where there is none to read', async () => {
    server({ 'GET /api/attempts/a1/debrief': { status: 409, body: { code: 'http.frozen' } } })
    const w = await show(DebriefView, '/debrief/a1')
    expect(w.get('[role=alert]').text()).not.toContain('http.')
  })
})

describe('the queue of what is to review', () => {
  it('names what is to be looked at first and why, and keeps signed ones apart', async () => {
    const one = (over: object, of: object) => ({
      attempt: card({ state: 'handed-over', mark: 61, of: 100, class: 'guessed', ...of }),
      doubt: 0.6,
      outcome: 'not-yet',
      signed: false,
      appealed: false,
      yours: false,
      ...over,
    })
    server({
      'GET /api/reviews': {
        body: [
          one({ appealed: true }, { id: 'x1', apprentice: 'Ann' }),
          one(
            { yours: true, outcome: '' },
            { id: 'x2', apprentice: 'Bob', mark: undefined, of: undefined, class: undefined },
          ),
          one({}, { id: 'x3', apprentice: 'Cee' }),
          one({ signed: true }, { id: 'x4', apprentice: 'Dot' }),
        ],
      },
    })
    const w = await show(ReviewsView, '/reviews')
    const rows = () => w.findAll('tbody tr').map((r) => r.text())
    expect(rows()).toHaveLength(3)
    expect(rows()[0]).toContain('Another look is asked for')
    expect(rows()[1]).toMatch(/Bob.*–.*You are asked to mark it too/)
    expect(rows()[2]).toContain('Much in doubt')
    await w
      .findAll('button')
      .find((b) => b.text() === 'Signed off')!
      .trigger('click')
    expect(rows().map((r) => r.slice(0, 3))).toEqual(['Bob', 'Dot'])
    w.unmount()
  })
})

describe('the service sheet', () => {
  const gap = { id: 'plug_gap_mm', name: 'Plug gap', figure: { low: 0.65, high: 0.75, unit: 'mm', source: 'plate' } }
  const kind = { id: 'plug_gap_mm', name: 'Plug gap', group: 'spark', units: ['mm', 'in'], words: [], kind: 'mm' }
  const form = { family: 'f4-bowl', own: [gap], kinds: [kind], families: [{ id: 'f4-bowl', name: 'Four-stroke' }] }
  const own = { ...machine, sheet: [gap], revision: 4 }
  it('holds what is typed against the model, says what cannot be, and is kept with what it was made from', async () => {
    let problems: object[] = []
    const asked = server({
      'GET /api/machines': { body: [own] },
      'GET /api/sheets/f4-bowl': { body: form },
      'POST /api/sheets/f4-bowl': () => ({ body: { problems, healthy: [] } }),
      'PUT /api/machines/m': { status: 200, body: own },
    })
    const w = await show(SheetDesk, '/yard/machines/m', {}, {}, [
      { path: '/yard/machines/:machine', component: SheetDesk },
    ])
    const low = () => w.find<HTMLInputElement>('input[aria-label*="Plug gap"]')
    await expect.poll(() => low().exists()).toBe(true)
    expect(low().element.value).toBe('0.65')
    problems = [{ path: 'plug_gap_mm', code: 'catalogue.no-such', params: {} }]
    await low().setValue('9')
    const keep = () => w.findAll('button').find((b) => b.text().startsWith('Keep'))!
    await expect
      .poll(() => asked.filter((a) => a.method === 'POST').at(-1)?.body, { timeout: 3000 })
      .toMatchObject([{ id: 'plug_gap_mm', low: '9' }])
    await expect.poll(() => keep().attributes('aria-disabled')).toBe('true')
    problems = []
    await low().setValue('0.6')
    await expect.poll(() => keep().attributes('aria-disabled'), { timeout: 3000 }).toBeUndefined()
    await keep().trigger('click')
    await expect
      .poll(() => asked.find((a) => a.method === 'PUT')?.body)
      .toMatchObject({ revision: 4, sheet: [{ low: '0.6' }] })
  })
})

describe('the yard’s own figures', () => {
  const catalogue = {
    tests: { 'look-oil': 1, 'look-fuel': 1.5 },
    covers: { shroud: { off: 4, back: 5 } },
    rates: { 'plug-fouled': 12 },
  }
  const field = (w: Awaited<ReturnType<typeof show>>, label: string) =>
    w
      .findAllComponents({ name: 'VTextField' })
      .find(
        (f) =>
          f.props('label') === label ||
          f.attributes('aria-label') === label ||
          f.find('input').attributes('aria-label') === label,
      )!
  it('stand beside the catalogue’s, are kept with what they were made from, and go by leaving a field empty', async () => {
    const asked = server({
      'GET /api/own-figures': { body: { changes: 2, figures: { tests: { 'look-oil': 3 } }, catalogue } },
      'PUT /api/own-figures': { body: { changes: 3, figures: { covers: { shroud: { off: 9, back: 5 } } }, catalogue } },
    })
    const w = await show(OwnFigures)
    const keep = () => w.findAll('button').find((b) => b.text().startsWith('Keep'))!
    expect(w.findAll('tbody tr').map((r) => r.find('td').text())).toEqual(['1.5', '1'])
    expect(keep().attributes('aria-disabled')).toBe('true')
    await field(w, 'Look at the oil, our own').find('input').setValue('')
    await w
      .findAll('button')
      .find((b) => b.text() === 'Covers')!
      .trigger('click')
    await field(w, 'Off').find('input').setValue('9')
    await keep().trigger('click')
    await expect
      .poll(() => asked.find((a) => a.method === 'PUT')?.body)
      .toEqual({
        changes: 2,
        figures: { covers: { shroud: { off: 9, back: 5 } } },
      })
    await expect.poll(() => w.text()).toContain('Kept.')
    w.unmount()
  })
  it('say where they come from, and a rate can be one family’s', async () => {
    const both = { ...catalogue, family_rates: { 'f4-bowl': { 'plug-fouled': 8 } } }
    const figures = { tests: { 'look-oil': 3 }, sources: { 'tests.look-oil': 'timed in May' } }
    const asked = server({
      'GET /api/own-figures': { body: { changes: 2, figures, catalogue: both } },
      'PUT /api/own-figures': { body: { changes: 3, figures, catalogue: both } },
      'GET /api/own-rates': {
        body: {
          jobs: 3,
          rates: {},
          family_rates: { 'f4-bowl': { 'plug-fouled': { jobs: 3, mean: 9.123, low: 4, high: 16 } } },
        },
      },
    })
    const w = await show(OwnFigures)
    const from = field(w, 'Look at the oil, where it comes from').find('input')
    expect((from.element as HTMLInputElement).value).toBe('timed in May')
    expect(w.text()).toContain('common practice') // of the other, which is the catalogue's
    await field(w, 'Look at the oil, our own').find('input').setValue('')
    await w
      .findAll('button')
      .find((b) => b.text() === 'Faults')!
      .trigger('click')
    expect(w.find('tbody td').text()).toBe('12')
    await w.findAllComponents({ name: 'VSelect' })[0].setValue('f4-bowl')
    expect(w.find('tbody td').text()).toBe('8')
    await w
      .findAll('button')
      .find((b) => b.text() === 'Take it')!
      .trigger('click')
    expect((w.find('tbody td:nth-child(4) input').element as HTMLInputElement).value).toBe('9.12')
    expect((w.find('tbody td.from input').element as HTMLInputElement).value).toContain('3 of them')
    await w.find('tbody td:nth-child(4) input').setValue('2')
    await w.find('tbody td.from input').setValue('our books')
    await w
      .findAll('button')
      .find((b) => b.text().startsWith('Keep'))!
      .trigger('click')
    await expect
      .poll(() => asked.find((a) => a.method === 'PUT')?.body?.figures)
      .toEqual({
        family_rates: { 'f4-bowl': { 'plug-fouled': 2 } },
        sources: { 'family_rates.f4-bowl.plug-fouled': 'our books' },
      })
    w.unmount()
  })
  it('are put on top of what somebody else has kept meanwhile', async () => {
    let theirs = {}
    server({
      'GET /api/own-figures': () => ({ body: { changes: 2, figures: theirs, catalogue } }),
      'PUT /api/own-figures': { status: 409, body: { code: 'http.own-figures-changed-since-you-opened' } },
    })
    const w = await show(OwnFigures)
    await field(w, 'Look at the oil, our own').find('input').setValue('4')
    await w
      .findAll('button')
      .find((b) => b.text().startsWith('Keep'))!
      .trigger('click')
    await expect.poll(() => w.find('[role=alert].notice').exists()).toBe(true)
    theirs = { tests: { 'look-fuel': 7 } }
    await w
      .findAll('button')
      .find((b) => b.text() === 'Put mine on top of theirs')!
      .trigger('click')
    await expect.poll(() => field(w, 'Look at the fuel, our own').find('input').element.value).toBe('7')
    expect(field(w, 'Look at the oil, our own').find('input').element.value).toBe('4')
    w.unmount()
  })
})
