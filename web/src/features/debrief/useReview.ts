import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { ref, type Ref } from 'vue'
import { api, ask, Refusal, type Schema } from '@/api/client'
import { useSession } from '@/session/session'
import { save } from '@/session/save'

export type NewAct = Omit<Schema['NewReviewAct'], 'after'>

/**
 * What people do to an assessment. Each act says how many it has seen; where somebody else
 * was quicker, the debrief is fetched again and what was typed stays with whoever typed it.
 */
export function useReview(attempt: string, debrief: Ref<Schema['Debrief'] | undefined>) {
  const queries = useQueryClient()
  const session = useSession()
  const refusal = ref<Refusal | null>(null)
  const after = () => debrief.value?.review.after ?? 0
  const path = { attempt }
  const answered = {
    onMutate: () => void (refusal.value = null),
    onSuccess: (d: Schema['Debrief']) => {
      queries.setQueryData(['debrief', attempt], d)
      void queries.invalidateQueries({ queryKey: ['reviews'] })
    },
    onError: (e: unknown) => {
      if (session.noticed(e)) return
      refusal.value = e as Refusal
      if ((e as Refusal).status === 409) void queries.invalidateQueries({ queryKey: ['debrief', attempt] })
    },
  }
  const act = useMutation({
    mutationFn: (a: NewAct) =>
      ask(api.POST('/api/attempts/{attempt}/review', { params: { path }, body: { after: after(), ...a } })),
    ...answered,
  })
  const resit = useMutation({
    mutationFn: () => ask(api.POST('/api/attempts/{attempt}/resit', { params: { path }, body: { after: after() } })),
    ...answered,
  })
  const anew = useMutation({
    mutationFn: () => ask(api.POST('/api/attempts/{attempt}/anew', { params: { path }, body: { after: after() } })),
    ...answered,
  })
  const carry = useMutation({
    mutationFn: async () => {
      // As text: a seed has more figures than a number here keeps.
      const form = await ask(api.GET('/api/attempts/{attempt}/export', { params: { path }, parseAs: 'text' }))
      save('attempt.json', form as unknown as string)
    },
    onError: answered.onError,
  })
  return { act, resit, anew, carry, refusal }
}
