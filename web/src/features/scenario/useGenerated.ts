import { onScopeDispose, ref, shallowRef } from 'vue'
import { Refusal, type Schema } from '@/api/client'
import { lines } from '@/api/lines'
import { useSession } from '@/session/session'

type Found = Schema['FoundScenario']
type Line = { found: number; tried: number; scenarios?: Found[]; error?: Schema['Error'] }
export type Wanted = {
  like: Schema['JobSpec']
  count: number
  seed?: number
  level?: number
  lateral?: string
  lesson?: string[]
  complaint?: string
  equal?: boolean
}

/** Scenarios that the server looks for: what it has, how far it is, and a way to stop it. */
export function useGenerated() {
  const session = useSession()
  const found = shallowRef<Found[]>([])
  /** How many were tried while it goes on; undefined where none does. */
  const tried = ref<number>()
  const trouble = shallowRef<Refusal | null>(null)
  /** These are as hard as what stands on the desk. */
  const equal = ref(false)
  let going: AbortController | null = null

  async function generate(wanted: Wanted) {
    stop()
    const mine = (going = new AbortController())
    tried.value = 0
    found.value = []
    trouble.value = null
    equal.value = !!wanted.equal
    try {
      for await (const l of lines<Line>('/api/generated-scenarios', wanted, mine.signal)) {
        if (going !== mine) return
        if (l.scenarios) found.value = l.scenarios
        if (l.error) throw new Refusal(422, l.error)
        tried.value = l.tried || tried.value
      }
    } catch (e) {
      if (mine.signal.aborted) return
      const r = e instanceof Refusal ? e : new Refusal(0, { code: 'page.server-cannot-be-reached' })
      if (!session.noticed(r)) trouble.value = r
    } finally {
      if (going === mine) stop()
    }
  }
  function stop() {
    going?.abort()
    going = null
    tried.value = undefined
  }
  const drop = (f: Found) => (found.value = found.value.filter((x) => x !== f))
  onScopeDispose(stop)
  return { found, tried, trouble, equal, generate, stop, drop }
}
