import { onBeforeUnmount, ref, type Ref } from 'vue'
import type { Point } from '@vectum/core'

/** less than this is a tap, mm of the car */
const TAP_MM = 25

/** A place of the harness dragged over the plan; what hangs on it follows while it moves, and it is kept where it is let go. */
export function usePlaceDrag(svg: Ref<SVGSVGElement | undefined>, moved: (id: string, to: Point) => void, tapped: (id: string) => void) {
  const dragged = ref<(Point & { id: string }) | null>(null)
  const toCar = (event: PointerEvent): Point => {
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.value!.getScreenCTM()!.inverse())
    return { xMm: Math.round(at.x), yMm: Math.round(at.y) }
  }
  let stop: () => void = () => undefined
  function start(event: PointerEvent, id: string): void {
    const from = toCar(event)
    let far = false
    const move = (e: PointerEvent): void => {
      const to = toCar(e)
      far ||= Math.hypot(to.xMm - from.xMm, to.yMm - from.yMm) > TAP_MM
      if (far) dragged.value = { id, ...to }
    }
    const up = (): void => {
      const was = dragged.value
      stop()
      if (was) moved(id, { xMm: was.xMm, yMm: was.yMm })
      else tapped(id)
    }
    stop = () => {
      window.removeEventListener('pointermove', move)
      window.removeEventListener('pointerup', up)
      window.removeEventListener('pointercancel', stop)
      dragged.value = null
    }
    window.addEventListener('pointermove', move)
    window.addEventListener('pointerup', up)
    window.addEventListener('pointercancel', stop)
  }
  onBeforeUnmount(() => stop())
  return { dragged, start }
}
