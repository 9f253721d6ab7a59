import { watchDebounced } from '@vueuse/core'
import { ref, shallowRef, watch, type Ref } from 'vue'
import { api, ask, Refusal, type Schema } from '@/api/client'
import { useSession } from '@/session/session'

/**
 * What a scenario comes to, while it is written: what an apprentice would find and whether
 * the complaint is true, at once; how it can be found and how hard it is, a moment later.
 * An answer to what has been changed since is dropped.
 */
export function useChecks(spec: Ref<Schema['JobSpec']>) {
  const session = useSession()
  const preview = shallowRef<Schema['Preview'] | null>(null)
  const check = shallowRef<Schema['ScenarioCheck'] | null>(null)
  const trouble = shallowRef<Refusal | null>(null)
  /** The quicker half is on its way, from the change on; and the slower one. */
  const working = ref(false)
  const checking = ref(false)
  let turn = 0
  let asked: AbortController | null = null

  async function slower(mine: number) {
    asked?.abort()
    asked = new AbortController()
    checking.value = true
    try {
      const c = await ask(api.POST('/api/scenario-checks', { body: spec.value, signal: asked.signal }))
      if (mine === turn) check.value = c
    } catch (e) {
      // What is not yet whole is said by the quicker half.
      if (mine === turn) {
        check.value = null
        if (e instanceof Refusal && e.status !== 422 && !session.noticed(e)) trouble.value = e
      }
    } finally {
      if (mine === turn) checking.value = false
    }
  }

  const asks = () => !!spec.value.machine_id && !session.ended
  watch([spec, asks], () => (working.value = asks()), { deep: true })
  watchDebounced(
    [spec, asks],
    async () => {
      if (!asks()) return
      const mine = ++turn
      working.value = true
      try {
        const p = await ask(api.POST('/api/preview', { body: spec.value }))
        if (mine !== turn) return
        preview.value = p
        trouble.value = null
        // The slower half asks only about what the quicker has let through.
        const whole = p.problems.every((x) => ['words', 'history', 'mode'].includes(x.path))
        if (whole) void slower(mine)
        else check.value = null
      } catch (e) {
        if (mine === turn && !session.noticed(e)) trouble.value = e as Refusal
      } finally {
        if (mine === turn) working.value = false
      }
    },
    { debounce: 350, immediate: true, deep: true },
  )
  return { preview, check, trouble, working, checking }
}
