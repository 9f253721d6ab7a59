import { flushPromises } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { forget, type Schema } from '@/api/client'
import { useSession } from '@/session/session'
import { server, show } from '@/testing/stage'
import LessonView from './LessonView.vue'
import LineupView from './LineupView.vue'

let told: (now: Record<string, number>) => void
vi.mock('@/api/changes', () => ({
  useChanges: (_: string, then: typeof told) => {
    told = then
    return { lost: false }
  },
}))

const look = (open: number): Schema['Look'] => ({ test: 'jet-look', text: 'A dark edge.', seen: { open } })
const lesson = (over: Partial<Schema['Lesson']> = {}): Schema['Lesson'] => ({
  id: 'l1',
  class_title: 'Morning',
  sense: 'eye',
  test: 'jet-look',
  family: 'f4-bowl',
  asked: 'main-jet-blocked',
  sides: [{ look: look(1) }, { look: look(0.4) }],
  members: 4,
  answered: 1,
  ...over,
})

beforeEach(() => {
  forget()
  setActivePinia(createPinia())
})

describe('two machines told apart', () => {
  const open = async (role: 'apprentice' | 'instructor', now: () => Schema['Lesson'], more: object = {}) => {
    useSession().me = { id: 'x', name: 'x', display_name: 'X', role }
    const asked = server({ 'GET /api/lessons/l1': () => ({ body: now() }), ...more })
    const w = await show(LessonView, '/', { LookScene: true }, { id: 'l1' })
    told({ lesson: 1, answers: 0 })
    await flushPromises()
    return { w, asked, sides: () => w.findAll('.two section') }
  }
  it('takes an answer that can be changed, and says nothing of which was right until it is told', async () => {
    let now = lesson()
    const { w, asked, sides } = await open('apprentice', () => now, {
      'PUT /api/lessons/l1/answer': () => {
        now = lesson({ mine: 1 })
        return { status: 204 }
      },
    })
    expect(w.get('h1').text()).toContain('main jet blocked')
    await sides()[1].get('button').trigger('click')
    await flushPromises()
    expect(asked.find((a) => a.method === 'PUT')!.body).toEqual({ side: 1 })
    expect(sides().map((s) => s.get('button').attributes('aria-pressed'))).toEqual(['false', 'true'])
    expect(w.findAll('.right')).toHaveLength(0)
    expect(w.text()).not.toContain('%')
    now = lesson({ mine: 1, right: 1, chose: [1, 3], beside: 'emulsion-blocked' })
    told({ lesson: 2 })
    await flushPromises()
    expect(sides().map((s) => s.classes('right'))).toEqual([false, true])
    expect(sides()[1].text()).toContain('75 %')
    expect(w.findAll('.two button'), 'it is over').toHaveLength(0)
    w.unmount()
  })
  it('has no answer for who teaches, and one who does not teach cannot tell', async () => {
    const teacher = await open('instructor', () => lesson())
    expect(teacher.sides().flatMap((s) => s.findAll('button'))).toHaveLength(0)
    expect(teacher.w.findAll('.row button')).toHaveLength(1)
    teacher.w.unmount()
    const pupil = await open('apprentice', () => lesson())
    expect(pupil.w.findAll('.row button')).toHaveLength(0)
    pupil.w.unmount()
  })
})

describe('looks side by side', () => {
  const stand = (test: string, over: object) => ({ word: 'part', look: { ...look(0.5), test }, ...over })
  it('shows one look of one engine at a time, by little light too, and without its names to be tested by', async () => {
    const body = [
      stand('jet-look', { word: 'daylight' }),
      stand('jet-look', { fault: 'main-jet-blocked', severity: 0.35 }),
      stand('plug-look', { word: 'sooty', fault: 'choke-stuck-shut' }),
    ]
    server({ 'GET /api/families/f4-bowl/lineup': { body } })
    const w = await show(LineupView, '/', {
      LookScene: { props: ['look'], template: '<i :data-dim="look.dim">{{ look.test }}</i>' },
    })
    const seen = () => w.findAll('.stands i').map((i) => i.text())
    expect(seen()).toEqual(['plug-look'])
    const select = w.findAllComponents({ name: 'VSelect' })[1]
    await select.setValue('jet-look')
    expect(seen()).toEqual(['jet-look', 'jet-look'])
    expect(w.findAll('.called').map((c) => c.text())).toEqual([
      'Daylight a sound engine',
      expect.stringMatching(/Main jet blocked.*35 %/),
    ])
    const [dim, named] = w.findAll('input[type=checkbox]')
    await dim.setValue(true)
    await named.setValue(false)
    expect(w.get('.stands i').attributes('data-dim')).toBe('true')
    expect(w.findAll('.called').map((c) => c.text())).toEqual(['1', '2'])
    w.unmount()
  })
  it('says why there is nothing to see', async () => {
    server({
      'GET /api/families/f4-bowl/lineup': { status: 503, body: { code: 'http.busy', problem: 'x', mend: 'y' } },
    })
    const w = await show(LineupView)
    expect(w.get('[role=alert]').text()).not.toMatch(/http\.|undefined/)
    w.unmount()
  })
})
