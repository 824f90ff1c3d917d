import type { Facts } from './facts.ts'

const DEGREES = ['mechanicalAdvanceDeg', 'vacuumAdvanceDeg', 'mechanicalStartRpm', 'mechanicalFullRpm'] as const

/**
 * The old advance at the crank, whichever shaft its figures were read at: a distributor turns at half crank speed, so that its degrees and its
 * speeds count double.
 * @returns crank degrees and crank rpm
 */
export function oldAdvanceAtCrank(ignition: Facts['ignition']): NonNullable<Facts['ignition']> {
  const told = { ...ignition }
  if (told.curveShaft !== 'distributor') return told
  for (const key of DEGREES) {
    const value = told[key]
    if (value !== undefined) told[key] = 2 * value
  }
  return told
}
