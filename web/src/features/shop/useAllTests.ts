import { useQueries, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'

/** The tests that give a figure, of all the families that the yard has, each once. */
export function useAllTests() {
  const machines = useQuery({ queryKey: ['machines'], queryFn: () => ask(api.GET('/api/machines')) })
  const families = computed(() => [...new Set((machines.data.value ?? []).map((m) => m.family))])
  const all = useQueries({
    queries: computed(() =>
      families.value.map((family) => ({
        queryKey: ['family', family],
        queryFn: () => ask(api.GET('/api/families/{family}', { params: { path: { family } } })),
        staleTime: Infinity,
      })),
    ),
  })
  const numbers = computed(() => {
    const by = new Map<string, { value: string; title: string; unit: string }>()
    for (const f of all.value)
      for (const t of f.data?.tests ?? [])
        if (t.kind === 'number') by.set(t.id, { value: t.id, title: t.title, unit: t.unit ?? '' })
    return [...by.values()].sort((a, b) => a.title.localeCompare(b.title))
  })
  return { numbers }
}
