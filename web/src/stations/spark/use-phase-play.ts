import { onBeforeUnmount, ref, type Ref } from 'vue'
import { delayDeg, withinCycle } from '@vectum/core'

/** The engine is shown so many times slower than it turns. */
export const SLOWED = 60

/**
 * Turns the crank on the drawing as the engine would, slowed down.
 * @param crankDeg crank angle BTDC while it is turned; null: it stands where the spark comes
 */
export function usePhasePlay(crankDeg: Ref<number | null>, advanceDeg: Ref<number>, rpm: Ref<number>) {
  const playing = ref(false)
  let frame = 0
  let last = 0
  function step(now: number): void {
    const from = crankDeg.value ?? advanceDeg.value
    const passedUs = last ? ((now - last) * 1000) / SLOWED : 0
    crankDeg.value = withinCycle(from - delayDeg(rpm.value, passedUs))
    last = now
    frame = requestAnimationFrame(step)
  }
  function play(): void {
    playing.value = !playing.value
    cancelAnimationFrame(frame)
    last = 0
    if (playing.value) frame = requestAnimationFrame(step)
  }
  function back(): void {
    if (playing.value) play()
    crankDeg.value = null
  }
  onBeforeUnmount(() => cancelAnimationFrame(frame))
  return { playing, play, back }
}
