import createClient from 'openapi-fetch'
import { ref } from 'vue'
import { language } from '@/words/i18n'
import { explain, has } from '@/words/words'
import type { components, paths } from './schema'

export type Schema = components['schemas']

// fetch is looked up at each call, so that tests can stand in for it.
const options = { fetch: (r: Request) => globalThis.fetch(r), headers: { 'Accept-Language': language } }

/** The one client of the server. */
export const api = createClient<paths>(options)

// What has not changed is not sent again: the last answer to each address is kept with its tag.
const answers = new Map<string, { tag: string; body: string }>()
const MOST_ANSWERS = 40
api.use({
  onRequest({ request }) {
    const last = request.method === 'GET' && answers.get(request.url)
    if (last) request.headers.set('If-None-Match', last.tag)
  },
  async onResponse({ request, response }) {
    const last = answers.get(request.url)
    if (response.status === 304 && last) return Response.json(JSON.parse(last.body))
    const tag = response.headers.get('ETag')
    if (!tag || !response.ok || request.method !== 'GET') return
    if (answers.size >= MOST_ANSWERS) answers.clear()
    answers.set(request.url, { tag, body: await response.clone().text() })
  },
})

/**
 * The same for questions that nothing is kept of: it sends at once, where the other first
 * looks what it has, and so before the page is drawn anew.
 */
export const direct = createClient<paths>(options)

/** Forgets every answer: somebody else may sit down. */
export const forget = () => answers.clear()

/** A refusal by the server, or that it could not be reached. */
export class Refusal extends Error {
  /** What is wrong, in the words of the page. */
  readonly what: string
  /** How to mend it. */
  readonly mend: string

  constructor(
    /** The status of the answer; 0 when nothing came back. */
    readonly status: number,
    answer: Partial<Schema['Error']>,
    /** After how many seconds the same may be asked again; 0 for never. */
    readonly retryAfter = 0,
  ) {
    super(answer.code ?? String(status))
    this.body = answer
    const said = answer.code && has(`problem.${answer.code}.what`) ? explain(answer as Schema['Error']) : undefined
    const unknown = explain({ code: 'page.server-answered', params: { status } })
    this.what = said?.what ?? answer.problem ?? unknown.what
    this.mend = said?.mend ?? answer.mend ?? unknown.mend
  }
  readonly body: unknown
  /** Every problem that the server named. */
  get all(): Schema['Problem'][] {
    return (this.body as Partial<Schema['Error']>).all ?? []
  }
  /** Nobody has said no: the connection is down, or the server or its database is away. The same can be sent again. */
  get away() {
    return this.status === 0 || this.status >= 500
  }
}

/** The last question had no answer, or only that the server or its database is away. */
export const lost = ref(false)

type Answer<T> = { data?: T; error?: unknown; response: Response }

/** Unwraps an answer, or throws a Refusal that says what and how to mend it. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch {
    lost.value = true
    throw new Refusal(0, { code: 'page.server-cannot-be-reached' })
  }
  const { data, error, response } = answer
  lost.value = response.status >= 500
  if (response.ok) return data as T
  const body = typeof error === 'object' && error !== null ? (error as Partial<Schema['Error']>) : {}
  throw new Refusal(response.status, body, Number(response.headers.get('Retry-After')) || 0)
}
