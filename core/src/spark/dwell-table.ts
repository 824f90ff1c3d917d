import { dwell } from './dwell.ts'

const DWELL_VOLTAGES = [14, 12, 10, 8] as const
/** Voltage a switching transistor keeps to itself while it charges a coil. */
const DRIVER_DROP_V = 1

export interface DwellRow {
  batteryV: number
  dwellMs: number | null
  /** highest crank speed at which the dwell still fits between two sparks, rpm; null when the current is never reached */
  highestRpm: number | null
}
/** Dwell to one current over battery voltage: what the unit's table over volts must hold. */
export function dwellTable(coil: {
  inductanceMh: number
  resistanceOhm: number
  targetA: number
  sparksPerRev: number
  burnMs: number
}): DwellRow[] {
  return DWELL_VOLTAGES.map((batteryV) => {
    const { dwellMs } = dwell.run({ ...coil, batteryV: batteryV - DRIVER_DROP_V, rpm: 1000 })
    return { batteryV, dwellMs, highestRpm: dwellMs === null ? null : 60000 / ((dwellMs + coil.burnMs) * coil.sparksPerRev) }
  })
}
