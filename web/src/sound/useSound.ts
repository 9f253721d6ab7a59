import { onScopeDispose, ref } from 'vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import type { Schema } from '@/api/client'
import { render } from './render'

/** Why nothing can be heard: the device has no sound, or the browser wants a press first. */
export type Mute = 'none' | 'blocked'

// One place that sounds, for the whole page.
let context: AudioContext | undefined
let stopLast: (() => void) | undefined

/**
 * Plays what was heard of a run, one at a time. Nothing sounds before it is asked for; how loud
 * is kept on the device, and so is whether runs are played by themselves.
 */
export function useSound() {
  const loud = useLocalStorage('sound.loud', 0.5)
  const byItself = useLocalStorage('sound.by-itself', false)
  const playing = ref(false)
  const mute = ref<Mute>()
  let level: GainNode | undefined

  async function play(score: Schema['Heard']) {
    stopLast?.()
    mute.value = undefined
    try {
      context ??= new AudioContext()
    } catch {
      mute.value = 'none'
      return
    }
    // Without a press of the user it stays suspended, and the promise may never settle.
    await Promise.race([context.resume().catch(() => undefined), new Promise((r) => setTimeout(r, 400))])
    if (context.state !== 'running') {
      mute.value = 'blocked'
      return
    }
    const { left, right } = render(score, context.sampleRate)
    const buffer = context.createBuffer(2, left.length, context.sampleRate)
    buffer.copyToChannel(left, 0)
    buffer.copyToChannel(right, 1)
    const source = new AudioBufferSourceNode(context, { buffer })
    level = new GainNode(context, { gain: loud.value })
    source.connect(level).connect(context.destination)
    stopLast = () => {
      source.onended = null
      source.stop()
      source.disconnect()
      playing.value = false
      stopLast = undefined
    }
    source.onended = stopLast
    source.start()
    playing.value = true
  }
  function setLoud(to: number) {
    loud.value = to
    if (level) level.gain.value = to
  }
  const stop = () => stopLast?.()
  onScopeDispose(stop)
  return { loud, setLoud, byItself, playing, mute, play, stop }
}
