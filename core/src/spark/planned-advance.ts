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
export function fullLoadAdvanceDeg(r: Pick<ResolvedFacts, 'chamber' | 'compressionRatio' | 'octaneRon'> & { tired?: boolean }): number {
  const allowed = FULL_ADVANCE[r.chamber] - 1.5 * Math.max(0, r.compressionRatio - 9) - 3 * Math.max(0, (95 - r.octaneRon) / 4)
  return allowed - (r.tired ? TIRED_DEG : 0)
}
/** What cylinders that are not alike take from the spark of all, degrees: our own figure, since the worst of them knocks first (handbook 01). */
const TIRED_DEG = 2
const GUARD_OVER_FULL_DEG = 2
/**
 * A slow engine gives its end gas time to light itself (Heywood, section 9.6.2: its delay runs in milliseconds, not degrees): under this speed the guard
 * falls by so much for each 1,000 rpm, by a fifth more for each point of compression over nine, and with the pressure of a blown charge.
 */
const SLOW = { underRpm: 2800, degPer1000Rpm: 11, perPoint: 0.2 }
/** the slow engine's guard counts from this share of the barometer, and whole from there */
const SLOW_LOAD = { from: 0.6, full: 0.92 }
function slowDeg(r: Pick<ResolvedFacts, 'compressionRatio'>, rpm: number, mapKpa: number, barometerKpa: number): number {
  const load = mapKpa / barometerKpa
  const share = load > 1 ? load : smooth(SLOW_LOAD.from, SLOW_LOAD.full, load)
  const tight = 1 + SLOW.perPoint * Math.max(0, r.compressionRatio - 9)
  return (Math.max(0, SLOW.underRpm - rpm) / 1000) * SLOW.degPer1000Rpm * tight * share
}
const LEAST_GUARD_DEG = 9
/** Detonation guard at a speed and load: holds at full load, falls where the engine turns slowly, and rises as the charge gets thinner (handbook 05: scaled by MAP). */
export const guardDeg = (
  r: Pick<ResolvedFacts, 'chamber' | 'compressionRatio' | 'octaneRon' | 'cooledBoost'> & { tired?: boolean },
  rpm: number,
  mapKpa: number,
  barometerKpa: number,
): number => {
  const fast =
    fullLoadAdvanceDeg(r) + GUARD_OVER_FULL_DEG + 0.3 * Math.max(0, barometerKpa * 0.95 - mapKpa) - boostRetardDeg(r, mapKpa, barometerKpa)
  // an engine that catches or recovers needs some spark, and is through before it knocks
  return Math.min(fast, Math.max(LEAST_GUARD_DEG, fast - slowDeg(r, rpm, mapKpa, barometerKpa)))
}
/** Degrees that boost takes from the spark for each kPa over the air (handbook 05: 0.15, and a cautious 0.2 where nothing cools it). */
const BOOST_RETARD_DEG_PER_KPA = { cooled: 0.15, hot: 0.2 }
const boostRetardDeg = (r: Pick<ResolvedFacts, 'cooledBoost'>, mapKpa: number, barometerKpa: number): number =>
  (r.cooledBoost ? BOOST_RETARD_DEG_PER_KPA.cooled : BOOST_RETARD_DEG_PER_KPA.hot) * Math.max(0, mapKpa - barometerKpa)
/** a base tune stays so far under the guard */
const UNDER_GUARD_DEG = 2

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
  return Math.min(value - boostRetardDeg(r, mapKpa, r.barometerKpa), guardDeg(r, rpm, mapKpa, r.barometerKpa) - UNDER_GUARD_DEG)
}

/** Advance the base tune would command at a point, crank degrees BTDC, from the survey alone. */
export const plannedSparkDeg = (r: ResolvedFacts, rpm: number, mapKpa: number): number => sparkDeg(rpm, mapKpa, r, idleTargetRpm(r))
