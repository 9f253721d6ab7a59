import { tryOnScopeDispose, useTimeoutFn } from '@vueuse/core'
import { ref, toValue, watch, type MaybeRefOrGetter } from 'vue'

/** How often each thing that is watched has changed, by its name. */
export type Versions = Record<string, number>

/** After how long a stream that was refused is asked for again. */
const AGAIN_MS = 3000

/**
 * Listens to a stream of the server for as long as the scope lives. told gets versions: all
 * there are at first and after each gap, later those of what has changed. lost is true while
 * there is no connection; ended, once one may not listen any more. No address, no stream.
 */
export function useChanges(address: MaybeRefOrGetter<string | undefined>, told: (now: Versions, all: boolean) => void) {
  const lost = ref(false)
  const ended = ref(false)
  let source: EventSource | undefined
  const again = useTimeoutFn(open, AGAIN_MS, { immediate: false })

  function close() {
    again.stop()
    source?.close()
    source = undefined
  }
  function open() {
    close()
    const to = toValue(address)
    if (!to) return
    const s = (source = new EventSource(to))
    const hear = (all: boolean) => (e: MessageEvent<string>) => {
      lost.value = false
      told(JSON.parse(e.data) as Versions, all)
    }
    s.addEventListener('all', hear(true))
    s.addEventListener('changed', hear(false))
    s.addEventListener('ended', () => {
      ended.value = true
      close()
    })
    s.onerror = () => {
      lost.value = true
      // It tries again by itself, but for an answer that is no stream.
      if (s.readyState === EventSource.CLOSED) again.start()
    }
  }
  watch(() => toValue(address), open, { immediate: true })
  tryOnScopeDispose(close)
  return { lost, ended }
}
