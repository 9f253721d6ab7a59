import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'

const EVERY_MS = 10_000

/** An exam with how far each turn has come. */
export function useExam(exam: string) {
  return useQuery({
    queryKey: ['exam', exam],
    queryFn: () => ask(api.GET('/api/exams/{exam}', { params: { path: { exam } } })),
    refetchInterval: EVERY_MS,
  })
}
