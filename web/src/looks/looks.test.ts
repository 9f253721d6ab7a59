import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { vuetify } from '@/theme'
import LookScene from './LookScene.vue'
import type { Seen } from './seen'

const look = (test: string, seen: Seen, more: object = {}) =>
  mount(LookScene, { props: { look: { test, seen, text: 'what the eye meets', ...more } } }).html()

/** Each look on a sound machine, and how far each thing in it goes, in steps that an eye tells apart. */
const steps = (from: number, to: number, by = 0.1) =>
  Array.from({ length: Math.round((to - from) / by) + 1 }, (_, i) => from + i * by)
const shares = (least = 0.2) => [0, ...steps(least, 1)]
const all: Record<string, { sound: Seen; goes: Record<string, number[]> }> = {
  'look-fuel': {
    sound: { level: 1, stale: 0, water: 0, oil: 0, mixed: 1 },
    goes: { level: [0.1, 0.2, 0.3, 1], stale: shares(0.3), water: shares(), oil: steps(-1, 1, 0.2) },
  },
  'look-oil': { sound: { level: 1, thin: 0 }, goes: { level: steps(0.2, 1.6), thin: shares(0.3) } },
  'look-filter': {
    sound: { shut: 0, oil: 0, wet: 0, tear: 0, nest: 0, rag: 0 },
    goes: { shut: shares(0.1), oil: shares(0.3), wet: shares(0.3), tear: shares(), nest: shares(), rag: shares() },
  },
  'look-choke': { sound: { least: 0, most: 1 }, goes: { least: shares(), most: steps(0, 0.8).concat(1) } },
  'look-arrestor': {
    sound: { shut: 0, nest: 0, hole: 0 },
    goes: { shut: shares(0.1), nest: shares(), hole: [0, 1] },
  },
  'look-fins': { sound: { packed: 0 }, goes: { packed: shares(0.1) } },
  'bowl-look': {
    sound: { level: 1, varnish: 0, water: 0, grit: 0 },
    goes: { level: steps(0, 1), varnish: shares(0.4), water: shares(), grit: shares(0.3) },
  },
  'jet-look': { sound: { open: 1, bored: 0 }, goes: { open: steps(0, 1), bored: shares(0.3) } },
  'key-look': {
    sound: { degrees: 0, parted: 0, flared: 0 },
    goes: { degrees: [0, 3, 6, 9, 12], parted: [0, 1], flared: [0, 1] },
  },
  'look-piston': {
    sound: { scored: 0, crust: 0, worn: 0 },
    goes: { scored: shares(), crust: shares(), worn: shares(0.3) },
  },
  'diaphragm-look': { sound: { stiff: 0, tear: 0 }, goes: { stiff: shares(0.3), tear: shares() } },
  'gasket-look': {
    sound: { tear: 0, swollen: 0, turned: 0 },
    goes: { tear: shares(), swollen: shares(), turned: [0, 1] },
  },
  'head-look': {
    sound: { track: 0, lifted: 0, burnt: 0 },
    goes: { track: shares(0.3), lifted: shares(0.3), burnt: shares() },
  },
  'passage-trace': {
    sound: { main: 1, sides: 1, idle: 1 },
    goes: { main: [0, ...steps(0.1, 0.8), 1, 1.2, 1.4, 2], sides: [0, 1], idle: [0, 1] },
  },
  'spark-plug-earthed': { sound: { spark: 1 }, goes: { spark: steps(0, 1) } },
  'spark-inline': { sound: { spark: 1 }, goes: { spark: steps(0, 1) } },
  'thumb-hole': { sound: { holds: 0.9 }, goes: { holds: shares(0.1) } },
  'vent-blow': {
    sound: { holds: 0.1, bored: 0, seal: 0 },
    goes: { holds: [0.1, 0.3, 0.4, 0.5, 0.6, 1], bored: [0, 1], seal: shares(0.3) },
  },
  'primer-press': {
    sound: { holds: 0.2, returns: 1, leaks: 0 },
    goes: { holds: [0.1, 0.2, 0.8], returns: steps(0, 1), leaks: [0, 1] },
  },
  'vent-hiss': { sound: { hiss: 0, click: 0 }, goes: { hiss: shares(0.3) } },
  'fuel-cut-click': { sound: { hiss: 0, click: 1 }, goes: { click: [0, 1] } },
}

describe.each(Object.entries(all))('%s', (test, { sound, goes }) => {
  it('is drawn otherwise at every step of what goes on in it, and the same each time', () => {
    for (const [thing, at] of Object.entries(goes)) {
      const drawn = at.map((x) => look(test, { ...sound, [thing]: x }))
      expect(new Set(drawn).size, thing).toBe(at.length)
      expect(at.map((x) => look(test, { ...sound, [thing]: x }))).toEqual(drawn)
    }
  })
  it('is drawn otherwise for each thing that can be wrong', () => {
    const worst = Object.entries(goes).map(([thing, at]) =>
      look(test, { ...sound, [thing]: at.find((x) => x !== sound[thing])! }),
    )
    expect(new Set(worst.concat(look(test, sound))).size).toBe(worst.length + 1)
  })
})

describe('what an eye meets', () => {
  it('grows with what it is', () => {
    const count = (what: string, html: string) => html.split(what).length - 1
    const dark = (shut: number) => count('#16130e', look('look-arrestor', { shut, nest: 0, hole: 0 }))
    expect(dark(0.8)).toBeGreaterThan(dark(0.4) * 1.5)
    const scores = (scored: number) => count('class="score"', look('look-piston', { scored, crust: 0, worn: 0 }))
    expect(scores(0.8)).toBeGreaterThan(scores(0.4))
  })
  it('is a plug that can be turned: wetter by its state, and a crack on one side of it', async () => {
    const plug = (more: object) =>
      mount(LookScene, {
        global: { plugins: [vuetify()] },
        props: {
          look: {
            test: 'plug-look',
            text: 'what the eye meets',
            plug: { tone: 0, wet: 0, oil: 0, cracked: false, gap_mm: 0.7, ...more },
          },
        },
      })
    const drops = (wet: number) => plug({ wet }).findAll('path[fill="#d9a441"]').length
    expect(drops(0.2)).toBeGreaterThan(0)
    expect(drops(0.8)).toBeGreaterThan(drops(0.2))
    for (const [thing, at] of Object.entries({
      tone: [-1, -0.75, -0.5, -0.25, 0, 0.25, 0.5, 0.75, 1],
      wet: steps(0.2, 1),
      oil: [0.4, 0.6, 0.8, 1],
      gap_mm: steps(0, 1.2),
    }))
      expect(new Set(at.map((x) => plug({ [thing]: x }).html())).size, thing).toBe(at.length)
    const turned = async (w: ReturnType<typeof plug>, to: number) => {
      await w.findComponent({ name: 'VSlider' }).setValue(to)
      return w.findAll('path[stroke-width="1.8"]').length
    }
    const cracked = plug({ cracked: true })
    expect(await turned(cracked, 0)).toBe(0)
    expect(await turned(cracked, 140)).toBe(1)
    expect(await turned(plug({}), 140)).toBe(0)
  })
  it('is darker where there was little light', () => {
    const grit = { level: 1, varnish: 0, water: 0, grit: 0.5 }
    expect(look('bowl-look', grit, { dim: true })).toContain('dim')
    expect(look('bowl-look', grit)).not.toContain('dim')
  })
  it('is said in words that are also its name to a screen reader, and is words alone where nothing can be drawn', () => {
    expect(look('jet-look', { open: 1, bored: 0 })).toContain('aria-label="what the eye meets"')
    const plain = mount(LookScene, { props: { look: { test: 'look-over', text: 'what the eye meets' } } })
    expect(plain.find('svg').exists()).toBe(false)
    expect(plain.text()).toBe('what the eye meets')
  })
})
