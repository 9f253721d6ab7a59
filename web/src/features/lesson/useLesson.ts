import { ref, shallowRef } from 'vue'
import { useChanges } from '@/api/changes'
import { api, ask, type Refusal, type Schema } from '@/api/client'

/** One lesson as it stands: fetched when it changes, and at each answer for who counts them. */
export function useLesson(id: string, counts: boolean) {
  const lesson = shallowRef<Schema['Lesson']>()
  const refusal = ref<Refusal>()
  const path = { params: { path: { lesson: id } } }
  let at = { lesson: -1, answers: -1 }

  async function doing(what: () => Promise<unknown>) {
    try {
      await what()
      refusal.value = undefined
    } catch (e) {
      refusal.value = e as Refusal
    }
  }
  const load = () => doing(async () => (lesson.value = await ask(api.GET('/api/lessons/{lesson}', path))))
  const { lost } = useChanges(`/api/lessons/${id}/changes`, (now) => {
    if (now.lesson !== at.lesson || (counts && now.answers !== at.answers)) void load()
    at = { lesson: now.lesson, answers: now.answers }
  })
  const tell = () => doing(async () => (lesson.value = await ask(api.POST('/api/lessons/{lesson}/telling', path))))
  async function answer(side: number) {
    await doing(() => ask(api.PUT('/api/lessons/{lesson}/answer', { ...path, body: { side } })))
    if (!refusal.value) await load()
  }
  return { lesson, refusal, lost, tell, answer }
}
