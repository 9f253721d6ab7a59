import { flushPromises } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { forget } from '@/api/client'
import { useSession } from '@/session/session'
import { family, server, show } from '@/testing/stage'
import type { Wall } from './useWall'
import WallView from './WallView.vue'

let told: (now: Record<string, number>) => void
vi.mock('@/api/changes', () => ({
  useChanges: (_: string, then: typeof told) => {
    told = then
    return { lost: false }
  },
}))

const wall = (over: Partial<Wall> = {}): Wall => ({
  id: 'w1',
  class_title: 'Morning',
  machine_name: 'Lift pump',
  machine_code: 'LP-2',
  family: 'f4-bowl',
  words: 'It coughs.',
  history: '',
  version: 4,
  round: 1,
  stands: 'voting',
  members: 8,
  voted: 3,
  tests: ['jet-look', 'pull-feel', 'spark-gap'],
  rounds: [{ test: 'start-attempt', told: { word: 'no-fire' }, votes: 5, all_votes: 8, best: 'start-attempt' }],
  board: {},
  minutes: 1,
  worths: [],
  ...over,
})
const worths = [
  { test: 'pull-feel', votes: 1, share: 0.2, minutes: 0.5 },
  { test: 'jet-look', votes: 6, share: 0.5, minutes: 6 },
  { test: 'spark-gap', votes: 0, share: 0.1, minutes: 5 },
]
const open = async (role: 'apprentice' | 'instructor', now: () => Wall, more: object = {}) => {
  useSession().me = { id: 'x', name: 'x', display_name: 'X', role }
  const asked = server({
    'GET /api/walls/w1': () => ({ body: now() }),
    'GET /api/families/f4-bowl': { body: { ...family, tests: [{ id: 'jet-look', lateral: 'fuel' }] } },
    ...more,
  })
  const w = await show(WallView, '/', { LateralBoard: true }, { id: 'w1' })
  const moves = async () => {
    told({ wall: now().version, votes: 0 })
    await flushPromises()
  }
  await moves()
  const press = async (name: string) => {
    await w
      .findAll('button')
      .find((b) => b.text() === name)!
      .trigger('click')
    await flushPromises()
  }
  return { w, asked, press, moves }
}

beforeEach(() => {
  forget()
  setActivePinia(createPinia())
})

describe('the vote in the hand', () => {
  it('says nothing of what a test is worth before the vote is closed, and then one’s own and the best', async () => {
    let now = wall()
    const { w, asked, press, moves } = await open('apprentice', () => now, {
      'PUT /api/walls/w1/vote': () => {
        now = wall({ mine: 'jet-look' })
        return { status: 204 }
      },
    })
    expect(w.findAll('[role=group]').map((g) => g.get('h3').text())).toEqual(['The whole engine', 'Fuel'])
    await press('Look through the jet')
    expect(asked.find((a) => a.method === 'PUT')!.body).toEqual({ round: 1, test: 'jet-look' })
    expect(w.text(), 'it can still be changed').toContain('You voted for')
    expect(w.text()).not.toMatch(/\d %/)
    now = wall({ mine: 'jet-look', stands: 'closed', version: 5, worths })
    await moves()
    const said = w.get('section[role=status]').text()
    expect(said).toMatch(/Look through the jet.*50 %.*6 min/s)
    expect(said).toMatch(/Feel the pull.*20 %/s)
    expect(w.text(), 'what is hidden is for the end').not.toContain('Main jet blocked')
    w.unmount()
  })
  it('keeps why a vote was refused, beside what stands now', async () => {
    const { w, press } = await open('apprentice', () => wall({ stands: 'voting' }), {
      'PUT /api/walls/w1/vote': { status: 409, body: { code: 'wall.vote-over', problem: 'x', mend: 'y' } },
    })
    await press('Feel the pull')
    expect(w.get('[role=alert]').text()).not.toMatch(/wall\.|undefined/)
    expect(w.text()).toContain('It coughs.')
    w.unmount()
  })
})

describe('the big screen', () => {
  it('ranks by votes, marks what was worth most a minute, and makes what is chosen', async () => {
    let now = wall({ stands: 'closed', worths })
    const { w, asked } = await open('instructor', () => now, {
      'POST /api/walls/w1/steps': () => ({ body: (now = wall({ version: 5, round: 2 })) }),
    })
    expect(w.findAll('.worths li').map((l) => [l.get('.name').text().split(' best')[0], l.classes('best')])).toEqual([
      ['Look through the jet', false],
      [expect.stringContaining('Feel the pull'), true],
    ])
    await w.findAll('.worths li')[0].get('button').trigger('click')
    await flushPromises()
    expect(asked.find((a) => a.method === 'POST')!.body).toEqual({ version: 4, step: 'make', test: 'jet-look' })
    expect(w.text(), 'the next round').toContain('3')
    w.unmount()
  })
  it('tells what it was only when it is asked twice', async () => {
    const now = wall()
    const { w, asked } = await open('instructor', () => now, {
      'POST /api/walls/w1/steps': { body: wall({ stands: 'told', hidden: [{ fault: 'main-jet-blocked' }] as never }) },
    })
    const end = () => w.get('.end button')
    const first = end().text()
    await end().trigger('click')
    expect(asked.filter((a) => a.method === 'POST')).toHaveLength(0)
    expect(end().text()).not.toBe(first)
    await end().trigger('click')
    await flushPromises()
    expect(w.get('.it').text()).toBe('Main jet blocked')
    expect(w.find('.end').exists()).toBe(false)
    w.unmount()
  })
})
