/** What is met of a look, each thing with how far it goes; what is not there is nought. */
export type Seen = Record<string, number>

/** From one colour to another, a share of the way; colours as red, green and blue. */
export function mix(from: number[], to: number[], share: number): string {
  const s = Math.min(1, Math.max(0, share))
  return `rgb(${from.map((v, i) => Math.round(v + (to[i] - v) * s)).join(' ')})`
}
