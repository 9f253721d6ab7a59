import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'

/** What an engine family has: the same for every job, so it is fetched once. */
export function useFamily(id: MaybeRefOrGetter<string | undefined>) {
  return useQuery({
    queryKey: ['family', computed(() => toValue(id))],
    queryFn: () => ask(api.GET('/api/families/{family}', { params: { path: { family: toValue(id)! } } })),
    enabled: () => !!toValue(id),
    staleTime: Infinity,
  })
}
