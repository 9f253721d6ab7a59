/**
 * Words of the trade that a learner may not know. Each has a line that says what it
 * means (term.<id>.meaning in the messages) and a place in the drawing of an engine.
 */
export type Term = {
  id: string
  /** How it stands in a text, as alternatives. */ words: string[]
  /** What of the drawing it is. */ part: string
}

export const terms: Term[] = [
  { id: 'decompressor', words: ['decompressor'], part: 'decompressor' },
  { id: 'governor', words: ['governor', 'governed'], part: 'governor' },
  { id: 'emulsion', words: ['emulsion holes', 'emulsion tube', 'side holes'], part: 'emulsion' },
  { id: 'main-jet', words: ['main jet', 'jet', 'jets'], part: 'main-jet' },
  { id: 'pilot-jet', words: ['pilot jet'], part: 'pilot-jet' },
  { id: 'bowl', words: ['float bowl', 'bowl'], part: 'bowl' },
  { id: 'float', words: ['float'], part: 'float' },
  { id: 'needle', words: ['inlet needle', 'needle'], part: 'needle' },
  { id: 'diaphragm', words: ['metering diaphragm', 'diaphragm', 'diaphragms'], part: 'diaphragm' },
  { id: 'pulse', words: ['pulse passage', 'pulse'], part: 'pulse' },
  { id: 'pickup', words: ['pick-up'], part: 'pickup' },
  { id: 'vent', words: ['cap vent', 'vent'], part: 'vent' },
  { id: 'primer', words: ['primer bulb', 'primer'], part: 'primer' },
  { id: 'choke', words: ['choke plate', 'choke'], part: 'choke' },
  { id: 'throttle', words: ['throttle plate', 'throttle'], part: 'throttle' },
  { id: 'carburettor', words: ['carburettor'], part: 'carburettor' },
  { id: 'joint', words: ['intake boot', 'false air'], part: 'joint' },
  { id: 'arrestor', words: ['arrestor screen', 'arrestor'], part: 'arrestor' },
  { id: 'muffler', words: ['muffler'], part: 'muffler' },
  { id: 'flywheel', words: ['flywheel'], part: 'flywheel' },
  { id: 'key', words: ['flywheel key', 'keyway', 'key'], part: 'key' },
  { id: 'air-gap', words: ['air gap'], part: 'air-gap' },
  { id: 'coil', words: ['coil'], part: 'coil' },
  { id: 'primary', words: ['primary'], part: 'coil' },
  { id: 'secondary', words: ['secondary winding', 'secondary'], part: 'coil' },
  { id: 'kill-wire', words: ['kill lead', 'kill wire', 'kill circuit'], part: 'kill-wire' },
  { id: 'ht-lead', words: ['high-tension lead', 'HT lead', 'plug lead'], part: 'ht-lead' },
  { id: 'plug-boot', words: ['plug boot', 'boot'], part: 'plug-boot' },
  { id: 'insulator', words: ['insulator'], part: 'insulator' },
  { id: 'electrode', words: ['electrodes', 'electrode'], part: 'electrode' },
  { id: 'rings', words: ['piston rings', 'rings'], part: 'rings' },
  { id: 'bore', words: ['bore'], part: 'bore' },
  { id: 'valve-clearance', words: ['valve clearance', 'valve clearances'], part: 'valves' },
  { id: 'head-gasket', words: ['head gasket', 'head joint'], part: 'head-gasket' },
  { id: 'seal', words: ['crankcase seal', 'seals', 'seal'], part: 'seal' },
  { id: 'top', words: ['top dead centre', 'dead centre'], part: 'piston' },
  { id: 'leak-down', words: ['leak-down'], part: 'cylinder' },
  { id: 'breather', words: ['breather hose', 'breather'], part: 'breather' },
  { id: 'fins', words: ['cooling fins', 'fins'], part: 'fins' },
  { id: 'recoil', words: ['recoil starter', 'recoil'], part: 'recoil' },
  { id: 'brake', words: ['flywheel brake', 'blade brake', 'brake'], part: 'brake' },
  { id: 'pre-mix', words: ['pre-mix', 'mixed fuel'], part: 'tank' },
  { id: 'over-limit', words: ['over-limit', 'over the limit'], part: 'coil' },
]

const escaped = (w: string) => w.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
const byWord = new Map(terms.flatMap((t) => t.words.map((w) => [w.toLowerCase(), t] as const)))
// The longest first, so that "main jet" is not taken for "jet".
const any = new RegExp(
  `\\b(${[...byWord.keys()]
    .sort((a, b) => b.length - a.length)
    .map(escaped)
    .join('|')})\\b`,
  'gi',
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
