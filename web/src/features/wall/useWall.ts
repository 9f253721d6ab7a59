import { ref, shallowRef } from 'vue'
import { useChanges } from '@/api/changes'
import { api, ask, type Refusal, type Schema } from '@/api/client'

export type Wall = Schema['Wall']

/** One wall as it stands: fetched when it changes, and when somebody votes for who counts them. */
export function useWall(id: string, counts: boolean) {
  const wall = shallowRef<Wall>()
  const refusal = ref<Refusal>()
  const path = { params: { path: { wall: id } } }
  let at = { wall: -1, votes: -1 }

  async function load() {
    try {
      wall.value = await ask(api.GET('/api/walls/{wall}', path))
      refusal.value = undefined
    } catch (e) {
      refusal.value = e as Refusal
    }
  }
  const { lost } = useChanges(`/api/walls/${id}/changes`, (now) => {
    if (now.wall !== at.wall || (counts && now.votes !== at.votes)) void load()
    at = { wall: now.wall, votes: now.votes }
  })
  /** Does the next thing, if the wall still stands as it is seen here. */
  async function step(kind: 'close' | 'make' | 'tell', test?: string) {
    try {
      wall.value = await ask(
        api.POST('/api/walls/{wall}/steps', { ...path, body: { version: wall.value!.version, step: kind, test } }),
      )
      refusal.value = undefined
    } catch (e) {
      refusal.value = e as Refusal
      await load()
    }
  }
  async function vote(test: string) {
    try {
      await ask(api.PUT('/api/walls/{wall}/vote', { ...path, body: { round: wall.value!.round, test } }))
      refusal.value = undefined
    } catch (e) {
      refusal.value = e as Refusal
    }
    await load()
  }
  return { wall, refusal, lost, step, vote }
}
