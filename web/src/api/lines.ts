import { language } from '@/words/i18n'
import { Refusal } from './client'

/** The lines of an answer that takes long, as they come. It fails with a Refusal, or when the signal aborts it. */
export async function* lines<T>(path: string, body: unknown, signal: AbortSignal) {
  const r = await fetch(path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', 'Accept-Language': language },
    body: JSON.stringify(body),
    signal,
  })
  if (!r.ok) throw new Refusal(r.status, await r.json().catch(() => ({})), Number(r.headers.get('Retry-After')) || 0)
  const reader = r.body!.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  for (;;) {
    const { value, done } = await reader.read()
    const all = (rest + (value ?? '')).split('\n')
    rest = all.pop()!
    for (const l of all) if (l) yield JSON.parse(l) as T
    if (done) return
  }
}
