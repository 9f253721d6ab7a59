import { useRafFn } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'

/** How a rope was drawn: as fast as a start wants it, or slower. */
export type Drawn = 'brisk' | 'slow'

interface Rope {
  holds: number[]
  end: 'back' | 'stuck' | 'snatch' | 'stays' | 'missing'
}

/** Quicker than this from end to end is a brisk pull, ms (common practice: well under a second). */
export const BRISK_MS = 700
/** How much of the way to the hand a free rope makes up in a 60th of a second. */
const FOLLOWS = 0.35
/** A hand that draws by itself, for a key: a share of the rope a ms. */
const OWN_PACE = 1 / 450
const BUMP = 0.3

/**
 * A rope that follows the hand as its machine lets it: where it holds hard it comes slowly,
 * and each compression is felt where the device can shake. `at` is how far it is drawn, 0 to
 * 1, and `shown` how far it was ever felt.
 */
export function useRope(rope: Ref<Rope>, done: (how: Drawn) => void, calm = false) {
  const at = ref(0)
  const shown = ref(0)
  const hand = ref<number>()
  let byItself = false
  let began = 0
  let over = false
  const hold = computed(() => {
    const h = rope.value.holds
    return h[Math.min(Math.floor(at.value * h.length), h.length - 1)] ?? 0
  })
  const shake = (ms: number) => navigator.vibrate?.(Math.round(ms))

  function finish(now: number) {
    over = true
    done(now - began < BRISK_MS ? 'brisk' : 'slow')
    if (byItself) release()
  }
  const { pause, resume } = useRafFn(
    ({ delta, timestamp }) => {
      const steps = delta / (1000 / 60)
      if (hand.value === undefined) {
        if (rope.value.end !== 'stays' && rope.value.end !== 'missing') at.value = Math.max(0, at.value - 0.06 * steps)
        if (at.value === 0 || rope.value.end === 'stays' || rope.value.end === 'missing') pause()
        return
      }
      if (byItself) hand.value = Math.min(1, hand.value + delta * OWN_PACE)
      if (over) return
      if (hold.value >= 1 && rope.value.end === 'stuck') {
        shake(80)
        return finish(timestamp)
      }
      const was = hold.value
      const gives = 1 - 0.9 * was
      at.value = Math.min(
        1,
        Math.max(at.value, at.value + (hand.value - at.value) * Math.min(1, FOLLOWS * gives * steps)),
      )
      shown.value = Math.max(shown.value, at.value)
      if (was < BUMP && hold.value >= BUMP) shake(40 * hold.value)
      if (rope.value.end === 'snatch' && hold.value >= 0.9) {
        shake(150)
        finish(timestamp)
        hand.value = undefined
      } else if (at.value > 0.97) finish(timestamp)
    },
    { immediate: false },
  )
  function grip() {
    byItself = over = false
    at.value = 0
    hand.value = 0
    began = performance.now()
    resume()
  }
  /** The hand is at a share of the rope's length. */
  function move(to: number) {
    if (hand.value !== undefined && !byItself) hand.value = Math.min(1, Math.max(0, to))
  }
  function release() {
    hand.value = undefined
  }
  /** Draws it briskly without a pointer; at once for those who want nothing to move. */
  function draw() {
    if (calm) {
      shown.value = rope.value.end === 'stuck' ? 0 : 1
      return done('brisk')
    }
    grip()
    byItself = true
  }
  return { at, shown, hold, grip, move, release, draw }
}
