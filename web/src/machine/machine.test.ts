import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { reaches } from '../../../core/catalogue/data/reaches.json'
import MachineDrawing from './MachineDrawing.vue'
import { machines } from './machines'

const drawing = (over: object = {}, controls: Record<string, unknown> = {}) =>
  mount(MachineDrawing, {
    props: {
      bench: { family: 'f4-bowl', open: [], spilt: false, hot: false, has: ['choke', 'fuel_valve'], ...over },
      controls,
    },
  })

describe('the machine from outside', () => {
  it('shows what is off, spilt and hot, and says it in words', () => {
    const w = drawing({ open: ['filter', 'plugout'], spilt: true, hot: true })
    expect(w.findAll('.off')).toHaveLength(2)
    expect(w.get('svg').attributes('aria-label')).toMatch(/filter housing off, plug out, fuel lies spilt, too hot/)
    expect(drawing().get('svg').attributes('aria-label')).toContain('everything is on')
  })
  it('takes the reach of a part that is pressed, and goes to a control', async () => {
    const w = drawing()
    await w.get('.fuel').trigger('click')
    await w.get('.lead').trigger('click')
    expect(w.emitted('reach')).toEqual([['tank']])
    expect(w.emitted('control')).toEqual([['plug_lead']])
  })
  it('does not show how a valve stands that nobody has looked at', () => {
    const lever = (c: object) => drawing({}, c as Record<string, unknown>).findAll('.hand path')
    expect(lever({})).toHaveLength(0)
    expect(lever({ fuel_valve: 'shut' })).toHaveLength(1)
  })
  it('has parts only of reaches that the family has', () => {
    for (const [family, m] of Object.entries(machines)) {
      const known = reaches.filter((r) => r.families.includes(family)).map((r) => r.id)
      for (const p of m.parts) expect(known, `${p.id} of ${family}`).toContain(p.reach)
    }
  })
})
