import { api, ask, type Schema } from '@/api/client'
import { useTogether } from '@/api/useTogether'

export type Wall = Schema['Wall']

/** One wall as it stands, with what can be done on it. */
export function useWall(id: string, counts: boolean) {
  const path = { params: { path: { wall: id } } }
  const { shown, refusal, lost, doing, load } = useTogether(
    `/api/walls/${id}/changes`,
    { itself: 'wall', answers: 'votes' },
    counts,
    () => ask(api.GET('/api/walls/{wall}', path)),
  )
  /** Fetches it anew, and keeps why something else was refused. */
  async function loadBeside() {
    const why = refusal.value
    await load()
    refusal.value ??= why
  }
  /** Does the next thing, if the wall still stands as it is seen here. */
  async function step(kind: 'close' | 'make' | 'tell', test?: string) {
    const body = { version: shown.value!.version, step: kind, test }
    const taken = await doing(
      async () => (shown.value = await ask(api.POST('/api/walls/{wall}/steps', { ...path, body }))),
    )
    if (!taken) await loadBeside()
  }
  async function vote(test: string) {
    await doing(() => ask(api.PUT('/api/walls/{wall}/vote', { ...path, body: { round: shown.value!.round, test } })))
    await loadBeside()
  }
  return { wall: shown, refusal, lost, step, vote }
}
