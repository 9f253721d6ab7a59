import { useMutation } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Refusal } from '@/api/client'
import { useSession } from '@/session/session'
import { useLocalStorage } from '@/session/useLocalStorage'

/**
 * Takes the first job, and goes to its bench; trouble is why it could not. It is offered
 * on this device until it is taken or left.
 */
export function useFirstJob() {
  const router = useRouter()
  const offered = useLocalStorage(`first-job.${useSession().me?.id}`, true)
  const trouble = ref<Refusal | null>(null)
  const job = useMutation({
    mutationFn: () => ask(api.POST('/api/first-job')),
    onSuccess: ({ attempt }) => {
      offered.value = false
      return router.push(`/bench/${attempt}`)
    },
    onError: (e) => (trouble.value = e as Refusal),
  })
  return { take: () => job.mutate(), busy: job.isPending, trouble, offered }
}
