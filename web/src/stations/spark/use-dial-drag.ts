import { ref, type Ref } from 'vue'
import { withinCycle } from '@vectum/core'
import { pointerAngle } from '../../drawing/polar.ts'

type Hand = 'spark' | 'pulse' | 'crank'
interface Angles {
  advanceDeg: number
  referenceDeg: number | null
  crankDeg: number
}
interface Tell {
  (event: 'update:advanceDeg', deg: number): void
  (event: 'update:referenceDeg', deg: number): void
  (event: 'update:crankDeg', deg: number): void
  (event: 'settled'): void
}
const ADVANCE = { low: -10, high: 60 }
const PULSE = { low: 0, high: 120 }
const within = ({ low, high }: { low: number; high: number }, deg: number): number => Math.min(high, Math.max(low, deg))

/** Spark, pulse and crank pin of the dial, moved by a finger or by arrow keys; degrees before top centre. */
export function useDialDrag(
  svg: Ref<SVGSVGElement | null>,
  centre: number,
  angles: Angles,
  emit: Tell,
  beforeTop: (sheetDeg: number) => number,
) {
  const dragging = ref<Hand | null>(null)
  /** A pointer says where on the turn, not which turn: the one nearest to where the crank was. */
  const nearestTurn = (deg: number): number => withinCycle(deg + 360 * Math.round((angles.crankDeg - deg) / 360))
  function put(what: Hand, deg: number): void {
    if (what === 'spark') emit('update:advanceDeg', within(ADVANCE, deg))
    else if (what === 'pulse') emit('update:referenceDeg', within(PULSE, deg))
    else emit('update:crankDeg', nearestTurn(Math.round(deg)))
  }
  function move(event: PointerEvent): void {
    if (dragging.value && svg.value) put(dragging.value, Math.round(beforeTop(pointerAngle(event, svg.value, centre, centre))))
  }
  function grab(what: Hand, event: PointerEvent): void {
    dragging.value = what
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  }
  function drop(): void {
    if (dragging.value) emit('settled')
    dragging.value = null
  }
  function key(what: Hand, event: KeyboardEvent): void {
    const step = { ArrowLeft: 1, ArrowUp: 1, ArrowRight: -1, ArrowDown: -1 }[event.key]
    const from = { spark: angles.advanceDeg, pulse: angles.referenceDeg, crank: angles.crankDeg }[what]
    if (!step || from === null) return
    event.preventDefault()
    put(what, from + step * (event.shiftKey ? 5 : 1))
    if (what !== 'crank') emit('settled')
  }
  return { move, grab, drop, key }
}
