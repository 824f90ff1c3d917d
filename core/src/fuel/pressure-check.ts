import { PRESSURE_TOLERANCE } from '../injection/index.ts'
import { type Context, proved, readingsOf, type StoredReading } from '../kernel/index.ts'
import { stateMapKpa } from './design.ts'

export interface PressureCheck {
  running: boolean
  pressureKpa: number
  referenceKpa: number
  baseKpa: number
  fuelPct: number
  /** further from the plan's pressure than the tolerance */
  off: boolean
}

/** Pressure across the base the tune counts on: rail plus barometer less the pressure at the reference port, kPa. */
const basePressureKpa = (pressureKpa: number, barometerKpa: number, referenceKpa: number): number =>
  pressureKpa + barometerKpa - referenceKpa

/** As the gauge was read; `referenceKpa` absolute, at the regulator's port. */
export interface GaugeReading {
  pressureKpa: number
  engineRunning: boolean
  referenceKpa?: number
}

/** One gauge reading brought to the base the tune counts on. */
export function pressureCheck(c: Context, value: GaugeReading): PressureCheck {
  const base = c.plan.fuelPressureKpa
  const { engineRunning: running, pressureKpa } = value
  const portAtIdle = c.fuel.regulator?.reference === 'manifold' ? stateMapKpa(c, 'idle') : c.resolved.barometerKpa
  const referenceKpa = value.referenceKpa ?? (running ? portAtIdle : c.resolved.barometerKpa)
  const baseKpa = basePressureKpa(pressureKpa, c.resolved.barometerKpa, referenceKpa)
  return {
    running,
    pressureKpa,
    referenceKpa,
    baseKpa,
    fuelPct: base ? 100 * (Math.sqrt(Math.max(0, baseKpa) / base) - 1) : 0,
    off: base ? Math.abs(baseKpa / base - 1) > PRESSURE_TOLERANCE : false,
  }
}

/** The gauge with the engine off, else at idle, when it proves the set pressure. */
export const provedPressure = (c: Context): StoredReading<'fuel.pressure'> | null =>
  proved(c, 'fuel.pressure', (r) => !r.value.engineRunning) ?? proved(c, 'fuel.pressure', (r) => r.value.engineRunning)

/** Set pressure in its two conditions, by the last reading of each. */
export const pressureChecks = (c: Context): PressureCheck[] =>
  [false, true].flatMap((running) => {
    const reading = readingsOf(c.readings, 'fuel.pressure').findLast((r) => r.value.engineRunning === running)
    return reading ? [pressureCheck(c, reading.value)] : []
  })
