import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import { useSession } from '@/session/session'
import { vuetify } from '@/theme'
import { server, show as stage } from '@/testing/stage'
import FirstJob from './FirstJob.vue'
import FirstSteps from './FirstSteps.vue'

const steps = (...done: boolean[]) => ['start', 'read', 'mark'].map((id, i) => ({ id, done: !!done[i] }))
const show = (s: ReturnType<typeof steps>) =>
  mount(FirstSteps, { props: { of: 'bench', steps: s }, global: { plugins: [vuetify()] } })

beforeEach(() => {
  localStorage.clear()
  setActivePinia(createPinia())
  useSession().me = { id: 'p', name: 'p', display_name: 'P', role: 'apprentice' }
})

describe('the first steps', () => {
  it('go on as each is done, past what is done already, and end', async () => {
    const w = show(steps())
    expect(w.text()).toContain('1 of 3')
    await w.setProps({ steps: steps(true, true) })
    await w.vm.$nextTick()
    expect(w.text()).toContain('3 of 3')
    await w.setProps({ steps: steps(true, true, true) })
    await w.vm.$nextTick()
    expect(w.find('section').exists()).toBe(false)
    expect(show(steps()).find('section').exists()).toBe(false)
  })
  it('can be left, and do not come back', async () => {
    const w = show(steps())
    await w.get('button').trigger('click')
    expect(w.find('section').exists()).toBe(false)
    expect(show(steps()).find('section').exists()).toBe(false)
  })
})

describe('the first job', () => {
  it('is offered until it is taken or left, and is a button after that', async () => {
    const asked = server({ 'POST /api/first-job': { body: { attempt: 'a' } } })
    const w = await stage(FirstJob, '/', {}, { says: 'A few minutes.' })
    expect(w.get('section').text()).toContain('A few minutes.')
    await w.get('button').trigger('click') // not now
    expect(w.find('section').exists()).toBe(false)
    await w.get('button').trigger('click')
    await flushPromises()
    expect(asked).toHaveLength(1)
    expect(w.vm.$router.currentRoute.value.path).toBe('/bench/a')
  })
  it('says why it cannot be taken', async () => {
    server({ 'POST /api/first-job': { status: 409, body: { code: 'http.no-machine-in-yard' } } })
    const w = await stage(FirstJob, '/', {}, { says: 'x' })
    await w.findAll('button').at(-1)!.trigger('click')
    await flushPromises()
    expect(w.get('.refusal').text()).toContain('no machine in the yard')
  })
})
