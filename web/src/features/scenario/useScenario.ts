import { useManualRefHistory, watchDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import { useSession } from '@/session/session'
import { useLocalStorage } from '@/session/useLocalStorage'

export type Hidden = { id: string; severity: number; mode?: string; cause?: string }
type Optional =
  | 'procedure'
  | 'fuel_ml'
  | 'kit'
  | 'rubric'
  | 'scenario'
  | 'opens_at'
  | 'closes_at'
  | 'debrief_at'
  | 'class_id'
  | 'giving'
/** A scenario as it stands on the desk. */
export type Draft = Required<Omit<Schema['JobSpec'], 'faults' | 'distractors' | Optional>> &
  Pick<Schema['JobSpec'], Optional> & { faults: Hidden[]; distractors: Hidden[]; title: string }

export const blank = (): Draft => ({
  // The job has its id before it is set, so that setting it twice sets it once.
  id: crypto.randomUUID(),
  machine_id: '',
  title: '',
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

const TYPING_MS = 400
const MOST_UNDONE = 200
const copy = <T>(v: T): T => JSON.parse(JSON.stringify(v))

/**
 * A scenario under somebody's hands. It outlives a reload, and is this instructor's and this
 * device's; every change can be taken back and made again.
 */
export function useScenario(id?: string) {
  const session = useSession()
  const draft = useLocalStorage<Draft>(id ? `scenario.${session.me?.id}.${id}` : `job-desk.${session.me?.id}`, blank())
  draft.value = { ...blank(), ...draft.value } // one kept by an earlier page may lack a member
  const history = useManualRefHistory(draft, { capacity: MOST_UNDONE, clone: copy })
  /** What was typed since is one change more; it is settled before anything is taken back. */
  const settle = () => {
    if (JSON.stringify(draft.value) !== JSON.stringify(history.last.value.snapshot)) history.commit()
  }
  watchDebounced(draft, settle, { deep: true, debounce: TYPING_MS })
  function undo() {
    settle()
    history.undo()
  }
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
    const d: Schema['JobSpec'] & { title?: string } = { ...draft.value }
    delete d.title // it is the author's alone
    return {
      ...d,
      limit_minutes: number(d.limit_minutes, 0),
      limit_money: number(d.limit_money, -1),
      temperature_c: number(d.temperature_c, 999),
      altitude_m: number(d.altitude_m, -9999),
    }
  })
  /** The scenario in its open form, as the library keeps it. */
  const form = computed<Schema['ScenarioForm']>(() => {
    const d = spec.value
    return {
      title: draft.value.title || undefined,
      machine: '',
      ambient: { temperature_c: d.temperature_c!, altitude_m: d.altitude_m! },
      fuel_ml: d.fuel_ml,
      faults: d.faults,
      distractors: d.distractors,
      complaint: d.claim,
      words: d.words,
      story: d.history || undefined,
      history: d.told,
      kit: d.kit,
      limit_minutes: d.limit_minutes,
      limit_money: d.limit_money,
      mode: d.mode,
      proper_only: d.proper_only,
      procedure: d.procedure && `${d.procedure.id}/${d.procedure.revision}`,
      page_in_exam: d.page_in_exam,
      rubric: d.rubric,
    }
  })
  /** Takes all of a scenario from the library. */
  function load(f: Schema['ScenarioForm'], machine_id: string) {
    draft.value = {
      ...blank(),
      machine_id,
      title: f.title ?? '',
      history: f.story ?? '',
      temperature_c: f.ambient?.temperature_c ?? 20,
      altitude_m: f.ambient?.altitude_m ?? 0,
      fuel_ml: f.fuel_ml ?? undefined,
      kit: f.kit ?? undefined,
      mode: f.mode || 'open',
      proper_only: f.proper_only ?? false,
      procedure: revision(f.procedure),
      page_in_exam: f.page_in_exam ?? false,
      rubric: f.rubric ?? undefined,
    }
    put(f)
    history.commit()
    history.clear()
  }
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
  return { draft, spec, form, begun, before, anew, put, load, undo, redo: history.redo, ...able(history) }
}
/** A revision as the open form names it. */
function revision(s?: string): Schema['RevisionRef'] | undefined {
  const [id, n] = (s ?? '').split('/')
  return id && n ? { id, revision: Number(n) } : undefined
}
const able = (h: { canUndo: { value: boolean }; canRedo: { value: boolean } }) => ({
  canUndo: computed(() => h.canUndo.value),
  canRedo: computed(() => h.canRedo.value),
})
