import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { vuetify } from '@/theme'
import LookScene from './LookScene.vue'

const look = (test: string, scene: string, shown?: number) =>
  mount(LookScene, { props: { look: { test, scene, shown, text: 'what the eye meets' } } })

describe('what an eye meets', () => {
  it('is drawn from how far it has gone: two fifths and four fifths look different', () => {
    const dark = (shown: number) =>
      look('look-arrestor', shown < 0.7 ? 'part-clogged' : 'clogged', shown).findAll('rect[fill="#16130e"]').length
    expect(dark(0.8)).toBeGreaterThan(dark(0.4) * 1.5)
    const open = (x: number) => look('jet-look', 'part', x).get('path[fill="#fff7dc"]').attributes('d')
    expect(open(0.4)).not.toBe(open(0.8))
    const chaff = (x: number) =>
      Math.max(
        ...look('look-fins', 'packed', x)
          .findAll('rect[fill="#8a7343"]')
          .map((r) => Number(r.attributes('height'))),
      )
    expect(chaff(0.8)).toBeGreaterThan(chaff(0.4))
    const scores = (x: number) => look('look-piston', 'scored', x).findAll('path').length
    expect(scores(0.8)).toBeGreaterThan(scores(0.4))
    const crust = (x: number) => look('look-piston', 'carboned', x).html()
    expect(crust(0.8)).not.toBe(crust(0.3))
    const level = (x: number) => Number(look('look-oil', 'low', x).findAll('rect')[2].attributes('width'))
    expect(level(1)).toBeGreaterThan(level(0.5))
  })
  it('is a plug that can be turned: wetter by its state, and a crack on one side of it', async () => {
    const plug = (more: object) =>
      mount(LookScene, {
        global: { plugins: [vuetify()] },
        props: {
          look: {
            test: 'plug-look',
            scene: 'x',
            text: 'what the eye meets',
            plug: { tone: 0, wet: 0, oil: 0, cracked: false, gap_mm: 0.7, ...more },
          },
        },
      })
    const drops = (wet: number) => plug({ wet }).findAll('path[fill="#d9a441"]').length
    expect(drops(0.2)).toBeGreaterThan(0)
    expect(drops(0.8)).toBeGreaterThan(drops(0.2))
    for (const [a, b] of [
      [{ tone: -0.5 }, { tone: -1 }],
      [{ tone: 0 }, { tone: 0.4 }],
      [{ tone: 0.5 }, { tone: 1 }],
      [{ oil: 0.4 }, { oil: 1 }],
      [{ gap_mm: 0.1 }, { gap_mm: 0.7 }],
    ])
      expect(plug(a).html()).not.toBe(plug(b).html())
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
    const lit = (dim: boolean) =>
      mount(LookScene, { props: { look: { test: 'bowl-look', scene: 'grit', shown: 0.5, text: 'x', dim } } })
    expect(lit(true).get('figure').classes()).toContain('dim')
    expect(lit(false).get('figure').classes()).not.toContain('dim')
  })
  it('is the same each time it is looked at', () => {
    expect(look('look-filter', 'part-clogged', 0.4).html()).toBe(look('look-filter', 'part-clogged', 0.4).html())
  })
  it('is said in words that are also its name to a screen reader, and is words alone where nothing can be drawn', () => {
    expect(look('bowl-look', 'grit', 0.5).get('[role=img]').attributes('aria-label')).toBe('what the eye meets')
    const plain = look('look-over', 'weeps')
    expect(plain.find('svg').exists()).toBe(false)
    expect(plain.text()).toBe('what the eye meets')
  })
})
