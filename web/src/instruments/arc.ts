import type { Schema } from '@/api/client'
import { text } from '@/words/words'

/** What is drawn on an instrument's face, as the server sends it. */
export type Scale = Schema['Scale']

/** A dial from its start to its end angle, in degrees clockwise from straight up. */
export type Dial = { cx: number; cy: number; from: number; to: number; max: number; min?: number }

/** The angle at which a dial shows a value; beyond either end the needle rests on its stop. */
export function angle(d: Dial, value: number): number {
  const min = d.min ?? 0
  const share = Math.min(Math.max((value - min) / (d.max - min), -0.015), 1.015)
  return d.from + share * (d.to - d.from)
}

/** The point at a radius and an angle. */
export function point(d: Dial, radius: number, degrees: number): { x: number; y: number } {
  const a = ((degrees - 90) * Math.PI) / 180
  return { x: d.cx + radius * Math.cos(a), y: d.cy + radius * Math.sin(a) }
}

/** A tick from one radius to another at a value. */
export function tick(d: Dial, value: number, inner: number, outer: number): string {
  const a = angle(d, value)
  const p = point(d, inner, a)
  const q = point(d, outer, a)
  return `M${p.x.toFixed(2)} ${p.y.toFixed(2)}L${q.x.toFixed(2)} ${q.y.toFixed(2)}`
}

/** The needle in words that ask for the same reading: nearest numbered mark below, and small marks past it. */
export function inWords(
  value: number,
  numbered: number,
  small: number,
  unit: string,
  what = text('face.needle'),
): string {
  const base = Math.floor(value / numbered + 1e-9) * numbered
  const marks = (value - base) / small
  const whole = Math.floor(marks + 0.25)
  const rest = marks - whole
  const key = rest > 0.25 ? 'between' : whole === 0 ? 'on-mark' : 'marks-past'
  return text(`face.${key}`, { what, n: whole, next: whole + 1, base, small, unit })
}

/** The same for a scale, and where a reading lies past its end. */
export function readIn(scale: Scale, value: number, unit: string, what = text('face.needle')): string {
  if (value > scale.most) return text('face.beyond', { what, most: scale.most, unit })
  return inWords(value, scale.numbered, scale.division, unit, what)
}

/** The numbers on a scale, and how many of them a face has room for. */
export function numbers(scale: Scale, room = 16): number[] {
  const all = marks(scale.least, scale.most, scale.numbered)
  const every = Math.ceil(all.length / room)
  return all.filter((v) => Math.abs(v / scale.numbered) % every < 1e-6)
}

/** Marks from min to max by a step, free of the dust of adding fractions. */
export function marks(min: number, max: number, step: number): number[] {
  const n = Math.round((max - min) / step)
  return Array.from({ length: n + 1 }, (_, i) => Math.round((min + i * step) * 1000) / 1000)
}
