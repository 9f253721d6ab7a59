import { onScopeDispose, ref, shallowRef, watch } from 'vue'
import { api, ask, direct, Refusal, type Schema } from '@/api/client'
import { useSession } from '@/session/session'

export type Spec = Schema['EvaluationSpec']

/** After so long a question that is no longer wanted is given up rather than waited for. */
const PATIENCE_MS = 250
/** How long nothing is changed before better orders are looked for. */
const CALM_MS = 1500

/**
 * What a draft comes to, asked anew at every change. One question at a time is on its
 * way; the next is always the newest, so answers never come out of order. Better orders
 * are looked for once the draft has been left alone, and can be stopped.
 */
export function useEvaluation(spec: () => Spec | null) {
  const session = useSession()
  const evaluated = shallowRef<Schema['Evaluated'] | null>(null)
  /** The last that could be followed: it stays in sight while one is being mended. */
  const whole = shallowRef<Schema['Evaluation'] | null>(null)
  /** How the readings spread of the step that was in focus, the last that was told. */
  const spread = shallowRef<{ step?: string; test?: string; seen: Schema['Seen'][] }>({ seen: [] })
  const working = ref(false)
  const trouble = shallowRef<Refusal | null>(null)
  const moves = shallowRef<Schema['Move'][] | null>(null)
  const looking = ref(false)

  let wanted: Spec | null = null
  let going: { stop: AbortController; since: number } | null = null
  async function ask1(s: Spec) {
    const stop = new AbortController()
    going = { stop, since: performance.now() }
    working.value = true
    try {
      const answer = await ask(direct.POST('/api/evaluations', { body: s, signal: stop.signal }))
      evaluated.value = answer
      if (answer.evaluation) {
        whole.value = answer.evaluation
        const test = s.procedure.steps.find((x) => x.id === s.focus)?.test
        spread.value = { step: s.focus, test, seen: answer.seen ?? [] }
      }
      trouble.value = null
    } catch (e) {
      if (!stop.signal.aborted && !session.noticed(e)) trouble.value = e as Refusal
    } finally {
      going = null
      working.value = false
    }
    if (wanted && wanted !== s) void ask1(wanted)
    else calm(s)
  }

  let search: AbortController | null = null
  let timer: ReturnType<typeof setTimeout> | undefined
  function stopLooking() {
    clearTimeout(timer)
    search?.abort()
    search = null
    looking.value = false
  }
  function calm(s: Spec) {
    clearTimeout(timer)
    if (!evaluated.value?.evaluation || looking.value || moves.value) return
    timer = setTimeout(() => void look(s), CALM_MS)
  }
  async function look(s: Spec) {
    stopLooking()
    const mine = (search = new AbortController())
    looking.value = true
    try {
      const found = await ask(api.POST('/api/better-orders', { body: { ...s, focus: undefined }, signal: mine.signal }))
      if (search === mine) moves.value = found
    } catch (e) {
      if (search === mine && !mine.signal.aborted && !session.noticed(e)) trouble.value = e as Refusal
    } finally {
      if (search === mine) stopLooking()
    }
  }

  const bare = (s: Spec | null) => s && JSON.stringify({ ...s, focus: '' })
  watch(
    () => JSON.stringify(spec()),
    () => {
      const s = spec()
      const before = bare(wanted)
      wanted = s && JSON.parse(JSON.stringify(s))
      if (bare(wanted) !== before) {
        stopLooking()
        moves.value = null
      }
      if (!wanted) return
      if (!going) void ask1(wanted)
      else if (performance.now() - going.since > PATIENCE_MS) going.stop.abort()
    },
    { immediate: true },
  )
  onScopeDispose(() => {
    stopLooking()
    going?.stop.abort()
  })
  const lookNow = () => wanted && void look(wanted)
  return { evaluated, whole, spread, working, trouble, moves, looking, lookNow, stopLooking }
}
