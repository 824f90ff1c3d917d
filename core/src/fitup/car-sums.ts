import { densityKgM3, peakPowerRpm, vePeakPct } from '../air/index.ts'
import type { JudgedContext } from '../kernel/index.ts'
import { bonnetStack, type BonnetStack } from './bonnet.ts'
import { gasC } from './exhaust-sensor.ts'
import { fitupOf, routeOf } from './fitup-of.ts'

/** The stack over this car's flange, against what Survey measured free. */
export const bonnetOf = (c: JudgedContext): BonnetStack =>
  bonnetStack(fitupOf(c), c.facts.place?.bonnetMm ?? null, routeOf(c) === 'throttle-body')

/** The pipe from port to open end, mm; null: not told. */
export function sensorLengthMm(c: JudgedContext): number | null {
  const { fromPortMm, toEndMm } = fitupOf(c).sensor ?? {}
  return fromPortMm === undefined || toEndMm === undefined ? null : fromPortMm + toEndMm
}
const IDLE_RPM = 800
/** fuel adds to the air that the engine takes, by mass */
const WITH_FUEL = 1 + 1 / 14.7
/** Temperature of the gas at the sensor's place, degC; null: the place is not told. Full load at the speed of most power, and a warm idle. */
export function sensorGasC(c: JudgedContext): { idle: number; full: number } | null {
  const { fromPortMm, pipeMm } = fitupOf(c).sensor ?? {}
  const { displacementCc, redlineRpm, camClass, barometerKpa, idleMapKpa } = c.resolved
  if (fromPortMm === undefined || displacementCc === null) return null
  const gps = (rpm: number, mapKpa: number): number =>
    (vePeakPct(camClass, routeOf(c)).power / 100) * (displacementCc / 1000) * (rpm / 120) * densityKgM3(mapKpa, 30) * WITH_FUEL
  return {
    idle: gasC('idle', fromPortMm, gps(IDLE_RPM, idleMapKpa), pipeMm),
    full: gasC('full', fromPortMm, gps(peakPowerRpm(camClass, redlineRpm), barometerKpa), pipeMm),
  }
}
