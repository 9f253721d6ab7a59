import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask, type Schema } from '@/api/client'

export type PersonLine = Schema['PersonLine']
export type Class = Schema['Class']

/** Everybody and every class, and what is kept of a change to either. */
export function useOffice() {
  const queries = useQueryClient()
  const people = useQuery({ queryKey: ['people'], queryFn: () => ask(api.GET('/api/people')) })
  const classes = useQuery({ queryKey: ['classes'], queryFn: () => ask(api.GET('/api/classes')) })
  const named = computed(() => new Map((classes.data.value ?? []).map((c) => [c.id, c])))
  /** Both are asked for again. */
  const changed = () =>
    Promise.all([
      queries.invalidateQueries({ queryKey: ['people'] }),
      queries.invalidateQueries({ queryKey: ['classes'] }),
    ])

  async function keepPerson(id: string | undefined, body: Schema['PersonEdit']) {
    await ask(
      id
        ? api.PUT('/api/people/{person}', { params: { path: { person: id } }, body })
        : api.POST('/api/people', { body }),
    )
    await changed()
  }
  async function erase(id: string, name: string) {
    await ask(api.POST('/api/people/{person}/erasure', { params: { path: { person: id } }, body: { name } }))
    await changed()
  }
  async function keepClass(id: string | undefined, body: Schema['ClassEdit']) {
    await ask(
      id
        ? api.PUT('/api/classes/{class}', { params: { path: { class: id } }, body })
        : api.POST('/api/classes', { body }),
    )
    await changed()
  }
  return { people, classes, named, keepPerson, keepClass, erase, changed }
}

/** Who is shown: of a class, of none, those who have left, or everybody who is here. */
export function shownPeople(all: PersonLine[], which: string, sought: string) {
  const words = sought.trim().toLowerCase()
  return all.filter((p) => {
    if (!`${p.display_name} ${p.name}`.toLowerCase().includes(words)) return false
    if (which === 'left') return !p.here
    if (!p.here) return false
    return which === 'all' || (which === 'none' ? p.classes.length === 0 : p.classes.includes(which))
  })
}
