import { useStorage } from '@vueuse/core'
import { ref, type Ref } from 'vue'

/**
 * A value that outlives a reload, under a key of this application. A device
 * that keeps nothing (private mode, full) still works; it only forgets. Other
 * tabs do not change it, so that each keeps what is typed in it.
 */
export function useLocalStorage<T>(key: string, initial: T): Ref<T> {
  try {
    return useStorage<T>(`zanjero.${key}`, initial, localStorage, {
      flush: 'sync',
      writeDefaults: false,
      listenToStorageChanges: false,
      serializer: { read: (raw) => JSON.parse(raw) as T, write: (v) => JSON.stringify(v) },
      onError: () => undefined, // unreadable or full: it is only forgotten
    })
  } catch {
    return ref(initial) as Ref<T>
  }
}
