import { config, mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { vuetify } from '@/theme'
import type { Schema } from '@/api/client'
import ControlsStrip from './ControlsStrip.vue'
import InstrumentPanel from './InstrumentPanel.vue'
import LedgerList from './LedgerList.vue'
import TestTray from './TestTray.vue'

const test = (over: Partial<Schema['Test']>): Schema['Test'] => ({
  id: 'compression-dry',
  title: 'Compression, dry',
  lateral: 'compression',
  kind: 'number',
  minutes: 4,
  access: ['plugout'],
  reaches: ['rings'],
  hazards: ['fire'],
  words: [],
  teaches: 'Whether the cylinder holds its charge.',
  cannot: 'It does not say where.',
  units: ['bar', 'kPa', 'psi'],
  valid: [],
  conditions: [],
  figure: 'compression_psi',
  instrument: 'compression-gauge',
  long: false,
  ...over,
})
const family = {
  id: 'f',
  name: 'F',
  laterals: [],
  reaches: [
    { id: 'rings', name: 'Rings', lateral: 'compression', beside: false },
    { id: 'jets', name: 'Jets', lateral: 'fuel', beside: false },
  ],
  faults: [],
  tests: [
    test({}),
    test({
      id: 'run-long',
      lateral: '',
      title: 'Run it long',
      kind: 'run',
      long: true,
      reaches: ['jets'],
      access: [],
      hazards: [],
    }),
    test({
      id: 'jet-look',
      lateral: 'fuel',
      title: 'Look through the jet',
      kind: 'look',
      reaches: ['jets'],
      words: ['daylight', 'part', 'none'],
      hazards: [],
    }),
  ],
  covers: [{ id: 'plugout', name: 'Spark plug', off: 'plug out', note: '' }],
  controls: [],
  acts: [{ id: 'clean', name: 'Clean' }],
  actions: [{ id: 'ventilate', name: 'Ventilate', kind: 'precaution', minutes: 1 }],
  repairs: [{ act: 'clean', reach: 'jets', minutes: 9, cost: 2 }],
  causes: [],
  advice: [],
  hazards: [{ id: 'fire', name: 'Wipe up fuel.', precautions: ['ventilate'] }],
  complaints: [],
  statements: [],
  setups: [
    { id: 'minutes', name: 'Minutes', tests: ['run-long'], low: 1, high: 60, step: 1, start: 15 },
    {
      id: 'load',
      name: 'Load',
      tests: ['run-long'],
      options: [
        { value: 'test', label: 'working load' },
        { value: 'none', label: 'no load' },
      ],
    },
  ],
  blades: [],
} as Schema['Family']
const bench = (over: Partial<Schema['Bench']> = {}) =>
  ({
    id: 'a',
    sheet: [{ id: 'compression_psi', figure: { low: 55, high: 75, unit: 'psi', source: '' } }],
    open: [],
    taken: [],
    ledger: [],
    tray: [
      { test: 'compression-dry', minutes: 1, access_minutes: 2 },
      { test: 'run-long', minutes: 1, access_minutes: 0 },
      { test: 'jet-look', minutes: 1, access_minutes: 3 },
    ],
    ...over,
  }) as Schema['Bench']

config.global.plugins = [vuetify()]
beforeEach(() => localStorage.clear())

describe('the ledger', () => {
  const lines = [
    {
      seq: 1,
      at_min: 2,
      kind: 'take',
      test: 'jet-look',
      title: 'Look through the jet',
      result: 'part',
      waiting: false,
    },
    { seq: 2, at_min: 4, kind: 'wait', title: 'It stood', result: '5 min', waiting: false },
  ] as Schema['LedgerLine'][]
  it('points at what a line bears on, and marks the lines that bear on the reach in focus', async () => {
    const w = mount(LedgerList, { props: { lines, bearing: [1] } })
    expect(w.findAll('li.bears')).toHaveLength(1)
    expect(w.findAll('button')).toHaveLength(1)
    await w.get('button').trigger('click')
    expect(w.emitted('point')).toEqual([[1]])
  })
})

describe('a reading of several parts', () => {
  const clearance = test({
    id: 'valve-clearance',
    title: 'Valve clearance',
    units: ['mm'],
    figure: 'valve_in_mm',
    instrument: 'feeler',
    hazards: [],
    access: [],
    parts: [
      { id: 'in', name: 'Inlet', figure: 'valve_in_mm', units: ['mm'], words: [] },
      { id: 'ex', name: 'Exhaust', figure: 'valve_ex_mm', units: ['mm'], words: [] },
    ],
  })
  const at = (parts?: Partial<Schema['Test']>) => {
    const t = { ...clearance, ...parts }
    const instrument = { kind: 'feeler', test: t.id, ready: true, setup: {} }
    return mount(InstrumentPanel, {
      props: { family: { ...family, tests: [t] }, bench: bench({ instrument, sheet: [] }) },
    })
  }
  it('holds the instrument to one after another', async () => {
    const w = at()
    await w.get('[aria-label="Which part"]').findAll('button')[1].trigger('click')
    expect(w.emitted('event')?.at(-1)).toEqual([{ kind: 'act', act: 'part', value: 'ex' }])
  })
  it('writes down a part with its band, and nothing that is half filled in', async () => {
    const w = at()
    await w.get('#reading').setValue('0.15')
    await w.findAll('[aria-label="Against the sheet"] button')[1].trigger('click')
    await w.setProps({ bench: bench({ instrument: { ...w.props('bench').instrument!, part: 'ex' }, sheet: [] }) })
    expect(w.get('.fields label').text()).toBe('Exhaust')
    await w.get('#reading').setValue('0.4')
    expect(w.get('button[type=submit]').attributes('disabled')).toBeDefined()
    await w.findAll('[aria-label="Against the sheet"] button').at(-1)!.trigger('click')
    await w.get('form').trigger('submit')
    const parts = { ex: { reading: '0.4', unit: 'mm', judged: 'above' } }
    expect(w.emitted('event')?.at(-1)).toEqual([
      { kind: 'entry', reading: '0.15', unit: 'mm', judged: 'within', parts },
    ])
  })
})

describe("the machine's controls", () => {
  const controls = [
    { id: 'switch', name: 'Switch', positions: ['run', 'stop'], lever: false },
    { id: 'choke', name: 'Choke', positions: [], lever: true, low: 'open', high: 'shut' },
    { id: 'cap', name: 'Cap', positions: ['tight', 'loose', 'off'], lever: false },
    { id: 'primer', name: 'Primer', positions: [], lever: false },
  ]
  const strip = (at: Record<string, unknown>) => mount(ControlsStrip, { props: { controls, at } })
  it('does not show where a switch stands that nobody has looked at', () => {
    expect(strip({ choke: 0 }).findAll('[aria-pressed="true"]')).toHaveLength(0)
    expect(strip({ switch: 'stop' }).get('[aria-pressed="true"]').text()).toBe('stop')
  })
  it('moves a switch, a lever, a cap, and presses a primer', async () => {
    const w = strip({ switch: 'run', choke: 0, cap: 'tight' })
    await w.findAll('.pair button')[1].trigger('click')
    await w.findAll('.pair button')[0].trigger('click') // where it stands already
    await w.findComponent({ name: 'VSelect' }).setValue('loose')
    await w.get('[aria-label="Press the primer"]').trigger('click')
    // A lever is told where it comes to rest, once.
    vi.useFakeTimers()
    for (let i = 0; i < 5; i++) await w.get('[role="slider"]').trigger('keydown', { key: 'ArrowRight' })
    await vi.advanceTimersByTimeAsync(400)
    vi.useRealTimers()
    expect(w.emitted('set')).toEqual([
      ['switch', 'stop'],
      ['cap', 'loose'],
      ['primer', 1],
      ['choke', 0.5],
    ])
  })
  it('says a lever in words', () => {
    expect(strip({ choke: 1 }).text()).toContain('shut')
    expect(strip({ choke: 0.5 }).text()).toContain('5 tenths')
  })
})

describe('the tray', () => {
  it('has precautions among the acts, and says which are taken', async () => {
    const w = mount(TestTray, { props: { family, bench: bench({ taken: ['ventilate'] }), at: 'jets' } })
    await w
      .findAll('[role="tab"]')
      .find((t) => t.text() === 'Care')!
      .trigger('click')
    expect(w.get('.card').text()).toContain('done')
    await w.get('.card').trigger('click')
    expect(w.emitted('event')).toEqual([[{ kind: 'do', do: 'ventilate' }]])
  })
  it('offers only what this machine has', () => {
    const w = mount(TestTray, {
      props: { family, bench: bench({ tray: [{ test: 'jet-look', minutes: 1, access_minutes: 3 }] }), at: 'jets' },
    })
    expect(w.findAll('.card b').map((b) => b.text())).toEqual(['Look through the jet'])
  })
  const tray = (at: string) => mount(TestTray, { props: { family, bench: bench(), at } })
  it('puts tests at the reach first, with minutes and covers', async () => {
    const w = tray('jets')
    await vi.waitFor(() => expect(w.findAll('.card')).toHaveLength(3)) // those elsewhere come a moment later
    const cards = w.findAll('.card')
    expect(cards.map((c) => c.get('b').text())).toEqual(['Run it long', 'Look through the jet', 'Compression, dry'])
    expect(cards[1].text()).toContain('3 covers')
  })
  it('finds a test by typing, in any order of words', async () => {
    const w = tray('jets')
    await w.get('#find-test').setValue('dry comp')
    expect(w.findAll('.card').map((c) => c.get('b').text())).toEqual(['Compression, dry'])
    await w.get('#find-test').setValue('xray')
    expect(w.text()).toContain('Clear the search')
  })
  it('lists tests by path, by kind, by what is in the hand or open already, and by what was made last', async () => {
    const ledger = ['jet-look', 'compression-dry'].map((test, seq) => ({ seq, test })) as Schema['LedgerLine'][]
    const laterals = [{ id: 'compression', name: 'Compression' }] as Schema['Family']['laterals']
    const tests = family.tests.map((t) => (t.kind === 'number' ? t : { ...t, instrument: undefined }))
    const w = mount(TestTray, {
      props: { family: { ...family, laterals, tests }, bench: bench({ ledger }), at: 'jets' },
    })
    const by = async (name: string) => {
      await w
        .findAll('.by button')
        .find((b) => b.text() === name)!
        .trigger('click')
      return w.findAll('.card b').map((b) => b.text())
    }
    expect(await by('Compr.')).toEqual(['Compression, dry'])
    expect(await by('Runs')).toEqual(['Run it long'])
    expect(await by('Open')).toEqual(['Run it long'])
    expect(await by('Tool')).toEqual([])
    expect(w.text()).toContain('no instrument in your hand')
    await w.setProps({ chosen: 'compression-dry' })
    expect(await by('Tool')).toEqual(['Compression, dry'])
    expect(await by('Last')).toEqual(['Compression, dry', 'Look through the jet'])
  })
  it('asks once more before work that costs', async () => {
    const w = tray('jets')
    await w.findAll('[role="tab"]')[1].trigger('click')
    await w.get('.card').trigger('click')
    expect(w.emitted('event')).toBeUndefined()
    expect(w.get('.card').text()).toContain('sure?')
    await w.get('.card').trigger('click')
    expect(w.emitted('event')).toEqual([[{ kind: 'repair', repair: 'clean', reach: 'jets' }]])
  })
})

describe('what is in hand', () => {
  const panel = (b: Partial<Schema['Bench']>, chosen?: string) =>
    mount(InstrumentPanel, { props: { family, bench: bench(b), chosen } })
  it('gives the cautions before the act', () => {
    const w = panel({}, 'compression-dry')
    expect(w.text()).toContain('Wipe up fuel.')
    expect(w.text()).toContain('licensed technician')
    expect(w.text()).toContain('plug out')
  })
  it('sends the set-up of a long run with it', async () => {
    const w = panel({}, 'run-long')
    const minutes = w.get('input[type="number"]')
    await minutes.setValue(25)
    await minutes.trigger('change')
    await w.findComponent({ name: 'VSelect' }).setValue(1)
    await w.get('.go .bg-secondary').trigger('click')
    expect(w.emitted('event')).toEqual([[{ kind: 'take', test: 'run-long', setup: { minutes: 25, load: 'none' } }]])
  })
  const gauge = {
    kind: 'compression-gauge',
    test: 'compression-dry',
    needle: 62,
    pulls: 5,
    ready: true,
    setup: { check_valve: 'plug-end' },
    scale: { least: 0, most: 200, division: 2, numbered: 20 },
  }
  it('takes a reading only with number, unit and judgement, and keeps what is typed', async () => {
    const w = panel({ instrument: gauge })
    const write = () => w.get('button[type="submit"]')
    expect(write().attributes('disabled')).toBeDefined()
    await w.get('#reading').setValue(' 62 ')
    await w
      .findAll('.fields button')
      .find((b) => b.text() === 'psi')!
      .trigger('click')
    expect(write().attributes('disabled')).toBeDefined()
    await w
      .findAll('.fields button')
      .find((b) => b.text() === 'In band')!
      .trigger('click')
    expect(write().attributes('disabled')).toBeUndefined()
    const again = panel({ instrument: gauge })
    expect((again.get('#reading').element as HTMLInputElement).value).toBe(' 62 ')
    await w.get('form').trigger('submit')
    expect(w.emitted('event')).toEqual([[{ kind: 'entry', reading: '62', unit: 'psi', judged: 'within' }]])
  })
  it('offers no entry before there is something to read', () => {
    expect(
      panel({ instrument: { ...gauge, pulls: 0, ready: false } })
        .find('form')
        .exists(),
    ).toBe(false)
  })
  it('asks for the word of a look', async () => {
    const w = panel({
      look: { test: 'jet-look', text: 'bitten into', seen: { open: 0.4, bored: 0 } },
      ledger: [{ seq: 1, at_min: 3, kind: 'take', title: '', result: '', waiting: true }],
    })
    expect(w.text()).toContain('What do you call it?')
    await w.findAll('.names button')[1].trigger('click')
    expect(w.emitted('event')).toEqual([[{ kind: 'entry', word: 'part' }]])
  })
})

describe('the ledger', () => {
  it('shows what waits to be sent', () => {
    const w = mount(LedgerList, { props: { lines: [], waiting: [{ id: 'x', text: 'Mark Tank' }] } })
    expect(w.get('.unsent').text()).toContain('waits to be sent')
  })
  it('says what to do when it is empty, and what waits to be written down', () => {
    expect(mount(LedgerList, { props: { lines: [] } }).text()).toContain('Nothing done yet')
    const w = mount(LedgerList, {
      props: {
        lines: [{ seq: 3, at_min: 4.5, kind: 'take', title: 'Look', result: 'not written down', waiting: true }],
      },
    })
    expect(w.get('li').classes()).toContain('waiting')
    expect(w.text()).toContain('4.5')
  })
})
