import { useLocalStorage } from './useLocalStorage'
import { computed, watchEffect } from 'vue'
import { useTheme } from 'vuetify'

/** The night-shift switch: as the device says, until somebody chooses. */
export function useNight() {
  const theme = useTheme()
  const chosen = useLocalStorage<boolean | null>('night-shift', null)
  const dark = globalThis.matchMedia?.('(prefers-color-scheme: dark)').matches ?? false
  const night = computed({ get: () => chosen.value ?? dark, set: (v) => (chosen.value = v) })
  watchEffect(() => theme.change(night.value ? 'night' : 'day'))
  return night
}
