import { useDebounceFn, useManualRefHistory } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'
import { api, ask, Refusal, type Schema } from '@/api/client'
import { useSession } from '@/session/session'
import { useLocalStorage } from '@/session/useLocalStorage'

type Procedure = Schema['Procedure']
type File = Schema['ProcedureFile']
/** What is being written: the draft, and what it is looked at on. */
export type Work = { draft: Procedure; machine_id: string }

const SAVE_MS = 700
const TYPING_MS = 600
const MOST_UNDONE = 300
const copy = <T>(v: T): T => JSON.parse(JSON.stringify(v))

/**
 * The draft of a procedure under somebody's hands: every change can be undone, is kept on
 * the device at once and by the server a moment later. Where somebody else has kept one
 * meanwhile, both are there, and nobody's is lost.
 */
export function useDraft(id: string) {
  const session = useSession()
  const line = shallowRef<Schema['ProcedureLine'] | null>(null)
  const work = ref<Work | null>(null)
  const refusal = shallowRef<Refusal | null>(null)
  /** What stands on the server, where it is not what this draft was made from. */
  const moved = shallowRef<File | null>(null)
  /** On this device and not yet on the server, with the count of changes that it was made from. */
  const unsaved = useLocalStorage<(Work & { changes: number }) | null>(`procedure.${session.me?.id}.${id}`, null)
  const saving = ref(false)
  const history = useManualRefHistory(work, { clone: copy, capacity: MOST_UNDONE })
  let typing = ''

  const settle = () => {
    if (typing) history.commit()
    typing = ''
  }
  const settleSoon = useDebounceFn(settle, TYPING_MS)

  /** Changes the draft. What is typed into one field comes to one change: it goes by the same name. */
  function edit(f: (d: Procedure, w: Work) => void, name = '') {
    if (!work.value) return
    if (name !== typing) settle()
    f(work.value.draft, work.value)
    typing = name
    if (name) void settleSoon()
    else history.commit()
    keep()
  }
  function back(f: () => void) {
    settle()
    f()
    keep()
  }
  const undo = () => back(history.undo)
  const redo = () => back(history.redo)

  function keep() {
    if (!work.value || !line.value) return
    unsaved.value = { ...copy(work.value), changes: line.value.changes }
    void saveSoon()
  }
  const saveSoon = useDebounceFn(() => save(), SAVE_MS)

  /** Keeps the draft on the server; tells whether what is here stands there. */
  async function save(): Promise<boolean> {
    if (!unsaved.value || moved.value) return !moved.value
    if (saving.value) return false // it goes on when that has ended
    saving.value = true
    const sent = unsaved.value
    try {
      const { changes, ...body } = sent
      const f = await ask(
        api.PUT('/api/procedures/{procedure}', { params: { path: { procedure: id } }, body: { ...body, changes } }),
      )
      line.value = f.line
      refusal.value = null
      if (unsaved.value === sent) unsaved.value = null
      else unsaved.value = { ...unsaved.value!, changes: f.line.changes }
    } catch (e) {
      const r = e as Refusal
      if (r.status === 409) moved.value = (r.body as Schema['ProcedureMoved']).now
      else if (!session.noticed(r)) refusal.value = r
      return false
    } finally {
      saving.value = false
    }
    return unsaved.value ? save() : true
  }

  function begin(w: Work) {
    work.value = copy(w)
    history.commit() // what is begun with is what Undo ends at
    history.clear()
  }
  async function load() {
    try {
      const f = await ask(api.GET('/api/procedures/{procedure}', { params: { path: { procedure: id } } }))
      const mine = unsaved.value
      line.value = f.line
      begin(mine ?? { draft: f.draft, machine_id: f.line.machine_id })
      if (mine && mine.changes !== f.line.changes) moved.value = f
      else if (mine) void save()
    } catch (e) {
      if (!session.noticed(e)) refusal.value = e as Refusal
    }
  }
  /** Goes on with what somebody else has kept; what was here can be fetched back with Undo. */
  function takeTheirs() {
    const f = moved.value!
    line.value = f.line
    moved.value = null
    edit((_, w) => Object.assign(w, { draft: copy(f.draft), machine_id: f.line.machine_id }))
    unsaved.value = null
  }
  /** Keeps what is here as a procedure of its own, and gives its id. */
  async function keepAsCopy(title: string): Promise<string | undefined> {
    if (!work.value) return
    const fresh = crypto.randomUUID()
    const body = { id: fresh, machine_id: work.value.machine_id, draft: { ...copy(work.value.draft), title } }
    try {
      await ask(api.POST('/api/procedures', { body }))
      if (moved.value) unsaved.value = null // it is kept there
      return fresh
    } catch (e) {
      if (!session.noticed(e)) refusal.value = e as Refusal
    }
  }
  /** Gives the draft out as it stands. */
  async function giveOut() {
    settle()
    if (!(await save()) || !line.value) return false
    try {
      const f = await ask(
        api.POST('/api/procedures/{procedure}/revisions', {
          params: { path: { procedure: id } },
          body: { changes: line.value.changes },
        }),
      )
      line.value = f.line
      refusal.value = null
      return true
    } catch (e) {
      const r = e as Refusal
      if (r.status === 409) moved.value = (r.body as Schema['ProcedureMoved']).now
      else if (!session.noticed(r)) refusal.value = r
      return false
    }
  }
  /** Where what was typed is: with the server, on its way there, or only here. */
  const kept = computed(() => {
    if (moved.value) return 'moved'
    if (!unsaved.value) return 'saved'
    return refusal.value ? 'here' : 'saving'
  })
  const { canUndo, canRedo } = history
  return {
    line,
    work,
    refusal,
    moved,
    kept,
    canUndo,
    canRedo,
    edit,
    undo,
    redo,
    load,
    save,
    takeTheirs,
    keepAsCopy,
    giveOut,
  }
}
