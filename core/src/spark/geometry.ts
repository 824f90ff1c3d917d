import { firingIntervalDeg } from './firing-interval.ts'
import { rotorOffsetDistDeg } from './rotor-phase.ts'

export interface Tower {
  /** cylinder the lead goes to */
  cylinder: number
  /** place on the cap seen from above, degrees clockwise from the top of the drawing */
  angleDeg: number
}

/** Towers round the cap in the order the rotor meets them, starting at number one. */
export function towers(firingOrder: readonly number[], rotation: 'clockwise' | 'anticlockwise', towerOneDeg = 0): Tower[] {
  const step = (360 / firingOrder.length) * (rotation === 'clockwise' ? 1 : -1)
  return firingOrder.map((cylinder, i) => ({ cylinder, angleDeg: (((towerOneDeg + i * step) % 360) + 360) % 360 }))
}

/** Where the rotor points when number one's piston is `crankDegBtdc` before its firing TDC, degrees clockwise from the top. */
export function rotorAngleDeg(
  crankDegBtdc: number,
  alignDegBtdc: number,
  rotation: 'clockwise' | 'anticlockwise',
  towerOneDeg = 0,
): number {
  const before = rotorOffsetDistDeg(crankDegBtdc, alignDegBtdc)
  return towerOneDeg - before * (rotation === 'clockwise' ? 1 : -1)
}

/**
 * Alignment after the cap is turned by hand, crank degrees BTDC: turned the way the rotor runs, terminals are met later, by two crank degrees
 * for each distributor degree.
 * @param turnedClockwiseDeg distributor degrees, seen from above
 */
export const alignAfterCapTurn = (alignDegBtdc: number, turnedClockwiseDeg: number, rotation: 'clockwise' | 'anticlockwise'): number =>
  alignDegBtdc - 2 * turnedClockwiseDeg * (rotation === 'clockwise' ? 1 : -1)

export interface CoilChannel {
  channel: number
  cylinder: number
  /** cylinder half the order away, which a paired coil fires at the same time on its exhaust stroke; null with an odd number */
  partner: number | null
}

/** Which coil channel goes to which cylinder: some boxes number channels by cylinder, some by place in the firing order. Always a permutation. */
export function coilMap(firingOrder: readonly number[], by: 'by-cylinder' | 'by-firing-order'): CoilChannel[] {
  const n = firingOrder.length
  const partnerOf = (cylinder: number) => (n % 2 === 0 ? firingOrder[(firingOrder.indexOf(cylinder) + n / 2) % n] : null)
  const inOrder = by === 'by-firing-order' ? [...firingOrder] : [...firingOrder].sort((a, b) => a - b)
  return inOrder.map((cylinder, i) => ({ channel: i + 1, cylinder, partner: partnerOf(cylinder) }))
}

/** Crank angle of each cylinder's firing TDC after number one's, in firing order. */
export function firingAngles(firingOrder: readonly number[]): { cylinder: number; deg: number }[] {
  const interval = firingIntervalDeg(firingOrder.length)
  return firingOrder.map((cylinder, i) => ({ cylinder, deg: i * interval }))
}

/** The least and most advance the unit will command, crank degrees BTDC: from the choices, or from the tune's usual corners. */
export interface SweptRange {
  minAdvanceDeg: number
  maxAdvanceDeg: number
}
export const defaultSweep: SweptRange = { minAdvanceDeg: 6, maxAdvanceDeg: 40 }

/** An angle brought into one four-stroke cycle, -360 up to 360 degrees. */
export const withinCycle = (deg: number): number => ((((deg + 360) % 720) + 720) % 720) - 360

/** Where the other cylinders' pulses stand round one crank turn, degrees BTDC of number one, each place once. */
export function otherPulsesDeg(referenceDeg: number, intervalDeg: number): number[] {
  const others = Array.from({ length: Math.round(720 / intervalDeg) - 1 }, (_, k) => (referenceDeg + (k + 1) * intervalDeg) % 360)
  return [...new Set(others.map((deg) => Math.round(deg * 10) / 10))]
}
