import { mount } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { vuetify } from '@/theme'
import LateralBoard from './LateralBoard.vue'
import MarkBar from './MarkBar.vue'

const laterals = [
  { id: 'fuel', name: 'Fuel' },
  { id: 'air', name: 'Air' },
]
const reaches = [
  { id: 'tank', name: 'Tank', lateral: 'fuel' },
  { id: 'line', name: 'Line', lateral: 'fuel' },
  { id: 'jets', name: 'Jets', lateral: 'fuel' },
  { id: 'filter', name: 'Air filter', lateral: 'air' },
  { id: 'pond', name: 'Pond', lateral: 'air', beside: true },
]
const board = (props: object = {}) =>
  mount(LateralBoard, {
    props: { laterals, reaches, marks: {}, ...props },
    global: { stubs: { VIcon: true } },
    attachTo: document.body,
  })

describe('the lateral board', () => {
  it('is a list of buttons that say their mark', () => {
    const w = board({ marks: { tank: 'clear', jets: 'condemned', line: 'suspect' } })
    expect(w.findAll('button').map((b) => b.attributes('aria-label'))).toEqual([
      'Tank, flows, proved',
      'Line, suspect',
      'Jets, condemned',
      'Air filter, undecided',
      'Pond, undecided',
    ])
  })
  it('keeps one reach in the tab order and walks with the arrows', async () => {
    const w = board({ at: 'line' })
    expect(w.findAll('[tabindex="0"]')).toHaveLength(1)
    await w.get('[data-reach="line"]').trigger('keydown', { key: 'ArrowRight' })
    expect(w.emitted('at')).toEqual([['jets']])
  })
  it('marks by one key', async () => {
    const w = board({ at: 'jets' })
    await w.get('[data-reach="jets"]').trigger('keydown', { key: 's' })
    await w.get('[data-reach="jets"]').trigger('keydown', { key: 'X' })
    await w.get('[data-reach="jets"]').trigger('keydown', { key: 'F', shiftKey: true })
    expect(w.emitted('mark')).toEqual([
      ['jets', 'suspect'],
      ['jets', 'condemned'],
    ])
    expect(w.emitted('through')).toEqual([['jets']])
  })
  it('says what has changed, however it was marked', async () => {
    const w = board({ at: 'jets' })
    await w.setProps({ marks: { jets: 'condemned' } })
    expect(w.get('[role="status"]').text()).toMatch(/^Jets: condemned/)
  })
  it('leaves the browser its own shortcuts', async () => {
    const w = board({ at: 'jets' })
    await w.get('[data-reach="jets"]').trigger('keydown', { key: 'f', ctrlKey: true })
    expect(w.emitted('mark')).toBeUndefined()
  })
  it('counts what arrives; what stands beside a lateral does not hold it back', () => {
    expect(board({ marks: { filter: 'clear' } }).text()).toContain('1 of 2')
    expect(board({ marks: { tank: 'clear', line: 'clear', filter: 'clear' } }).text()).toContain('1 of 2')
  })
  it('cannot be worked when it only shows', () => {
    const w = board({ still: true })
    expect(w.findAll('button')).toHaveLength(0)
    expect(w.text()).toContain('undecided')
  })
})

describe('the mark bar', () => {
  const bar = (marks: Record<string, string>) =>
    mount(MarkBar, { props: { reaches, marks, at: 'jets' }, global: { plugins: [vuetify()] } })
  it('shows the mark that stands and makes another', async () => {
    const w = bar({ jets: 'suspect' })
    expect(w.get('[aria-pressed="true"]').text()).toBe('Suspect')
    await w.findAll('button')[0].trigger('click')
    expect(w.emitted('mark')).toEqual([['jets', 'clear']])
  })
  it('offers to clear up to here only where there is more than one to clear', () => {
    const last = (w: ReturnType<typeof bar>) =>
      w
        .findAll('button')
        .find((b) => b.text().startsWith('Flows to here'))!
        .attributes('aria-description')
    expect(last(bar({}))).toBeUndefined()
    expect(last(bar({ tank: 'clear', line: 'clear' }))).toContain('further down its path')
  })
  it('keeps what cannot be pressed where it is, says why, and does nothing', async () => {
    vi.stubGlobal('visualViewport', new EventTarget())
    const w = bar({})
    const undo = w.findAll('button').at(-1)!
    expect(undo.attributes()).toMatchObject({
      'aria-disabled': 'true',
      'aria-description': 'Nothing has been marked yet',
    })
    await undo.trigger('click')
    expect(w.emitted('undo')).toBeUndefined()
    await w.setProps({ undo: true })
    await undo.trigger('click')
    expect(w.emitted('undo')).toHaveLength(1)
  })
})
