import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schema = components['schemas']

/** The one client of the server. fetch is looked up at each call, so that tests can stand in for it. */
export const api = createClient<paths>({ fetch: (r) => globalThis.fetch(r) })

/** A refusal by the server, or that it could not be reached. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly problem: string,
    readonly mend: string,
    readonly all: Schema['Problem'][] = [],
    readonly body?: unknown,
  ) {
    super(problem)
  }
  /** Nothing came back: the connection is down or the server is away. */
  get offline() {
    return this.status === 0
  }
}

type Answer<T> = { data?: T; error?: unknown; response: Response }

/** Unwraps an answer, or throws a Refusal that says what and how to mend it. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch {
    throw new Refusal(0, 'the server cannot be reached', 'what you did is kept here and will be sent again')
  }
  const { data, error, response } = answer
  if (response.ok) return data as T
  const e = (error ?? {}) as Partial<Schema['Error']>
  throw new Refusal(
    response.status,
    e.problem ?? `the server answered ${response.status}`,
    e.mend ?? 'try again',
    e.all ?? [],
    error,
  )
}
