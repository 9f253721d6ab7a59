import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask, type Schema } from '@/api/client'
import { measure, text } from '@/words/words'

export type Instrument = Schema['ShopInstrument']

/** The register of the shop's instruments. */
export function useInstruments() {
  const all = useQuery({ queryKey: ['instruments'], queryFn: () => ask(api.GET('/api/instruments')) })
  /** Those in use that read a test. */
  const reading = (test: string) => (all.data.value ?? []).filter((i) => !i.gone && test in i.reads)
  return { all, list: computed(() => all.data.value ?? []), reading }
}

/** How far an instrument reads wrong by its last check, in few words; nothing for one that reads right. */
export function error(high: number, unit: string) {
  return high ? text(high > 0 ? 'shop.too-high' : 'shop.too-low', { by: measure(Math.abs(high), unit) }) : ''
}

/** What is to be known of an instrument before a reading of it is believed; nothing where all is well. */
export function caution(i: Instrument, test: string, unit: string) {
  const high = i.reads[test]
  const says = []
  if (high) says.push(text(high > 0 ? 'shop.reads-high' : 'shop.reads-low', { by: measure(Math.abs(high), unit) }))
  if (i.overdue) says.push(text('shop.check-overdue'))
  return says.join(' ')
}
