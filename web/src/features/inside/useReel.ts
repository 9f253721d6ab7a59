import { useIntervalFn, usePreferredReducedMotion, useRafFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Schema } from '@/api/client'

/** Between two frames of the film, ms; and how much slower a second goes that is looked at slowly. */
const EVERY = 120
const SLOWER = 60

/**
 * The two clocks of a film: minutes, frame by frame, and the second that is looked at in a
 * frame. Who wants nothing to move steps through both.
 */
export function useReel(
  film: () => Schema['Film'],
  /** The speed by which a step of the second goes; 0 where nothing turns. */
  rpm: () => number,
) {
  const at = ref(0)
  const second = ref(0)
  const playing = ref(false)
  const turning = ref(false)
  const still = computed(() => usePreferredReducedMotion().value === 'reduce')
  const last = computed(() => film().frames.length - 1)
  const frame = computed(() => film().frames[Math.min(at.value, last.value)])
  /** A step of the second: ten degrees of the crank. */
  const step = computed(() => (rpm() > 0 ? 10 / (6 * rpm()) : 0.01))

  const reel = useIntervalFn(() => (at.value >= last.value ? (playing.value = false) : at.value++), EVERY, {
    immediate: false,
  })
  const slow = useRafFn(({ delta }) => (second.value = (second.value + delta / 1000 / SLOWER) % 1), {
    immediate: false,
  })
  watch(playing, (on) => (on ? reel.resume() : reel.pause()))
  watch(
    () => (playing.value || turning.value) && !still.value,
    (on) => (on ? slow.resume() : slow.pause()),
  )
  watch(film, () => ((at.value = 0), (second.value = 0), (playing.value = false), (turning.value = false)))

  return {
    at,
    second,
    playing,
    turning,
    still,
    last,
    frame,
    step,
    play: () => {
      if (at.value >= last.value) at.value = 0
      playing.value = true
    },
    /** So many steps of the second on, or back. */
    turn: (steps: number) => {
      turning.value = false
      second.value = (second.value + steps * step.value + 1) % 1
    },
  }
}
