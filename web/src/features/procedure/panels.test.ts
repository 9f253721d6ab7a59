import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import { forget, type Schema } from '@/api/client'
import { useSession } from '@/session/session'
import { family as bare, server, show } from '@/testing/stage'
import '@/words/yard'
import BandScale from './BandScale.vue'
import BetterOrders from './BetterOrders.vue'
import ComesTo from './ComesTo.vue'
import DitchView from './DitchView.vue'
import HeatTable from './HeatTable.vue'
import OutcomeRow from './OutcomeRow.vue'
import PageFace from './PageFace.vue'
import ProcedureDesk from './ProcedureDesk.vue'
import ProceduresView from './ProceduresView.vue'
import StepList from './StepList.vue'
import StepPanel from './StepPanel.vue'

type Step = Schema['ProcedureStep']
type Outcome = Schema['ProcedureOutcome']
type Mounted = Awaited<ReturnType<typeof show>>

const test = (over: object) =>
  ({
    lateral: 'fuel',
    minutes: 4,
    access: [],
    reaches: [],
    hazards: [],
    words: [],
    units: [],
    valid: [],
    ...over,
  }) as never
const family = {
  ...bare,
  tests: [
    test({
      id: 'compression-dry',
      title: 'Compression, dry',
      kind: 'number',
      units: ['kPa'],
      instrument: 'compression-gauge',
    }),
    test({ id: 'start-attempt', title: 'Try to start it', kind: 'run', words: ['no-fire', 'runs-well'] }),
  ],
  actions: [{ id: 'ventilate', name: 'Ventilate', kind: 'precaution', minutes: 1 }],
} as never as Schema['Family']
const otherwise: Outcome = { when: ['otherwise'], then: 'next' }
const steps: Step[] = [
  {
    id: 'a',
    test: 'compression-dry',
    outcomes: [{ to: 400, then: 'conclude', faults: ['main-jet-blocked'] }, otherwise],
  },
  { id: 'b', test: 'start-attempt', outcomes: [{ when: ['runs-well'], then: 'stop', why: 'It runs.' }, otherwise] },
]
const seen: Schema['Seen'] = {
  unit: 'kPa',
  least: 0,
  most: 1000,
  division: 10,
  low: 500,
  high: 800,
  sound: [0, 0.2, 0.6, 0.2],
  come: [0.5, 0.3, 0.2, 0],
}
/** Two steps: three in ten are named right at the first, one in ten wrongly; one in five goes past the second. */
const evaluated: Schema['Evaluation'] = {
  procedure: 'p',
  revision: 1,
  family: 'f4-bowl',
  hypotheses: [
    {
      fault: 'main-jet-blocked',
      prior: 1,
      minutes: 1,
      money: 0,
      worst_minutes: 1,
      path: [],
      levels: {},
      detected: [0.4, 0.1],
      isolated: [0.3, 0],
      ends: [
        { step: 'a', level: 'part', p: 0.3, minutes: 1 },
        { step: 'a', level: 'wrong', p: 0.1, minutes: 1 },
        { step: '', level: 'undetected', p: 0.6, minutes: 1 },
      ],
      links: [
        { from: -1, to: 0, p: 1 },
        { from: 0, to: 1, p: 0.4 },
        { from: 0, to: 2, p: 0.2 },
        { from: 1, to: 2, p: 0.4 },
      ],
    },
  ],
  steps: ['a', 'b'].map((id) => ({ id, reached: 1, bits: 0.5, detected: 0, isolated: 0, outcomes: [0.4, 0.6, 0] })),
  totals: {
    levels: { part: 0.3, wrong: 0.1, undetected: 0.6 },
    expected_minutes: 12.4,
    worst_minutes: 30,
    expected_money: 2.25,
    mean_group: 1,
    largest_group: 1,
    lost: 0,
  },
  findings: [],
}

/** What an edit that was emitted makes of a step or an outcome. */
function edited<T>(w: { emitted: Mounted['emitted'] }, event: string, of: T): T {
  const copy = structuredClone(of)
  const [f] = w.emitted()[event]!.at(-1) as [(x: T) => void]
  f(copy)
  return copy
}
const button = (w: Mounted, name: string) =>
  w.findAll('button').find((b) => (b.attributes('aria-label') ?? b.text()).includes(name))!
const field = (w: Mounted, label: string) =>
  w.findAllComponents({ name: 'VTextField' }).find((f) => f.props('label') === label)!

beforeEach(() => {
  forget()
  setActivePinia(createPinia())
  useSession().me = { id: 'i', name: 'inst', display_name: 'Inst', role: 'instructor' }
})

describe('a reading’s scale', () => {
  it('moves an edge by the arrows, in the instrument’s divisions, never past the scale or onto another edge', async () => {
    const w = await show(BandScale, '/', {}, { seen, edges: [400, 410, 1000] })
    const [first, , last] = w.findAll('[role=slider]')
    expect(first.attributes('aria-valuetext')).toBe('400 kPa')
    await first.trigger('keydown', { key: 'ArrowRight' })
    expect(w.emitted('edge')).toBeUndefined()
    await first.trigger('keydown', { key: 'ArrowLeft' })
    await first.trigger('keydown', { key: 'PageUp' })
    await last.trigger('keydown', { key: 'ArrowUp' })
    expect(w.emitted('edge')).toEqual([
      [400, 390],
      [400, 500],
    ])
  })
  it('is dragged to the division under the finger, and let go with it', async () => {
    const w = await show(BandScale, '/', {}, { seen, edges: [400] })
    w.find('svg').element.getBoundingClientRect = () => ({ left: 100, width: 688, top: 0, height: 280 }) as DOMRect
    const to = (x: number) => window.dispatchEvent(new PointerEvent('pointermove', { clientX: x }))
    to(500)
    await w.find('[role=slider]').trigger('pointerdown')
    to(100 + 2 * (8 + 0.613 * 328))
    to(5000)
    window.dispatchEvent(new PointerEvent('pointerup'))
    to(300)
    expect(w.emitted('edge')).toEqual([
      [400, 610],
      [610, 1000],
    ])
  })
})

describe('the step in focus', () => {
  const props = { step: steps[0], place: 0, steps, family, seen: [seen], remarks: [], figure: evaluated.steps[0] }
  it('shows the humps of a number, what comes here, and each band’s share', async () => {
    const w = await show(StepPanel, '/', {}, props)
    expect(w.find('svg.scale').exists()).toBe(true)
    expect(w.text()).toContain('100 of 100 come here')
    expect(w.findAll('fieldset .line').map((f) => f.text())).toEqual([
      'under 400→ Main jet blocked40 of 100',
      'Otherwise→ go on60 of 100',
    ])
  })
  it('opens one band at a time, and closes it as another step comes into focus', async () => {
    const w = await show(StepPanel, '/', {}, props)
    const opened = () => w.findAll('fieldset').map((f) => f.find('.fields').exists())
    expect(opened()).toEqual([false, false])
    await w.findAll('fieldset .line')[0].trigger('click')
    await w.findAll('fieldset .line')[1].trigger('click')
    expect(opened()).toEqual([false, true])
    await w.setProps({ step: { ...steps[0], id: 'c' } } as never)
    expect(opened()).toEqual([false, false])
  })
  it('adds a band before what is otherwise; the first of a scale parts it in two', async () => {
    const w = await show(
      StepPanel,
      '/',
      {},
      { ...props, step: { ...steps[0], outcomes: [otherwise] }, seen: [{ ...seen, low: undefined }] },
    )
    await button(w, 'Add a band').trigger('click')
    expect(edited(w, 'edit', { ...steps[0], outcomes: [otherwise] }).outcomes).toEqual([
      { to: 500, then: 'next' },
      otherwise,
    ])
    const again = await show(StepPanel, '/', {}, props)
    await button(again, 'Add a band').trigger('click')
    expect(edited(again, 'edit', steps[0]).outcomes!.map((o) => o.when ?? o.to)).toEqual([
      400,
      ['below'],
      ['otherwise'],
    ])
  })
  it('says what is wrong, and adds a precaution that is asked for by a press', async () => {
    const remarks = [
      {
        path: 'steps[0]',
        code: 'procedure.precaution-missing',
        params: { action: 'ventilate', test: 'compression-dry' },
        serious: true,
      },
    ]
    const w = await show(StepPanel, '/', {}, { ...props, remarks })
    expect(w.find('.remarks .serious').exists()).toBe(true)
    await w.findAll('button').at(-2)!.trigger('click')
    expect(edited(w, 'edit', steps[0]).precautions).toEqual(['ventilate'])
  })
  it('shows a word’s shares in a table where there is no scale', async () => {
    const words = [
      { word: 'no-fire', come: 0.75, sound: 0 },
      { word: 'runs-well', come: 0.25, sound: 1 },
    ]
    const w = await show(StepPanel, '/', {}, { ...props, step: steps[1], place: 1, seen: [{ words }] })
    expect(w.findAll('table.words tbody tr').map((r) => r.findAll('td').map((d) => d.text()))).toEqual([
      ['75', '0'],
      ['25', '100'],
    ])
  })
})

describe('a band', () => {
  const props = {
    family,
    test: family.tests[0],
    words: 'below within',
    number: true,
    unit: 'kPa',
    sections: 'spark',
    place: 0,
  }
  const row = (outcome: Outcome) =>
    show(
      OutcomeRow,
      '/',
      {},
      { ...props, outcome, steps: [{ value: 'b', title: '2 Try' }], ahead: 'b', share: 0.4, comes: 1, open: true },
    )

  it('keeps a number as it is typed, takes a comma, and tells what is none without changing anything', async () => {
    const w = await row({ to: 400, then: 'next' })
    const to = field(w, 'To under')
    const typed = async (s: string) => to.find('input').setValue(s)
    await typed('41.')
    expect(edited(w, 'change', { to: 400, then: 'next' } as Outcome).to).toBe(41)
    expect(to.find('input').element.value).toBe('41.')
    await typed('41,5')
    expect(edited(w, 'change', { to: 41, then: 'next' } as Outcome).to).toBe(41.5)
    const times = w.emitted('change')!.length
    await typed('41 or so')
    expect(to.text()).toContain('“41 or so” is not a number')
    await to.find('input').trigger('blur')
    expect(to.find('input').element.value).toBe('41 or so')
    expect(w.emitted('change')).toHaveLength(times)
    await w.setProps({ outcome: { to: 52, then: 'next' } } as never)
    expect(to.find('input').element.value).toBe('52')
    await typed('')
    expect('to' in edited(w, 'change', { to: 41, then: 'next' } as Outcome)).toBe(false)
  })
  it('goes by the sheet or by figures of its own, not by both', async () => {
    const w = await row({ when: ['below'], then: 'next' })
    await field(w, 'To under').find('input').setValue('300')
    expect(edited(w, 'change', { when: ['below'], then: 'next' } as Outcome)).toEqual({ to: 300, then: 'next' })
    expect(edited(w, 'change', { when: ['over-limit'], then: 'next' } as Outcome).when).toEqual(['over-limit'])
    const by = w.findAllComponents({ name: 'VSelect' }).find((s) => s.props('multiple'))!
    by.vm.$emit('update:modelValue', ['within'])
    expect(edited(w, 'change', { from: 1, to: 300, then: 'next' } as Outcome)).toEqual({
      when: ['within'],
      then: 'next',
    })
  })
  it('begins each way on with what it needs, and drops what the last one had', async () => {
    const w = await row({ when: ['below'], then: 'stop', why: 'It is seized.' })
    const then = w.findAllComponents({ name: 'VSelect' }).find((s) => s.props('label') === 'Then')!
    const chosen = async (way: string) => {
      then.vm.$emit('update:modelValue', way)
      return edited(w, 'change', { when: ['below'], then: 'stop', why: 'It is seized.' } as Outcome)
    }
    expect(await chosen('goto')).toEqual({ when: ['below'], then: 'goto', step: 'b' })
    expect(await chosen('section')).toEqual({ when: ['below'], then: 'section', section: 'spark' })
    expect(await chosen('conclude')).toEqual({ when: ['below'], then: 'conclude', faults: [] })
    await button(w, 'Remove this band').trigger('click')
    expect(w.emitted('remove')).toHaveLength(1)
  })
})

describe('what it comes to', () => {
  it('is told in a sentence and four figures, and its place among the others in a table too', async () => {
    const others = [{ id: 'split', name: 'Split half', minutes: 20, wrong: 0.05 }]
    const w = await show(ComesTo, '/', {}, { totals: evaluated.totals, complaint: 'does not start', others })
    expect(w.find('h2').text()).toBe(
      'Of 100 machines (does not start): 30 named right, 0 on the right path, 10 wrong, 60 left open.',
    )
    expect(w.text()).toContain('12 minutes expected, 30 at worst')
    expect(w.findAll('table tbody tr').map((r) => r.findAll('td').map((d) => d.text().split(' ')[0]))).toEqual([
      ['12', '10'],
      ['20', '5.0'],
    ])
    // Farther right takes longer, lower is less often wrong.
    const at = (id: string) => w.find(`g.${id} circle`)
    expect(Number(at('split').attributes('cx'))).toBeGreaterThan(Number(at('here').attributes('cx')))
    expect(Number(at('split').attributes('cy'))).toBeGreaterThan(Number(at('here').attributes('cy')))
  })
})

describe('better orders', () => {
  const move = { kind: 'move', step: 'b', before: 'a', saves_minutes: 3.14, isolates: 0.02, wrong: 0 }
  it('are offered in words with their gain, taken by a press and taken back by another', async () => {
    const w = await show(BetterOrders, '/', {}, { moves: [move], looking: false, steps })
    const offer = w.find('.offer')
    expect(offer.text()).toContain('Try to start it before')
    expect(offer.text()).toContain('3.1 min less, 2.0 more named')
    await offer.trigger('click')
    expect(w.emitted('take')![0][0]).toEqual(move)
    await w.setProps({ taken: 'a change' } as never)
    await button(w, 'Take back').trigger('click')
    expect(w.emitted('back')).toHaveLength(1)
  })
  it('are looked for anew, and the search is stopped', async () => {
    const w = await show(BetterOrders, '/', {}, { moves: null, looking: false, steps })
    await w.find('button').trigger('click')
    await w.setProps({ looking: true } as never)
    expect(w.find('[role=progressbar]').exists()).toBe(true)
    await w.find('button').trigger('click')
    expect([w.emitted('look'), w.emitted('stop')].map((e) => e!.length)).toEqual([1, 1])
    await w.setProps({ looking: false, moves: [] } as never)
    expect(w.text()).toContain('No change of one step saves time')
  })
})

describe('the drawings of a procedure', () => {
  it('the heat table says of a hundred with the fault how many are named at a step, and goes to it', async () => {
    const w = await show(HeatTable, '/', {}, { of: evaluated, steps, at: 1 })
    const cells = w.findAll('tbody td').map((c) => c.text())
    expect(cells).toEqual(['100', '30', '·'])
    await w.findAll('thead button')[0].trigger('click')
    expect(w.emitted('at')).toEqual([[0]])
  })
  it('the ditch is as wide as what comes, and a lit fault has its own way, past steps too', async () => {
    const w = await show(DitchView, '/', {}, { of: evaluated, row: 50 })
    const water = w.findAll('rect.water').map((r) => Number(r.attributes('width')))
    expect(water.map((x) => Math.round((x / water[0]) * 100))).toEqual([100, 40, 40, 40, 60])
    expect(w.findAll('.past path')).toHaveLength(1)
    expect(w.find('.lit').exists()).toBe(false)
    await w.setProps({ lit: ['main-jet-blocked'] } as never)
    expect(w.findAll('.lit .way')).toHaveLength(1)
  })
})

describe('the order of steps', () => {
  const props = { steps, at: 0, row: 50, remarks: [0, 2], serious: [false, true] }
  it('is gone through with the arrows and changed with Alt, and that is said', async () => {
    const w = await show(StepList, '/', {}, props)
    const [a, b] = w.findAll('button.step')
    expect(b.attributes('aria-label')).toContain('remarks: 2')
    await a.trigger('keydown', { key: 'ArrowUp' })
    await a.trigger('keydown', { key: 'ArrowDown' })
    await a.trigger('keydown', { key: 'ArrowDown', altKey: true })
    expect([w.emitted('at'), w.emitted('move')]).toEqual([[[1]], [[0, 1]]])
    expect(w.find('[role=status]').text()).toContain('is now step 2')
  })
})

describe('the page', () => {
  it('has tools, a blank for each reading, a stop before it first runs, and where each answer leads', async () => {
    const of = {
      id: 'p',
      title: 'No start',
      revision: 1,
      families: ['f4-bowl'],
      steps,
      proof: { test: 'start-attempt', note: 'Cold.' },
    }
    const w = await show(PageFace, '/', {}, { of, family, machine: 'Lift pump LP-2' })
    const lines = w.findAll('ol > li')
    expect(lines.map((l) => [l.findAll('.blank').length, l.findAll('.hold').length])).toEqual([
      [1, 0],
      [1, 1],
    ])
    expect(w.find('.tools').text()).toMatch(/gauge/i)
    expect(lines[0].findAll('ul li').map((l) => l.text())).toEqual([
      expect.stringMatching(/^under 400 → .*jet/i),
      'otherwise → go on',
    ])
    expect(lines[1].text()).toContain('It runs.')
  })
})

describe('the list of procedures', () => {
  const machine = {
    id: 'm',
    name: 'Lift pump',
    code: 'LP-2',
    family: 'f4-bowl',
    family_name: 'Four-stroke',
    lacks: [],
    healthy: [],
    sheet: [],
    revision: 1,
  }
  const line = {
    id: 'p1',
    title: 'Mine',
    machine_name: 'Lift pump',
    complaint: 'no-start',
    owner: 'Inst',
    given_out: [1, 2],
    archived: false,
  }
  const school = { id: 's', school: 'likeliest', title: 'By likelihood', revision: 1, families: ['f4-bowl'], steps }
  const answers = {
    'GET /api/procedures': { body: [line, { ...line, id: 'p2', title: 'Old', given_out: [], archived: true }] },
    'GET /api/machines': { body: [machine] },
    'GET /api/families/f4-bowl': { body: family },
    'GET /api/schools': { body: [school] },
  }
  it('shows those kept or put away, begins one from nothing, and tells why a pack was not taken', async () => {
    const asked = server({
      ...answers,
      'POST /api/procedures': { status: 201, body: {} },
      'PUT /api/procedures/p1/archive': { status: 204 },
    })
    const w = await show(ProceduresView)
    expect(w.findAll('article h3').map((h) => h.text())).toEqual(['Mine'])
    expect(w.text()).toContain('2 given out')
    await button(w, 'Show what is put away').trigger('click')
    expect(w.findAll('article h3').map((h) => h.text())).toEqual(['Old'])
    await button(w, 'An empty page').trigger('click')
    await expect.poll(() => asked.find((a) => a.method === 'POST')?.body?.machine_id).toBe('m')
    const input = w.findComponent({ name: 'VFileInput' })
    input.vm.$emit('update:modelValue', new File(['{"format":'], 'mine.json'))
    await expect.poll(() => w.find('.notice').text()).toContain('mine.json')
    expect(asked.some((a) => a.path === '/api/packs')).toBe(false)
  })
})

describe('the desk', () => {
  const draft = { id: 'draft', title: 'Mine', revision: 1, families: ['f4-bowl'], complaint: 'no-start', steps }
  const line = { id: 'p1', title: 'Mine', machine_id: 'm', given_out: [], archived: false, changes: 3 }
  const machine = { id: 'm', name: 'Lift pump', code: 'LP-2', family: 'f4-bowl' }
  const answers = {
    'GET /api/procedures/p1': { body: { line, draft } },
    'GET /api/machines': { body: [machine] },
    'GET /api/families/f4-bowl': { body: family },
    'GET /api/schools': { body: [] },
    'POST /api/beside': { body: [] },
    'POST /api/evaluations': { body: { evaluation: evaluated, findings: [], seen: [seen] } },
  }
  const desk = () =>
    show(ProcedureDesk, '/yard/procedures/p1', {}, {}, [
      { path: '/yard/procedures/:procedure', component: ProcedureDesk },
    ])

  it('shows what the draft comes to, keeps what is typed, and takes it back', async () => {
    const asked = server({ ...answers, 'PUT /api/procedures/p1': { body: { line: { ...line, changes: 4 }, draft } } })
    const w = await desk()
    await expect.poll(() => w.text()).toContain('30 named right')
    expect(w.findAll('.steps .step')).toHaveLength(2)
    expect(button(w, 'Undo').attributes('aria-disabled')).toBe('true')
    await field(w, 'Title').find('input').setValue('Mine, better')
    expect(w.find('.kept').text()).toBe('saving …')
    await expect
      .poll(() => asked.find((a) => a.method === 'PUT')?.body, { timeout: 3000 })
      .toMatchObject({
        changes: 3,
        draft: { title: 'Mine, better' },
      })
    await expect.poll(() => w.find('.kept').text()).toBe('saved')
    await button(w, 'Undo').trigger('click')
    expect(field(w, 'Title').find('input').element.value).toBe('Mine')
    await expect.poll(() => w.find('.kept').text(), { timeout: 3000 }).toBe('saved')
    w.unmount()
  })
  it('offers both ways on where somebody else has kept one meanwhile', async () => {
    const theirs = { line: { ...line, changes: 9 }, draft: { ...draft, title: 'Theirs' } }
    server({
      ...answers,
      'PUT /api/procedures/p1': { status: 409, body: { code: 'http.procedure-changed-since-you-opened', now: theirs } },
    })
    const w = await desk()
    await field(w, 'Title').find('input').setValue('Mine, better')
    await expect.poll(() => w.find('.notice').exists(), { timeout: 3000 }).toBe(true)
    await button(w, 'Take theirs').trigger('click')
    expect(field(w, 'Title').find('input').element.value).toBe('Theirs')
    await button(w, 'Undo').trigger('click')
    expect(field(w, 'Title').find('input').element.value).toBe('Mine, better')
  })
})
