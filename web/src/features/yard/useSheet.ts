import { watchDebounced } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import { api, ask, Refusal, type Schema } from '@/api/client'
import { useSession } from '@/session/session'
import { decimal } from '@/words/words'

/** A figure as it is being typed: ends of a band in some unit, or a word. */
export type Row = { low: string; high: string; unit: string; word: string; source: string }
export type Draft = {
  name: string
  code: string
  duty: string
  family: string
  rows: Record<string, Row>
  revision?: number
}

/** A comma with three figures behind it could part thousands: a nought says that it does not. */
const written = (v: number) => {
  const as = decimal(String(v))
  return /^[1-9]\d{0,2},\d{3}$/.test(as) ? `${as}0` : as
}

/** The rows of a sheet as it is stored. A single figure leaves its high end open. */
export function rowsOf(lines: Schema['SheetLine'][]): Record<string, Row> {
  return Object.fromEntries(
    lines.map(({ id, figure: f }) => [
      id,
      {
        low: f.word ? '' : written(f.low),
        high: f.word || f.low === f.high ? '' : written(f.high),
        unit: f.unit,
        word: f.word ?? '',
        source: f.source,
      },
    ]),
  )
}

/** What goes to the server: only what its kind of figure has. */
export function entriesOf(rows: Record<string, Row>): Schema['SheetEntry'][] {
  return Object.entries(rows).map(([id, r]) =>
    r.word ? { id, word: r.word, source: r.source } : { id, low: r.low, high: r.high, unit: r.unit, source: r.source },
  )
}

/** Holds a sheet against the model a moment after it was last typed in. */
export function useSheetCheck(draft: Ref<Draft | null>) {
  const session = useSession()
  const check = ref<Schema['SheetCheck'] | null>(null)
  const working = ref(false)
  const trouble = ref<Refusal | null>(null)
  let turn = 0
  const asked = () => draft.value && { family: draft.value.family, rows: draft.value.rows }
  watch(
    [asked, () => session.ended],
    ([d]) => {
      turn++ // what is on its way answers another sheet
      working.value = !!d?.family && !session.ended
    },
    { immediate: true, deep: true },
  )
  watchDebounced(
    [asked, () => session.ended],
    async ([d]) => {
      if (!d?.family || session.ended) return
      const mine = turn
      try {
        const answer = await ask(
          api.POST('/api/sheets/{family}', {
            params: { path: { family: d.family } },
            body: entriesOf(d.rows),
          }),
        )
        if (mine !== turn) return
        // Readings are made of whole sheets: until this one is, the last stand.
        check.value = answer.problems.length ? { ...answer, healthy: check.value?.healthy ?? [] } : answer
        trouble.value = null
      } catch (e) {
        if (mine === turn && !session.noticed(e)) trouble.value = e as Refusal
      } finally {
        if (mine === turn) working.value = false
      }
    },
    { debounce: 300, immediate: true, deep: true },
  )
  const problem = (path: string) => check.value?.problems.find((p) => p.path === path)
  const reading = (figure: string) => check.value?.healthy.find((h) => h.figure === figure)
  /** The figures that a sound machine reads otherwise, each once. */
  const disagree = computed(() => [...new Set(check.value?.healthy.filter((h) => !h.agrees).map((h) => h.figure))])
  return { check, working, trouble, problem, reading, disagree }
}
