import { onScopeDispose, ref, shallowRef } from 'vue'
import { Refusal, type Schema } from '@/api/client'
import { lines } from '@/api/lines'
import { useSession } from '@/session/session'

type Line = { done?: number; procedure?: Schema['Procedure']; error?: Schema['Error'] }
export type Wanted = { machine_id: string; complaint: string; steps: number; school?: string }

/** A page that the server looks for: how far it is, and a way to stop it. */
export function usePlan() {
  const session = useSession()
  /** From 0 to 1 while it goes on; 0 where none does. */
  const done = ref(0)
  const trouble = shallowRef<Refusal | null>(null)
  let going: AbortController | null = null

  /** Looks for a page and gives it, or nothing where it was stopped or could not be. */
  async function plan(wanted: Wanted): Promise<Schema['Procedure'] | undefined> {
    stop()
    const mine = (going = new AbortController())
    done.value = 0.01
    trouble.value = null
    try {
      for await (const l of lines<Line>('/api/planned-pages', wanted, mine.signal)) {
        if (l.error) throw new Refusal(422, l.error)
        if (l.procedure) return l.procedure
        if (going === mine) done.value = l.done ?? done.value
      }
      throw new Refusal(0, { code: 'page.server-cannot-be-reached' }) // it was cut short
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
    done.value = 0
  }
  onScopeDispose(stop)
  return { done, trouble, plan, stop }
}
