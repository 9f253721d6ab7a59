import { onScopeDispose, ref, shallowRef } from 'vue'
import { Refusal, type Schema } from '@/api/client'
import { useSession } from '@/session/session'

type Line = { done?: number; procedure?: Schema['Procedure']; error?: Schema['Error'] }
export type Wanted = { machine_id: string; complaint: string; steps: number; school?: string }

/** The lines of an answer as they come. */
async function* lines(body: ReadableStream<Uint8Array<ArrayBuffer>>) {
  const reader = body.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  for (;;) {
    const { value, done } = await reader.read()
    const all = (rest + (value ?? '')).split('\n')
    rest = all.pop()!
    for (const l of all) if (l) yield JSON.parse(l) as Line
    if (done) return
  }
}

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
      const r = await fetch('/api/planned-pages', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(wanted),
        signal: mine.signal,
      })
      if (!r.ok)
        throw new Refusal(r.status, await r.json().catch(() => ({})), Number(r.headers.get('Retry-After')) || 0)
      for await (const l of lines(r.body!)) {
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
