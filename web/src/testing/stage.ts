import { flushPromises, mount } from '@vue/test-utils'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { vi } from 'vitest'
import { createMemoryHistory, createRouter, type RouteRecordRaw } from 'vue-router'
import { vuetify } from '@/theme'

type Answer = { status?: number; body?: unknown; /** An answer that comes line by line. */ lines?: unknown[] }
type Asked = { method: string; path: string; body: Record<string, unknown> | undefined }

/** A server that answers by method and path, and remembers what it was asked. */
export function server(answers: Record<string, Answer | (() => Answer | Promise<Answer>)>) {
  const asked: Asked[] = []
  globalThis.fetch = vi.fn(async (to: Request | string, how?: RequestInit) => {
    const r = typeof to === 'string' ? new Request(new URL(to, location.href), how) : to
    const key = `${r.method} ${new URL(r.url).pathname}`
    const raw = await r.clone().text()
    asked.push({ method: r.method, path: new URL(r.url).pathname, body: raw ? JSON.parse(raw) : undefined })
    const a = answers[key]
    const answer = typeof a === 'function' ? await a() : a
    if (!answer) return Response.json({ code: 'http.not-found' }, { status: 404 })
    if (answer.lines) return new Response(answer.lines.map((l) => `${JSON.stringify(l)}\n`).join(''))
    return answer.status === 204
      ? new Response(null, { status: 204 })
      : Response.json(answer.body, { status: answer.status ?? 200 })
  }) as typeof fetch
  return asked
}

/** A view as the router would show it at a path, its charts and boards left out unless they are asked for. */
export async function show(
  view: object,
  path = '/',
  stubs: object = { LateralBoard: true, EvidenceCurve: true },
  props: object = {},
  routes: RouteRecordRaw[] = [],
) {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      ...routes,
      { path: '/debrief/:attempt', component: { template: '<i/>' } },
      { path: '/bench/:attempt/:rest(.*)*', component: { template: '<i/>' } },
      { path: '/:rest(.*)*', component: { template: '<i/>' } },
    ],
  })
  await router.push(path)
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const w = mount(view, {
    props,
    attachTo: document.body,
    global: {
      plugins: [router, vuetify(), [VueQueryPlugin, { queryClient }]],
      stubs: { VIcon: true, ...stubs },
    },
  })
  await flushPromises()
  return w
}

/** An engine family with one of everything that a test presses. */
export const family = {
  id: 'f4-bowl',
  name: 'Four-stroke',
  laterals: [{ id: 'fuel', name: 'Fuel' }],
  reaches: [{ id: 'jets', name: 'Jets', lateral: 'fuel', beside: false }],
  faults: [{ id: 'main-jet-blocked', name: 'Main jet blocked', reach: 'jets', graded: true, modes: [], causes: [] }],
  tests: [],
  covers: [],
  controls: [],
  acts: [],
  actions: [],
  repairs: [],
  causes: [],
  advice: [],
  hazards: [],
  complaints: [{ id: 'no-start', name: 'It does not start' }],
  statements: [{ id: 'dust', name: 'It works in dust all day.' }],
  setups: [],
  blades: [],
}
