import { firingIntervalDeg } from './firing-interval.ts'

export interface SwapEffect {
  cylinder: number
  /** crank degrees by which its spark comes early (negative: late), within half a cycle */
  earlyDeg: number
  /** stroke of that cylinder in which the spark falls */
  stroke: 'compression' | 'intake' | 'exhaust' | 'power'
  says: string
}

/** Stroke of a cylinder at a crank angle before its own firing top centre, four-stroke cycle. */
function strokeAt(degBtdc: number): SwapEffect['stroke'] {
  const cycle = ((degBtdc % 720) + 720) % 720
  return cycle <= 180 ? 'compression' : cycle <= 360 ? 'intake' : cycle <= 540 ? 'exhaust' : 'power'
}
const words: Record<SwapEffect['stroke'], string> = {
  compression: 'sparks in its compression, far too early: it kicks back',
  intake: 'sparks with the inlet valve open: it spits back through the inlet',
  exhaust: 'sparks with the exhaust valve open: nothing burns there, then a bang in the exhaust',
  power: 'sparks late in its power stroke: unburnt fuel bangs in the exhaust',
}

/**
 * Where in its own cycle each cylinder sparks with the leads as they lie, in the engine's firing order.
 * @param led cylinders in the order in which their leads spark
 * @param lateDeg degrees by which all of them come late, such as 360 with the distributor a crank turn out
 */
export function strokesAsLed(
  firingOrder: readonly number[],
  led: readonly number[],
  advanceDeg: number,
  lateDeg = 0,
): { beforeDeg: number; stroke: SwapEffect['stroke'] }[] {
  const interval = firingIntervalDeg(firingOrder.length)
  return firingOrder.map((cylinder, own) => {
    const beforeDeg = ((((own - led.indexOf(cylinder)) * interval + advanceDeg - lateDeg) % 720) + 720) % 720
    return { beforeDeg, stroke: strokeAt(beforeDeg) }
  })
}

/**
 * What two leads changed over do: each cylinder gets the other's spark, so many intervals early as the other lies before it in the order.
 * @param advanceDeg advance at which the sparks are due, crank degrees BTDC
 * @source the four-stroke cycle; even firing intervals
 * @returns one entry for each of the two; empty when a cylinder is not in the order or both are the same
 */
export function leadSwap(firingOrder: readonly number[], a: number, b: number, advanceDeg = 10): SwapEffect[] {
  const n = firingOrder.length
  const [i, j] = [firingOrder.indexOf(a), firingOrder.indexOf(b)]
  if (i < 0 || j < 0 || i === j) return []
  const interval = firingIntervalDeg(n)
  return [
    [a, i, j],
    [b, j, i],
  ].map(([cylinder, own, other]): SwapEffect => {
    const after = (((own - other) % n) + n) % n
    const beforeDeg = after * interval
    const earlyDeg = beforeDeg > 360 ? beforeDeg - 720 : beforeDeg
    const stroke = strokeAt(beforeDeg + advanceDeg)
    return { cylinder, earlyDeg, stroke, says: `number ${cylinder} ${words[stroke]}` }
  })
}
