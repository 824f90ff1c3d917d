import { onBeforeUnmount, ref, type Ref } from 'vue'
import type { SectionId } from '@vectum/core'
import { slotAt, type Pipe, type Placed } from './circuit-layout.ts'

/** less than this is a tap, in units of the sheet */
const TAP = 8

/** An element dragged along its line: where it is let go it takes its place among the others. */
export function useElementDrag(
  svg: Ref<SVGSVGElement | undefined>,
  width: () => number,
  moved: (section: SectionId, from: number, to: number) => void,
) {
  const dragging = ref<{ placed: Placed; pipe: Pipe; x: number; moved: boolean } | null>(null)
  const toSheet = (event: PointerEvent): number => {
    const box = svg.value!.getBoundingClientRect()
    return ((event.clientX - box.left) / box.width) * width()
  }
  let stop: () => void = () => undefined
  function start(event: PointerEvent, placed: Placed, pipe: Pipe): void {
    dragging.value = { placed, pipe, x: placed.x, moved: false }
    const from = toSheet(event)
    const move = (e: PointerEvent) => {
      const x = toSheet(e)
      if (dragging.value && Math.abs(x - from) > TAP) dragging.value = { ...dragging.value, x: placed.x + x - from, moved: true }
    }
    stop = () => {
      window.removeEventListener('pointermove', move)
      window.removeEventListener('pointerup', up)
      window.removeEventListener('pointercancel', stop)
      dragging.value = null
    }
    const up = () => {
      const was = dragging.value
      stop()
      if (!was?.moved) return
      const to = slotAt({ ...pipe, items: pipe.items.filter((i) => i !== placed) }, was.x)
      if (to !== placed.index) moved(placed.section!, placed.index, to)
    }
    window.addEventListener('pointermove', move)
    window.addEventListener('pointerup', up)
    window.addEventListener('pointercancel', stop)
  }
  onBeforeUnmount(() => stop())
  return { dragging, start }
}
