import { text as say } from './words'

/**
 * Words of the trade that a learner may not know. Each has the ways it stands in a text
 * (term.<id>.words in the messages), a line that says what it means (term.<id>.meaning) and
 * a place in the drawing of an engine.
 */
export type Term = { id: string; /** What of the drawing it is. */ part: string }

export const terms: Term[] = [
  { id: 'decompressor', part: 'decompressor' },
  { id: 'governor', part: 'governor' },
  { id: 'emulsion', part: 'emulsion' },
  { id: 'main-jet', part: 'main-jet' },
  { id: 'pilot-jet', part: 'pilot-jet' },
  { id: 'bowl', part: 'bowl' },
  { id: 'float', part: 'float' },
  { id: 'needle', part: 'needle' },
  { id: 'diaphragm', part: 'diaphragm' },
  { id: 'pulse', part: 'pulse' },
  { id: 'pickup', part: 'pickup' },
  { id: 'vent', part: 'vent' },
  { id: 'primer', part: 'primer' },
  { id: 'choke', part: 'choke' },
  { id: 'throttle', part: 'throttle' },
  { id: 'carburettor', part: 'carburettor' },
  { id: 'joint', part: 'joint' },
  { id: 'arrestor', part: 'arrestor' },
  { id: 'muffler', part: 'muffler' },
  { id: 'flywheel', part: 'flywheel' },
  { id: 'key', part: 'key' },
  { id: 'air-gap', part: 'air-gap' },
  { id: 'coil', part: 'coil' },
  { id: 'primary', part: 'coil' },
  { id: 'secondary', part: 'coil' },
  { id: 'kill-wire', part: 'kill-wire' },
  { id: 'ht-lead', part: 'ht-lead' },
  { id: 'plug-boot', part: 'plug-boot' },
  { id: 'insulator', part: 'insulator' },
  { id: 'electrode', part: 'electrode' },
  { id: 'rings', part: 'rings' },
  { id: 'bore', part: 'bore' },
  { id: 'valve-clearance', part: 'valves' },
  { id: 'head-gasket', part: 'head-gasket' },
  { id: 'seal', part: 'seal' },
  { id: 'top', part: 'piston' },
  { id: 'leak-down', part: 'cylinder' },
  { id: 'breather', part: 'breather' },
  { id: 'fins', part: 'fins' },
  { id: 'recoil', part: 'recoil' },
  { id: 'brake', part: 'brake' },
  { id: 'pre-mix', part: 'tank' },
  { id: 'over-limit', part: 'coil' },
]

const escaped = (w: string) => w.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
const byWord = new Map(
  terms.flatMap((t) =>
    say(`term.${t.id}.words`)
      .split('; ')
      .map((w) => [w.toLowerCase(), t]),
  ),
)
// The longest first, so that "main jet" is not taken for "jet".
const any = new RegExp(
  `(?<!\\p{L})(${[...byWord.keys()]
    .sort((a, b) => b.length - a.length)
    .map(escaped)
    .join('|')})(?!\\p{L})`,
  'giu',
)

/** A text in pieces, each term once, where it stands first. */
export function pieces(text: string): { text: string; term?: Term }[] {
  const out: { text: string; term?: Term }[] = []
  const seen = new Set<string>()
  let from = 0
  for (const m of text.matchAll(any)) {
    const term = byWord.get(m[0].toLowerCase())!
    if (seen.has(term.id)) continue
    seen.add(term.id)
    if (m.index > from) out.push({ text: text.slice(from, m.index) })
    out.push({ text: m[0], term })
    from = m.index + m[0].length
  }
  if (from < text.length) out.push({ text: text.slice(from) })
  return out
}
