import { useDebouncedRefHistory } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import { useSession } from '@/session/session'
import { useLocalStorage } from '@/session/useLocalStorage'

export type Hidden = { id: string; severity: number; mode?: string; cause?: string }
type Optional = 'procedure' | 'fuel_ml' | 'kit' | 'rubric'
/** A scenario as it stands on the desk. */
export type Draft = Required<Omit<Schema['JobSpec'], 'faults' | 'distractors' | Optional>> &
  Pick<Schema['JobSpec'], Optional> & { faults: Hidden[]; distractors: Hidden[] }

export const blank = (): Draft => ({
  // The job has its id before it is set, so that setting it twice sets it once.
  id: crypto.randomUUID(),
  machine_id: '',
  faults: [],
  distractors: [],
  words: '',
  history: '',
  told: [],
  claim: '',
  limit_minutes: 60,
  limit_money: 40,
  temperature_c: 20,
  altitude_m: 0,
  mode: 'open',
  proper_only: false,
  page_in_exam: false,
  apprentices: [],
})

const copy = <T>(v: T): T => JSON.parse(JSON.stringify(v))

/**
 * A scenario under somebody's hands. It outlives a reload, and is this instructor's and this
 * device's; every change can be taken back and made again.
 */
export function useScenario() {
  const session = useSession()
  const draft = useLocalStorage<Draft>(`job-desk.${session.me?.id}`, blank())
  draft.value = { ...blank(), ...draft.value } // one kept by an earlier page may lack a member
  const history = useDebouncedRefHistory(draft, { deep: true, debounce: 400, capacity: 200, clone: copy })
  const begun = computed(
    () =>
      JSON.stringify(draft.value) !==
      JSON.stringify({ ...blank(), id: draft.value.id, machine_id: draft.value.machine_id }),
  )
  /** What stood there before it was begun anew, to be put back. */
  const before = ref<Draft>()
  function anew() {
    before.value = draft.value
    draft.value = { ...blank(), machine_id: draft.value.machine_id }
  }
  /** As the server takes it: a field that is no number is one that it refuses, with words. */
  const spec = computed<Schema['JobSpec']>(() => {
    const number = (v: unknown, otherwise: number) => (typeof v === 'number' && Number.isFinite(v) ? v : otherwise)
    const d = draft.value
    return {
      ...d,
      limit_minutes: number(d.limit_minutes, 0),
      limit_money: number(d.limit_money, -1),
      temperature_c: number(d.temperature_c, 999),
      altitude_m: number(d.altitude_m, -9999),
    }
  })
  /** Puts a scenario that was made elsewhere in place of what is hidden, claimed and told. */
  function put(f: Schema['ScenarioForm']) {
    Object.assign(draft.value, {
      faults: copy(f.faults).map((x) => ({ ...x, severity: x.severity ?? 1 })),
      distractors: copy(f.distractors ?? []).map((x) => ({ ...x, severity: x.severity ?? 1 })),
      claim: f.complaint,
      words: f.words,
      told: copy(f.history ?? []),
      limit_minutes: f.limit_minutes,
      limit_money: f.limit_money,
    })
  }
  return { draft, spec, begun, before, anew, put, undo: history.undo, redo: history.redo, ...able(history) }
}
const able = (h: { canUndo: { value: boolean }; canRedo: { value: boolean } }) => ({
  canUndo: computed(() => h.canUndo.value),
  canRedo: computed(() => h.canRedo.value),
})
