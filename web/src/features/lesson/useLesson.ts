import { api, ask } from '@/api/client'
import { useTogether } from '@/api/useTogether'

/** One lesson as it stands, with what can be done in it. */
export function useLesson(id: string, counts: boolean) {
  const path = { params: { path: { lesson: id } } }
  const { shown, refusal, lost, doing, load } = useTogether(
    `/api/lessons/${id}/changes`,
    { itself: 'lesson', answers: 'answers' },
    counts,
    () => ask(api.GET('/api/lessons/{lesson}', path)),
  )
  const tell = () => doing(async () => (shown.value = await ask(api.POST('/api/lessons/{lesson}/telling', path))))
  async function answer(side: number) {
    if (await doing(() => ask(api.PUT('/api/lessons/{lesson}/answer', { ...path, body: { side } })))) await load()
  }
  return { lesson: shown, refusal, lost, tell, answer }
}
