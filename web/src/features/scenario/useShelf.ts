import { watchDebounced } from '@vueuse/core'
import { computed, shallowRef } from 'vue'
import { api, ask, Refusal, type Schema } from '@/api/client'
import { useSession } from '@/session/session'
import { useLocalStorage } from '@/session/useLocalStorage'
import type { useScenario } from './useScenario'

type File = Schema['ScenarioFile']
const SAVE_MS = 800

/**
 * Keeps a scenario of the library as it is typed. What is not yet on the server is on this
 * device; where somebody else has kept another meanwhile, both are there, and one is chosen.
 */
export function useShelf(id: string, desk: ReturnType<typeof useScenario>) {
  const session = useSession()
  const line = shallowRef<Schema['ScenarioLine'] | null>(null)
  const refusal = shallowRef<Refusal | null>(null)
  /** What stands on the server, where it is not what this was made from. */
  const moved = shallowRef<File | null>(null)
  /** What the draft on this device was made from: its count of changes, 0 where none is here, and how it stood. */
  const base = useLocalStorage(`scenario-base.${session.me?.id}.${id}`, { changes: 0, kept: '' })
  const now = () => JSON.stringify([desk.form.value, desk.draft.value.machine_id])
  const saved = computed(() => base.value.kept === now())

  function take(f: File) {
    desk.load(f.draft, f.line.machine_id)
    line.value = f.line
    moved.value = null
    base.value = { changes: f.line.changes, kept: now() }
  }
  async function open() {
    try {
      const f = await ask(api.GET('/api/scenarios/{scenario}', { params: { path: { scenario: id } } }))
      line.value = f.line
      // What was not changed here is taken as it stands there now.
      if (!base.value.changes || saved.value) return take(f)
      if (base.value.changes !== f.line.changes) moved.value = f
      else void save() // what was typed last is still here
    } catch (e) {
      if (!session.noticed(e)) refusal.value = e as Refusal
    }
  }
  async function save() {
    if (moved.value || !line.value) return
    const mine = now()
    try {
      const f = await ask(
        api.PUT('/api/scenarios/{scenario}', {
          params: { path: { scenario: id } },
          body: { changes: base.value.changes, machine_id: desk.draft.value.machine_id, draft: desk.form.value },
        }),
      )
      line.value = f.line
      base.value = { changes: f.line.changes, kept: mine }
      refusal.value = null
    } catch (e) {
      if (session.noticed(e)) return
      const r = e as Refusal
      if (r.status === 409) moved.value = (r.body as Schema['ScenarioMoved']).now
      else refusal.value = r
    }
  }
  /** Mine stands, made from what the other has kept. */
  function mine() {
    base.value = { changes: moved.value!.line.changes, kept: '' }
    moved.value = null
    void save()
  }
  const theirs = () => take(moved.value!)
  watchDebounced([desk.form, () => desk.draft.value.machine_id, () => session.ended], () => saved.value || save(), {
    debounce: SAVE_MS,
    deep: true,
  })
  void open()
  return { line, refusal, moved, saved, mine, theirs }
}
