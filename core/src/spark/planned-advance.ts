import type { CamClass } from '../air/index.ts'
import { smooth } from '../kernel/index.ts'
import { idleTargetRpm, type ResolvedFacts } from '../survey/index.ts'

/** Starting values of handbook 05, crank degrees BTDC. */
const IDLE_ADVANCE: Record<CamClass, number> = { stock: 14, mild: 15, hot: 17, wild: 20 }
const FULL_ADVANCE = { 'old-open': 36, wedge: 34, 'modern-heart': 28 } as const
/** most advance in cruise */
export const CRUISE_TOTAL_MAX = 42
const LIGHT_LOAD_DEG = 10

/** Full-load advance the chamber, compression and octane allow, crank degrees BTDC; 2 degrees over it is the detonation guard. */
export function fullLoadAdvanceDeg(r: Pick<ResolvedFacts, 'chamber' | 'compressionRatio' | 'octaneRon'>): number {
  return FULL_ADVANCE[r.chamber] - 1.5 * Math.max(0, r.compressionRatio - 9) - 3 * Math.max(0, (95 - r.octaneRon) / 4)
}
const GUARD_OVER_FULL_DEG = 2
/** Detonation guard at a load: holds at full load, and rises as the charge gets thinner (handbook 05: scaled by MAP). */
export const guardDeg = (fullDeg: number, mapKpa: number, barometerKpa: number): number =>
  fullDeg + GUARD_OVER_FULL_DEG + 0.3 * Math.max(0, barometerKpa * 0.95 - mapKpa) - boostRetardDeg(mapKpa, barometerKpa)
/** Degrees that boost takes from the spark at full load (handbook 05: 0.15 for each kPa over the air). */
const boostRetardDeg = (mapKpa: number, barometerKpa: number): number => 0.15 * Math.max(0, mapKpa - barometerKpa)

/** Spark for one cell: a speed ramp at full load, a light-load addition like a vacuum can's, an idle island a little lower; never above the guard. */
export function sparkDeg(rpm: number, mapKpa: number, r: ResolvedFacts, idleRpm: number): number {
  const full = fullLoadAdvanceDeg(r)
  const idle = IDLE_ADVANCE[r.camClass]
  const allInRpm = Math.min(3200, r.redlineRpm * 0.58)
  const speedRamp = idle - 2 + (full - idle + 2) * smooth(idleRpm * 0.9, allInRpm, rpm)
  const light = LIGHT_LOAD_DEG * smooth(r.barometerKpa * 0.92, Math.min(55, r.barometerKpa * 0.56), mapKpa) * smooth(1100, 1700, rpm)
  const cruise = Math.min(CRUISE_TOTAL_MAX, speedRamp + light)
  const nearIdle = 1 - smooth(idleRpm * 1.2, idleRpm * 1.7, rpm)
  // under its target speed a little more advance catches a falling idle
  const catching = 3 * (1 - smooth(idleRpm * 0.72, idleRpm, rpm))
  const value = cruise * (1 - nearIdle) + (idle + catching) * nearIdle
  return Math.min(value - boostRetardDeg(mapKpa, r.barometerKpa), guardDeg(full, mapKpa, r.barometerKpa))
}

/** Advance the base tune would command at a point, crank degrees BTDC, from the survey alone. */
export const plannedSparkDeg = (r: ResolvedFacts, rpm: number, mapKpa: number): number => sparkDeg(rpm, mapKpa, r, idleTargetRpm(r))
