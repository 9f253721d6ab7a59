/** A part of an engine seen from outside: where it stands in 220 by 140, and what it belongs to. */
export type Part = {
  id: string
  /** The reach that a press on it takes. */
  reach: string
  /** The cover that takes it off. */
  cover?: string
  d: string
  kind: 'metal' | 'fuel' | 'hot' | 'plain' | 'pipe'
}
type Point = [x: number, y: number]
/** An engine from outside: its parts from the back to the front, and the places that hands go to. */
export type Outside = {
  parts: Part[]
  /** What it stands on or drives, which is no part of the engine. */
  frame: string
  coil: Point
  plug: Point
  fin: Point
  cap: Point
  carb: Point
  valve?: Point
  primer?: Point
  /** The handle, and the dead-man bar when it is let go. */
  handle?: { held: string; free: string }
}

const box = (x: number, y: number, w: number, h: number, r = 4) =>
  `M${x + r} ${y}h${w - 2 * r}a${r} ${r} 0 0 1 ${r} ${r}v${h - 2 * r}a${r} ${r} 0 0 1-${r} ${r}h${2 * r - w}a${r} ${r} 0 0 1-${r}-${r}v${2 * r - h}a${r} ${r} 0 0 1 ${r}-${r}z`
const round = (x: number, y: number, r: number) =>
  `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0-${2 * r} 0z`
const fins = (x: number, y: number, w: number, h: number, n: number) =>
  Array.from({ length: n }, (_, i) => `M${x} ${y + (h * (i + 0.5)) / n}h${w}`).join('')
const upright = (x: number, y: number, w: number, h: number, n: number) =>
  Array.from({ length: n }, (_, i) => `M${x + (w * (i + 0.5)) / n} ${y}v${h}`).join('')

/** Cylinder, head and plug of an upright engine whose bore stands at x. */
const upper = (x: number, y: number, head: boolean): Part[] => [
  { id: 'cylinder', reach: 'piston-rings-bore', d: box(x, y, 40, 36, 3) + fins(x - 5, y + 2, 50, 32, 5), kind: 'hot' },
  ...(head
    ? [{ id: 'head', reach: 'head-joint', cover: 'headoff', d: box(x + 3, y - 10, 34, 11, 3), kind: 'hot' as const }]
    : []),
  {
    id: 'plug',
    reach: 'plug',
    cover: 'plugout',
    d: `M${x + 17} ${y - (head ? 10 : 0)}v-6h-1v-3h8v3h-1v6z`,
    kind: 'metal',
  },
]
/** Shroud with its rope, and the flywheel that it hides. */
const rope = (x: number, y: number, r: number): Part[] => [
  { id: 'wheel', reach: 'flywheel', cover: 'flyoff', d: round(x, y, r - 10) + round(x, y, 4), kind: 'metal' },
  {
    id: 'shroud',
    reach: 'cooling',
    cover: 'shroud',
    d:
      round(x, y, r) +
      Array.from({ length: 8 }, (_, i) => {
        const a = (i * Math.PI) / 4
        return `M${(x + 9 * Math.cos(a)).toFixed(1)} ${(y + 9 * Math.sin(a)).toFixed(1)}L${(x + (r - 8) * Math.cos(a)).toFixed(1)} ${(y + (r - 8) * Math.sin(a)).toFixed(1)}`
      }).join('') +
      `M${x - r} ${y - 4}h-10v-4h-8v12h8v-4`,
    kind: 'plain',
  },
]

/** The four families from outside, drawn by us. None shows what is wrong within. */
export const machines: Record<string, Outside> = {
  'f4-bowl': {
    frame: 'M14 130h192M34 130v-8h150v8',
    parts: [
      { id: 'case', reach: 'oil', d: box(70, 80, 66, 42, 8), kind: 'metal' },
      ...upper(86, 46, true),
      { id: 'valves', reach: 'valves', cover: 'valvecover', d: box(127, 52, 8, 24, 2), kind: 'metal' },
      {
        id: 'muffler',
        reach: 'muffler-arrestor',
        cover: 'muffoff',
        d: box(138, 34, 52, 19, 8) + 'M190 43h12',
        kind: 'hot',
      },
      { id: 'tank', reach: 'tank', d: box(58, 4, 74, 18, 8), kind: 'fuel' },
      { id: 'line', reach: 'fuel-line', cover: 'lineoff', d: 'M132 14h14v54', kind: 'pipe' },
      { id: 'carb', reach: 'jets', cover: 'carboff', d: box(136, 68, 22, 17, 3), kind: 'metal' },
      { id: 'bowl', reach: 'bowl', cover: 'bowlopen', d: 'M138 85h18q0 13-9 13t-9-13z', kind: 'metal' },
      { id: 'filter', reach: 'intake-filter', cover: 'filter', d: box(160, 60, 36, 32, 7), kind: 'plain' },
      ...rope(58, 86, 33),
      {
        id: 'hood',
        reach: 'cooling',
        cover: 'cover',
        d: 'M28 62q4-22 30-24t34 10v6q-14-10-34-8t-24 18z',
        kind: 'metal',
      },
    ],
    coil: [80, 56],
    plug: [106, 24],
    fin: [128, 80],
    cap: [95, 4],
    carb: [147, 72],
    valve: [146, 32],
  },
  'f4-bail': {
    frame: 'M12 112h190l-8 16H24zM34 128a9 9 0 1 0 18 0M166 128a9 9 0 1 0 18 0',
    parts: [
      { id: 'tank', reach: 'tank', d: box(16, 60, 32, 34, 7), kind: 'fuel' },
      { id: 'case', reach: 'oil', d: box(48, 62, 72, 50, 8), kind: 'metal' },
      {
        id: 'cylinder',
        reach: 'piston-rings-bore',
        d: box(120, 72, 30, 32, 3) + upright(121, 67, 28, 42, 4),
        kind: 'hot',
      },
      { id: 'head', reach: 'head-joint', cover: 'headoff', d: box(150, 74, 9, 28, 2), kind: 'hot' },
      { id: 'valves', reach: 'valves', cover: 'valvecover', d: box(106, 84, 12, 22, 2), kind: 'metal' },
      { id: 'plug', reach: 'plug', cover: 'plugout', d: 'M159 85h5v-1h4v8h-4v-1h-5z', kind: 'metal' },
      { id: 'muffler', reach: 'muffler-arrestor', cover: 'muffoff', d: box(124, 46, 40, 17, 7), kind: 'hot' },
      { id: 'line', reach: 'fuel-line', cover: 'lineoff', d: 'M48 86h8', kind: 'pipe' },
      { id: 'carb', reach: 'jets', cover: 'carboff', d: box(56, 78, 20, 16, 3), kind: 'metal' },
      { id: 'bowl', reach: 'bowl', cover: 'bowlopen', d: 'M58 94h16q0 11-8 11t-8-11z', kind: 'metal' },
      { id: 'filter', reach: 'intake-filter', cover: 'filter', d: box(78, 76, 26, 28, 5), kind: 'plain' },
      { id: 'wheel', reach: 'flywheel', cover: 'flyoff', d: box(60, 42, 50, 12, 4), kind: 'metal' },
      {
        id: 'shroud',
        reach: 'cooling',
        cover: 'shroud',
        d: 'M44 60q0-28 40-28t40 28zM60 48h48M58 54h52M84 32v-6h10v-4h-20v4h10',
        kind: 'plain',
      },
      { id: 'hood', reach: 'cooling', cover: 'cover', d: 'M62 32q22-12 44 0z', kind: 'metal' },
    ],
    coil: [118, 56],
    plug: [169, 88],
    fin: [146, 70],
    cap: [32, 60],
    carb: [66, 82],
    primer: [52, 72],
    handle: { held: 'M196 112L214 24M192 111L210 22', free: 'M196 112L214 24M192 111L186 30' },
  },
  'f4-suction': {
    frame: 'M14 130h192M30 130v-8h160v8',
    parts: [
      { id: 'tank', reach: 'tank', d: box(118, 96, 82, 26, 8), kind: 'fuel' },
      { id: 'case', reach: 'oil', d: box(68, 80, 54, 42, 8), kind: 'metal' },
      ...upper(82, 46, true),
      { id: 'valves', reach: 'valves', cover: 'valvecover', d: box(123, 52, 8, 24, 2), kind: 'metal' },
      {
        id: 'muffler',
        reach: 'muffler-arrestor',
        cover: 'muffoff',
        d: box(134, 34, 52, 19, 8) + 'M186 43h12',
        kind: 'hot',
      },
      { id: 'line', reach: 'fuel-line', cover: 'lineoff', d: 'M146 96v-6', kind: 'pipe' },
      { id: 'carb', reach: 'jets', cover: 'carboff', d: box(130, 72, 30, 18, 3), kind: 'metal' },
      { id: 'filter', reach: 'intake-filter', cover: 'filter', d: box(162, 60, 34, 32, 7), kind: 'plain' },
      ...rope(56, 86, 33),
      {
        id: 'hood',
        reach: 'cooling',
        cover: 'cover',
        d: 'M26 62q4-22 30-24t34 10v6q-14-10-34-8t-24 18z',
        kind: 'metal',
      },
    ],
    coil: [78, 56],
    plug: [102, 24],
    fin: [124, 80],
    cap: [186, 97],
    carb: [145, 76],
  },
  't2-diaphragm': {
    frame: 'M134 112l70 20M130 118l70 20',
    parts: [
      { id: 'tank', reach: 'tank', d: box(40, 106, 90, 22, 8), kind: 'fuel' },
      { id: 'case', reach: 'crankcase', d: box(80, 70, 46, 36, 8), kind: 'metal' },
      ...upper(88, 36, false),
      { id: 'muffler', reach: 'muffler-arrestor', cover: 'muffoff', d: box(136, 32, 46, 28, 6), kind: 'hot' },
      { id: 'line', reach: 'fuel-line', cover: 'lineoff', d: 'M118 106q20-2 20-14', kind: 'pipe' },
      { id: 'carb', reach: 'jets', cover: 'carboff', d: box(126, 74, 24, 18, 3), kind: 'metal' },
      { id: 'filter', reach: 'intake-filter', cover: 'filter', d: box(152, 66, 32, 32, 6), kind: 'plain' },
      ...rope(62, 74, 30),
      { id: 'hood', reach: 'cooling', cover: 'cover', d: 'M78 34q30-20 60-4v6q-30-14-60 4z', kind: 'metal' },
    ],
    coil: [84, 48],
    plug: [108, 26],
    fin: [132, 66],
    cap: [56, 107],
    carb: [138, 78],
    primer: [138, 100],
  },
}
