import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import { useChanges } from '@/api/changes'

export type Floor = Schema['Floor']
export type Bench = Schema['FloorBench']

/**
 * The benches of a class, each as it stands now. What the server says has changed is fetched,
 * and nothing else: what comes twice is not fetched twice, and what comes while a question is
 * on its way is asked for with the next.
 */
export function useFloor(id: string, giving: Ref<string | undefined>) {
  const floor = shallowRef<Floor>()
  const benches = shallowRef(new Map<string, Bench>())
  const refusal = ref<Refusal>()
  const wanted = new Set<string>()
  let asking = false

  const fetch = (attempt?: string[]) =>
    ask(
      api.GET('/api/classes/{class}/floor', {
        params: { path: { class: id }, query: { giving: giving.value, attempt } },
      }),
    )
  async function load() {
    try {
      floor.value = await fetch()
      giving.value ??= floor.value.giving
      benches.value = new Map(floor.value.benches.map((b) => [b.attempt, b]))
      refusal.value = undefined
    } catch (e) {
      refusal.value = e as Refusal
    }
  }
  async function catchUp() {
    if (asking) return
    asking = true
    try {
      while (wanted.size) {
        const these = [...wanted]
        wanted.clear()
        const now = new Map(benches.value)
        for (const b of (await fetch(these)).benches) now.set(b.attempt, b)
        benches.value = now
      }
      refusal.value = undefined
    } catch (e) {
      refusal.value = e as Refusal // the next change, or the next connection, asks again
    } finally {
      asking = false
    }
  }
  watch(giving, (now, was) => was && now && void load())
  const { lost, ended } = useChanges(
    () => (giving.value ? `/api/classes/${id}/floor/changes?giving=${giving.value}` : undefined),
    (versions, all) => {
      if (all) benches.value = new Map([...benches.value].filter(([a]) => a in versions))
      for (const [attempt, v] of Object.entries(versions))
        if ((benches.value.get(attempt)?.version ?? -1) < v) wanted.add(attempt)
      void catchUp()
    },
  )
  void load()
  return { floor, benches: computed(() => [...benches.value.values()]), refusal, lost, ended, load }
}
