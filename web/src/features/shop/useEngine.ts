import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'

/** An engine with its cards, and what is done to them. A refused step keeps what was typed. */
export function useEngine(machine: string) {
  const queries = useQueryClient()
  const path = { params: { path: { machine } } }
  const key = ['engine', machine]
  const file = useQuery({ queryKey: key, queryFn: () => ask(api.GET('/api/engines/{machine}', path)) })
  const refusal = ref<Refusal>()
  const open = computed(() => {
    const c = file.data.value?.cards[0]
    return c && c.acts.at(-1)!.kind !== 'released' ? c : undefined
  })
  const closed = computed(() => (file.data.value?.cards ?? []).filter((c) => c !== open.value))

  async function keep(now: Schema['EngineFile']) {
    refusal.value = undefined
    queries.setQueryData(key, now)
    await queries.invalidateQueries({ queryKey: ['engines'] })
  }
  const bug = useMutation({
    mutationFn: (v: { id: string; bug: Schema['Bug'] }) =>
      ask(api.POST('/api/engines/{machine}/bugs', { ...path, body: v })),
    onSuccess: keep,
    onError: (e) => (refusal.value = e as unknown as Refusal),
  })
  const act = useMutation({
    mutationFn: (v: { act: Schema['BugAct']; give?: Schema['GivenEngine'] }) =>
      ask(
        api.POST('/api/bugs/{bug}/acts', {
          params: { path: { bug: open.value!.id } },
          body: { after: open.value!.acts.length, ...v },
        }),
      ),
    onSuccess: keep,
    onError: async (e) => {
      refusal.value = e as unknown as Refusal
      if (refusal.value.status === 409) await queries.invalidateQueries({ queryKey: key })
    },
  })
  return { file, open, closed, bug, act, refusal }
}
