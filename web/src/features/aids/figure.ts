import { decimal } from '@/words/words'

/** A figure with three or four digits that count, as a person would write it. */
export function figure(v: number): string {
  if (v === 0) return '0'
  const digits = Math.max(0, 3 - Math.ceil(Math.log10(Math.abs(v))))
  const short = v
    .toFixed(Math.min(digits, 6))
    .replace(/(\.\d*?)0+$/, '$1')
    .replace(/\.$/, '')
  return decimal(short)
}
