import type { Schema } from '@/api/client'
import { text, told } from '@/words/words'
import { state, type Written } from '@/features/bench/parts'

export type HandReading = Schema['HandReading']

/** What can be written down of a test by hand: its first part under '', then the others. */
export function fieldsOf(test: Schema['Test']): Schema['TestPart'][] {
  const words = test.kind === 'number' ? [] : test.words.length ? test.words : (test.outcomes ?? [])
  const first = { id: '', name: text('bench.reading'), units: test.kind === 'number' ? test.units : [], words }
  return [{ ...first, figure: test.figure }, ...(test.parts ?? []).slice(1)]
}

/** Says what of a test is still to be written: its reading, or the rest of a part that was begun. */
export function lacking(test: Schema['Test'], written: Record<string, Written>, judge: boolean) {
  for (const p of fieldsOf(test)) {
    const asked = judge ? p : { ...p, figure: undefined }
    const s = state(asked, written[p.id])
    if (s === 'some' || (p.id === '' && s === 'none')) return p.name
  }
}

/** What was written, as it is kept. */
export function read(test: Schema['Test'], written: Record<string, Written>, judge: boolean) {
  const out: HandReading & { judged?: string } = { test: test.id }
  for (const p of fieldsOf(test)) {
    const w = written[p.id]
    if (state(judge ? p : { ...p, figure: undefined }, w) !== 'all') continue
    const one = p.words.length
      ? { word: w.word }
      : { reading: w.reading!.trim(), unit: w.unit || p.units[0], judged: judge && p.figure ? w.judged : undefined }
    if (p.id === '') Object.assign(out, one)
    else out.parts = { ...out.parts, [p.id]: one }
  }
  return out
}

/** A reading in words. */
export const said = (r: HandReading) =>
  r.word ? told({ word: r.word }) : /^ol$/i.test(r.reading ?? '') ? text('word.over-limit') : `${r.reading} ${r.unit}`
