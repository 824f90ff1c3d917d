import { onBeforeUnmount, ref, type Ref } from 'vue'

/** Dragging something along a strip of days: how many days it has been moved so far, and a call when it is let go. */
export function usePointerDays(dayPx: Ref<number>, done: (id: string, days: number) => void) {
  const id = ref<string | null>(null)
  const days = ref(0)
  let from = 0
  const move = (event: PointerEvent): void => {
    days.value = Math.round((event.clientX - from) / dayPx.value)
  }
  const stop = (): void => {
    window.removeEventListener('pointermove', move)
    window.removeEventListener('pointerup', up)
    window.removeEventListener('pointercancel', stop)
    id.value = null
    days.value = 0
  }
  const up = (): void => {
    const [moved, by] = [id.value, days.value]
    stop()
    if (moved && by) done(moved, by)
  }
  function start(event: PointerEvent, what: string): void {
    id.value = what
    from = event.clientX
    window.addEventListener('pointermove', move)
    window.addEventListener('pointerup', up)
    window.addEventListener('pointercancel', stop)
  }
  onBeforeUnmount(stop)
  return { id, days, start }
}
