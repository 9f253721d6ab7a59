import type { Schema } from '@/api/client'

/** What has been typed or chosen of one part of a reading. */
export type Written = { reading?: string; unit?: string; word?: string; judged?: string }

/** Where a number can lie against the sheet. */
export const bands = ['below', 'within', 'above'] as const

/** The parts that the instrument itself is held to, with the first. */
export const numbers = (test?: Schema['Test']) => {
  const all = (test?.parts ?? []).filter((p) => p.units.length > 0)
  return all.length > 1 && all[0].id === test?.parts?.[0].id ? all : []
}

/** Tells what of a part is written: nothing, some of it, or all. */
export function state(p: Schema['TestPart'], w: Written = {}): 'none' | 'some' | 'all' {
  if (p.words.length) return w.word ? 'all' : 'none'
  const typed = (w.reading ?? '').trim()
  if (!typed && !w.judged) return 'none'
  const unit = p.units.length === 1 || w.unit || /[a-zΩ°"]/i.test(typed)
  return typed && unit && (w.judged || !p.figure) ? 'all' : 'some'
}

/** What goes into the ledger of them; undefined where nothing does. */
export function forEntry(parts: Schema['TestPart'][], all: Record<string, Written>): Schema['Event']['parts'] {
  const out: NonNullable<Schema['Event']['parts']> = {}
  for (const p of parts) {
    const w = all[p.id]
    if (state(p, w) !== 'all') continue
    out[p.id] = p.words.length
      ? { word: w.word }
      : { reading: w.reading!.trim(), unit: w.unit || p.units[0], judged: p.figure ? w.judged : undefined }
  }
  return Object.keys(out).length ? out : undefined
}
