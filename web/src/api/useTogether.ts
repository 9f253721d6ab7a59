import { ref, shallowRef } from 'vue'
import { useChanges } from './changes'
import type { Refusal } from './client'

/**
 * Something that a class does together, as it stands: fetched when it changes itself, and at
 * each answer for who counts them. What is refused is kept, and what was shown stays.
 */
export function useTogether<T>(
  address: string,
  /** What its stream calls the thing itself, and its answers. */
  of: { itself: string; answers: string },
  counts: boolean,
  fetch: () => Promise<T>,
) {
  const shown = shallowRef<T>()
  const refusal = ref<Refusal>()
  const at: Record<string, number> = {}

  /** Does something and says whether it was taken. */
  async function doing(what: () => Promise<unknown>): Promise<boolean> {
    try {
      await what()
      refusal.value = undefined
      return true
    } catch (e) {
      refusal.value = e as Refusal
      return false
    }
  }
  const load = () => doing(async () => (shown.value = await fetch()))
  const { lost } = useChanges(address, (now) => {
    const moved = [of.itself, ...(counts ? [of.answers] : [])].some((k) => k in now && now[k] !== at[k])
    Object.assign(at, now)
    if (moved) void load()
  })
  return { shown, refusal, lost, doing, load }
}
