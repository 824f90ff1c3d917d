import { onBeforeUnmount, type Ref } from 'vue'

export interface SvgPoint {
  x: number
  y: number
}
/** Something of a drawing that is dragged: it is told where the pointer is, in the drawing's own measure, until it is let go. */
export function useSvgDrag(svg: Ref<SVGSVGElement | undefined>) {
  const inDrawing = (event: PointerEvent): SvgPoint => {
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.value!.getScreenCTM()!.inverse())
    return { x: at.x, y: at.y }
  }
  let stop: () => void = () => undefined
  function start(move: (to: SvgPoint) => void, end: () => void): void {
    stop()
    const moved = (e: PointerEvent): void => move(inDrawing(e))
    const up = (): void => {
      stop()
      end()
    }
    stop = () => {
      window.removeEventListener('pointermove', moved)
      window.removeEventListener('pointerup', up)
      window.removeEventListener('pointercancel', up)
      stop = () => undefined
    }
    window.addEventListener('pointermove', moved)
    window.addEventListener('pointerup', up)
    window.addEventListener('pointercancel', up)
  }
  onBeforeUnmount(() => stop())
  return { start }
}
