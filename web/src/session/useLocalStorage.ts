import { ref, watch, type Ref } from 'vue'

/**
 * A value that outlives a reload, under a key of this application. A device
 * that keeps nothing (private mode, full) still works; it only forgets.
 */
export function useLocalStorage<T>(key: string, initial: T): Ref<T> {
  const full = `zanjero.${key}`
  let kept: T = initial
  try {
    const raw = localStorage.getItem(full)
    if (raw !== null) kept = JSON.parse(raw) as T
  } catch {
    /* unreadable: begin anew */
  }
  const value = ref(kept) as Ref<T>
  watch(
    value,
    (v) => {
      try {
        if (v === null || v === undefined) localStorage.removeItem(full)
        else localStorage.setItem(full, JSON.stringify(v))
      } catch {
        /* nothing can be kept here */
      }
    },
    { deep: true, flush: 'sync' },
  )
  return value
}
