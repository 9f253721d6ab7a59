import type { Schema } from '@/api/client'

type Score = Schema['Heard']
type Beat = Schema['Beat']

/** A run as two channels of samples, −1 to 1: the intake is more to the left, the exhaust more to the right. */
export interface Rendered {
  left: Float32Array<ArrayBuffer>
  right: Float32Array<ArrayBuffer>
}

const TAIL_S = 0.4
/** Where the loudest place comes to lie. */
const PEAK = 0.85

/** White noise that is the same each time. */
function noise(seed: number) {
  let x = seed
  return () => {
    x = (Math.imul(x, 1664525) + 1013904223) | 0
    return x / 2 ** 31
  }
}

/** What two poles ring with that are struck, in place: `hz` with so many seconds to a third. */
function ring(of: Float32Array, rate: number, hz: number, seconds: number, gain: number, into: Float32Array) {
  const r = Math.exp(-1 / (seconds * rate))
  const a = 2 * r * Math.cos((2 * Math.PI * hz) / rate)
  const scale = gain * (1 - r * r)
  let y1 = 0
  let y2 = 0
  for (let i = 0; i < of.length; i++) {
    const y = of[i] * scale + a * y1 - r * r * y2
    y2 = y1
    y1 = y
    into[i] += y
  }
}

/**
 * Makes sound of what was heard, beat by beat: each firing a short burst through the muffler's
 * own tone and one above it, each breath of the intake a softer one beside it, the rest as
 * noise, clicks and thuds over them. The same score gives the same samples.
 */
export function render(score: Score, rate: number): Rendered {
  const length = Math.ceil((score.seconds + TAIL_S) * rate)
  const exhaust = new Float32Array(length)
  const left = new Float32Array(length)
  const right = new Float32Array(length)
  const random = noise(7)

  /** Noise that dies away, `bright` 0 to 1, into a buffer. */
  function burst(into: Float32Array, at: number, loud: number, seconds: number, bright = 1) {
    const from = Math.round(at * rate)
    const n = Math.min(Math.round(seconds * 4 * rate), length - from)
    let low = 0
    for (let i = 0; i < n; i++) {
      low += (random() - low) * bright
      into[from + i] += low * loud * Math.exp(-i / (seconds * rate))
    }
  }
  /** A struck tone in both ears. */
  function struck(at: number, loud: number, hz: number, seconds: number) {
    const from = Math.round(at * rate)
    const n = Math.min(Math.round(seconds * 5 * rate), length - from)
    for (let i = 0; i < n; i++) {
      const y = loud * Math.exp(-i / (seconds * rate)) * Math.sin((2 * Math.PI * hz * i) / rate)
      left[from + i] += y
      right[from + i] += y
    }
  }
  const breath = (b: Beat, next: number) => burst(left, b.at + 0.45 * (next - b.at), 0.12 * b.loud, 0.006, 0.5)

  const cycles = score.beats.filter((b) => b.kind === 'fire' || b.kind === 'puff')
  cycles.forEach((b, i) => breath(b, cycles[i + 1]?.at ?? b.at + 0.03))
  for (const b of score.beats) {
    switch (b.kind) {
      case 'fire': {
        const at = Math.min(Math.round(b.at * rate), length - 1)
        exhaust[at] += 18 * b.loud
        burst(exhaust, b.at, 1.6 * b.loud, 0.003)
        break
      }
      case 'puff':
        burst(exhaust, b.at, 0.5 * b.loud, 0.01, 0.3)
        break
      case 'hiss':
        burst(left, b.at, 0.5 * b.loud, 0.05)
        break
      case 'knock':
        struck(b.at, 0.7 * b.loud, 1150, 0.006)
        break
      case 'thump':
        struck(b.at, 0.8 * b.loud, 48, 0.03)
        break
      case 'pop':
        burst(exhaust, b.at, 9 * b.loud, 0.02)
        break
      case 'spit':
        burst(left, b.at, 1.2 * b.loud, 0.03, 0.6)
        break
      case 'bang':
        struck(b.at, 1.4 * b.loud, 90, 0.05)
        burst(left, b.at, b.loud, 0.03)
        burst(right, b.at, b.loud, 0.03)
        break
      case 'rope':
        burst(left, b.at, 0.18 * b.loud, 0.12, 0.4)
        burst(right, b.at, 0.18 * b.loud, 0.12, 0.4)
        break
    }
  }
  ring(exhaust, rate, score.tone_hz, 0.008, 1, right)
  ring(exhaust, rate, 2.7 * score.tone_hz, 0.004, 0.5, right)
  // Nothing stands in one ear alone.
  let most = 1e-6
  for (let i = 0; i < length; i++) {
    const l = left[i] + 0.35 * right[i]
    const r = right[i] + 0.35 * left[i]
    left[i] = l
    right[i] = r
    most = Math.max(most, Math.abs(l), Math.abs(r))
  }
  for (let i = 0; i < length; i++) {
    left[i] *= PEAK / most
    right[i] *= PEAK / most
  }
  return { left, right }
}
