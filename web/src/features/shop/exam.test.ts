import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, it } from 'vitest'
import { forget, type Schema } from '@/api/client'
import { useSession } from '@/session/session'
import { server, show } from '@/testing/stage'
import ExamView from './ExamView.vue'

const turn = (over: Partial<Schema['ExamTurn']>) => ({
  attempt: `a${over.person}${over.engine}`,
  state: 'new',
  ...over,
})
const exam = {
  id: 'x1',
  title: 'Autumn exam',
  starts_at: '2026-11-28T08:00:00Z',
  debrief_at: '2026-12-05T08:00:00Z',
  minutes: 60,
  rest: 10,
  people: [
    { id: 'p1', name: 'Teo' },
    { id: 'p2', name: 'Mina' },
  ],
  engines: [
    { machine_id: 'm1', name: 'Gate hoist', code: 'GH-1', state: 'given', again: true },
    { machine_id: 'm2', name: 'Bank mower', code: 'BM-3', state: 'given', again: false },
  ],
  rounds: [
    {
      at: '2026-11-28T08:00:00Z',
      turns: [
        turn({ person: 0, engine: 0, state: 'handed-over', mark: 31, of: 40, outcome: 'competent', signed: true }),
        turn({ person: 1, engine: 1, state: 'handed-over', mark: 40, of: 40, outcome: 'competent', untested: true }),
      ],
    },
    { at: '2026-11-28T09:10:00Z', turns: [turn({ person: 1, engine: 0, state: 'in-hand' })] },
  ],
}

beforeEach(() => {
  forget()
  setActivePinia(createPinia())
  useSession().me = { id: 'i', name: 'inst', display_name: 'Inst', role: 'instructor' }
})
const open = (answer: object) => {
  server({ 'GET /api/exams/x1': answer })
  return show(ExamView, '/yard/exams/x1', {}, {}, [{ path: '/yard/exams/:exam', component: ExamView }])
}

it('has who is where and when, and leads to the bench of a turn or to its debrief', async () => {
  const w = await open({ body: exam })
  const plan = w.get('section[aria-label="Plan"]')
  const cells = plan.findAll('tbody tr').map((r) => r.findAll('td').map((c) => c.text()))
  expect(cells).toEqual([
    [expect.stringMatching(/^Teo/), expect.stringMatching(/^Mina/)],
    [expect.stringMatching(/^Mina/), '–'],
  ])
  expect(plan.findAll('a.turn').map((a) => a.attributes('href'))).toEqual([
    '/debrief/a00',
    '/debrief/a11',
    '/bench/a10',
  ])
  expect(plan.findAll('.due'), 'the one that waits to be set again').toHaveLength(1)
  w.unmount()
})
it('counts what was shown, and says of what was not why', async () => {
  const w = await open({ body: exam })
  const rows = w.findAll('section[aria-label="What it came to"] tbody tr').map((r) => r.text())
  expect(rows[0]).toMatch(/Teo.*77\.5 of 100.*signed off.*1 of 2/)
  expect(rows[1], 'parts until it ran is no job passed').toMatch(/Mina.*nothing tested.*0 of 2/)
  w.unmount()
})
it('says in words why there is none to see', async () => {
  const w = await open({ status: 404, body: { code: 'http.not-found', problem: 'x', mend: 'y' } })
  expect(w.get('[role=alert]').text()).not.toMatch(/http\.|undefined/)
  w.unmount()
})
