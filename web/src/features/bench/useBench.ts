import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { onScopeDispose, ref, shallowRef, watch } from 'vue'
import { api, ask, Refusal, type Schema } from '@/api/client'
import { useSession } from '@/session/session'
import { useLocalStorage } from '@/session/useLocalStorage'
import { sentence } from '@/words/words'

type Event = Schema['Event']
type Bench = Schema['Bench']
/** An act that the server has not yet answered for. Its id makes a retry harmless. */
type Pending = { client_id: string; after: number | null; event: Event }

const RETRY_MS = 2000
const DOUBLE_CLICK_MS = 400
/** So that a whole job is not worked against a server that never sees it. */
const LONGEST_QUEUE = 50
/** An answer that comes sooner is not waited for by the eye: nothing is greyed out for it. */
const SOON_MS = 250

/** Lays what an act changed over the bench that was there; null stands for what is gone. */
export function laid(bench: Bench, change: Schema['BenchChange']): Bench {
  const out: Record<string, unknown> = { ...bench }
  for (const [member, now] of Object.entries(change)) {
    if (now === null) delete out[member]
    else out[member] = now
  }
  return out as Bench
}

/**
 * The bench of one attempt: the server's picture of it, and a queue of acts
 * that outlives a reload and a lost connection. Acts go one at a time, in
 * order; each says which ledger it was made on. One that is refused is set
 * aside and shown, and those behind it go on.
 */
export function useBench(attempt: string) {
  const session = useSession()
  const bench = shallowRef<Bench | null>(null)
  const queue = useLocalStorage<Pending[]>(`queue.${attempt}`, [])
  const refusal = ref<Refusal | null>(null)
  /** The act that was refused while others waited behind it. */
  const aside = ref<Event | null>(null)
  const notice = ref('')
  const offline = ref(false)
  const busy = ref(false)
  /** An act has been on its way for so long that it must be seen to be. */
  const slow = ref(false)
  const late = useTimeoutFn(() => (slow.value = busy.value), SOON_MS, { immediate: false })
  const pause = ref(RETRY_MS)
  const retry = useTimeoutFn(() => void (bench.value ? send() : load()), pause, { immediate: false })
  const others = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel(`zanjero.${attempt}`)
  const path = { params: { path: { attempt } } }

  async function load() {
    try {
      bench.value = await ask(api.GET('/api/attempts/{attempt}', path))
      offline.value = false
    } catch (e) {
      const r = e as Refusal
      if (!wait(r)) refusal.value = r
      return
    }
    void send()
  }

  /** Tells whether nobody has said no, so that the same is tried again later. */
  function wait(r: Refusal) {
    if (session.noticed(r)) return true // until the sign-in
    if (!r.away) return false
    offline.value = true
    pause.value = Math.max(RETRY_MS, 1000 * r.retryAfter)
    retry.start()
    return true
  }

  let lastAct = { text: '', at: 0 }
  /**
   * Does acts in order. One that is made while another is on its way, or while the
   * connection is lost, waits in line; the same once more within a moment is a double
   * click, and one act.
   */
  function act(...events: Event[]) {
    const text = JSON.stringify(events)
    const again = text === lastAct.text && performance.now() - lastAct.at < DOUBLE_CLICK_MS
    if ((queue.value.length > 0 && again) || queue.value.length >= LONGEST_QUEUE) return
    lastAct = { text, at: performance.now() }
    refusal.value = aside.value = null
    notice.value = ''
    queue.value = [...queue.value, ...events.map((event) => ({ client_id: crypto.randomUUID(), after: null, event }))]
    // While the connection is lost the timer tries again; one more try now costs nothing.
    return send()
  }

  async function send() {
    if (busy.value || !bench.value) return
    busy.value = true
    late.start()
    try {
      while (queue.value.length > 0) {
        const next = queue.value[0]
        next.after ??= bench.value.seq
        try {
          const body: Schema['NewEvent'] = { client_id: next.client_id, after: next.after, event: next.event }
          bench.value = laid(bench.value, await ask(api.POST('/api/attempts/{attempt}/events', { ...path, body })))
        } catch (e) {
          const r = e as Refusal
          if (wait(r)) return
          lastAct.at = 0
          const moved = r.body as Schema['Moved']
          if (r.status === 409 && moved.bench) {
            // Somebody else has gone on: nothing of this line was meant for what is there now.
            bench.value = moved.bench
            queue.value = []
            notice.value = sentence(r)
            return
          }
          queue.value = queue.value.slice(1)
          refusal.value = r
          if (queue.value.length > 0) aside.value = next.event
          continue
        }
        offline.value = false
        queue.value = queue.value.slice(1)
        others?.postMessage(bench.value.seq)
      }
    } finally {
      busy.value = slow.value = false
      late.stop()
    }
  }

  const catchUp = () => void (busy.value || queue.value.length > 0 || load())
  if (others) others.onmessage = (m) => bench.value && m.data > bench.value.seq && catchUp()
  const onFocus = () => document.visibilityState === 'visible' && catchUp()
  useEventListener(document, 'visibilitychange', onFocus)
  // The device says that it is back: no need to wait for the next try.
  useEventListener(window, 'online', () => offline.value && void (bench.value ? send() : load()))
  const stopWatch = watch(
    () => session.ended,
    (ended) => !ended && void (bench.value ? send() : load()),
  )
  onScopeDispose(() => {
    others?.close()
    stopWatch()
  })

  return { bench, busy, slow, offline, refusal, aside, notice, queue, load, act }
}
