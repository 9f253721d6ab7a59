import { computed, watchEffect } from 'vue'
import { useTheme } from 'vuetify'
import { useLocalStorage } from './useLocalStorage'

// One choice for the whole device, whoever shows the switch.
const chosen = useLocalStorage<boolean | null>('night-shift', null)

/** The night-shift switch: as the device says, until somebody chooses. */
export function useNight() {
  const theme = useTheme()
  const dark = globalThis.matchMedia?.('(prefers-color-scheme: dark)').matches ?? false
  const night = computed({ get: () => chosen.value ?? dark, set: (v) => (chosen.value = v) })
  watchEffect(() => theme.change(night.value ? 'night' : 'day'))
  return night
}
