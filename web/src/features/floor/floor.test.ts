import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import '@/words/office'
import { actWords, needOf, standsFor, STILL_MIN } from './needs'
import { useFloor, type Bench } from './useFloor'

const NOW = Date.parse('2026-11-27T10:00:00Z')
const ago = (min: number) => new Date(NOW - min * 60_000).toISOString()
const bench = (of: Partial<Bench> = {}): Bench => ({
  attempt: 'a',
  person: 'p',
  display_name: 'Ann',
  family: 'f4-bowl',
  machine_name: 'Pump',
  machine_code: 'P',
  stands: 'at-work',
  version: 1,
  minutes: 4,
  limit_minutes: 60,
  money: 0,
  paused: false,
  marks: {},
  last_at: ago(1),
  ...of,
})
const unsafe = { seq: 1, test: 'spark-gap', precautions: ['insulated-grip'], critical: true }

describe('who is wanted where', () => {
  it('puts what can hurt before what asks, and that before who stands still', () => {
    expect(needOf(bench({ unsafe, asks: 'May I?', last_at: ago(30) }), NOW)).toBe('unsafe')
    expect(needOf(bench({ asks: 'May I?', last_at: ago(30) }), NOW)).toBe('asks')
    expect(needOf(bench({ last_at: ago(STILL_MIN) }), NOW)).toBe('still')
    expect(needOf(bench({ last_at: ago(STILL_MIN - 1) }), NOW)).toBe('at-work')
  })
  it('wants nobody where it is handed over, paused, or not begun', () => {
    expect(needOf(bench({ stands: 'to-review', unsafe }), NOW)).toBe('handed')
    expect(needOf(bench({ paused: true, last_at: ago(40) }), NOW)).toBe('paused')
    expect(needOf(bench({ stands: 'not-begun', last_at: undefined }), NOW)).toBe('not-begun')
    expect(standsFor(bench({ stands: 'done' }), NOW)).toBeUndefined()
  })
  it('says an act in words', () => {
    expect(actWords({ kind: 'take', test: 'spark-gap', reading: '13', unit: 'mm' })).toMatch(/: 13 mm$/)
    expect(actWords({ kind: 'take', test: 'plug-look', word: 'wet' })).toMatch(/: wet$/)
    expect(actWords({ kind: 'repair', repair: 'clean', reach: 'jets' })).toBe('Clean: Jets')
  })
})

describe('the floor as it is told', () => {
  /** Stands in for the stream: the test says what comes. */
  class Stream {
    static last: Stream
    heard: Record<string, (e: { data: string }) => void> = {}
    onerror?: () => void
    readyState = 1
    constructor(readonly url: string) {
      Stream.last = this
    }
    addEventListener(kind: string, on: (e: { data: string }) => void) {
      this.heard[kind] = on
    }
    close() {}
    tell(kind: string, versions: Record<string, number>) {
      this.heard[kind]({ data: JSON.stringify(versions) })
    }
  }
  let asked: string[] = []
  let now: Bench[] = []
  beforeEach(() => {
    asked = []
    now = [bench({ attempt: 'a' }), bench({ attempt: 'b' })]
    vi.stubGlobal('EventSource', Object.assign(Stream, { CLOSED: 2 }))
    vi.stubGlobal('fetch', async (r: Request) => {
      const q = new URL(r.url).searchParams
      asked.push(q.getAll('attempt').join('+') || 'all')
      const these = q.getAll('attempt')
      return Response.json({
        title: 'C',
        giving: 'g',
        givings: [],
        benches: now.filter((b) => !these.length || these.includes(b.attempt)),
      })
    })
  })
  afterEach(() => vi.unstubAllGlobals())

  const open = async () => {
    let floor!: ReturnType<typeof useFloor>
    mount(
      defineComponent(() => {
        floor = useFloor('c', ref<string>())
        return () => h('div')
      }),
    )
    await flushPromises()
    return floor
  }

  it('fetches what has changed, once, and nothing that it has', async () => {
    const floor = await open()
    expect(asked).toEqual(['all'])
    Stream.last.tell('all', { a: 1, b: 1 })
    await flushPromises()
    expect(asked, 'it has these').toEqual(['all'])
    now[0].version = 2
    Stream.last.tell('changed', { a: 2 })
    await flushPromises()
    Stream.last.tell('changed', { a: 2 }) // the same once more says nothing new
    await flushPromises()
    expect(asked).toEqual(['all', 'a'])
    expect(floor.benches.value.find((b) => b.attempt === 'a')!.version).toBe(2)
  })

  it('after a gap takes what differs and drops what is gone', async () => {
    const floor = await open()
    now = [bench({ attempt: 'b', version: 9 })]
    Stream.last.onerror!()
    expect(floor.lost.value).toBe(true)
    Stream.last.tell('all', { b: 9 })
    await flushPromises()
    expect(floor.lost.value).toBe(false)
    expect(asked).toEqual(['all', 'b'])
    expect(floor.benches.value.map((b) => b.attempt)).toEqual(['b'])
  })

  it('says when one may watch no more', async () => {
    const floor = await open()
    Stream.last.tell('ended', {})
    expect(floor.ended.value).toBe(true)
  })
})
