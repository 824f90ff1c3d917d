import { type Facts, oldAdvanceAtCrank } from '../survey/index.ts'

export interface OldCurve {
  /** set at the crank with the engine slow, crank degrees BTDC */
  staticDeg: number
  /** crank degrees added by the weights, and the crank speeds between which they come in */
  mechanicalDeg: number
  fromRpm: number
  toRpm: number
  /** crank degrees added by the can, and the vacuum at which it is all in, kPa */
  vacuumDeg: number
  vacuumFullKpa: number
  source: 'none' | 'ported' | 'manifold'
}
/** Static timing taken until it is read with a light, crank degrees BTDC. */
export const USUAL_STATIC_DEG = 8
/** Vacuum at which a usual can begins to move, as share of where it is all in. */
const CAN_STARTS = 0.4

/** The old advance from the survey, at the crank; null while the weights are not known. */
export function oldCurveOf(facts: Facts, staticDeg = USUAL_STATIC_DEG): OldCurve | null {
  const i = oldAdvanceAtCrank(facts.ignition)
  if (i.mechanicalAdvanceDeg === undefined || i.mechanicalStartRpm === undefined || i.mechanicalFullRpm === undefined) return null
  return {
    staticDeg,
    mechanicalDeg: i.mechanicalAdvanceDeg,
    fromRpm: i.mechanicalStartRpm,
    toRpm: Math.max(i.mechanicalFullRpm, i.mechanicalStartRpm + 1),
    vacuumDeg: i.vacuumSource === 'none' ? 0 : (i.vacuumAdvanceDeg ?? 0),
    vacuumFullKpa: i.vacuumFullKpa ?? 40,
    source: i.vacuumSource ?? 'none',
  }
}

/**
 * Advance the old distributor gave, crank degrees BTDC: straight between the speeds of its weights, and the can between its two vacuums. A
 * ported can sees nothing with the plate shut.
 */
export function oldAdvanceDeg(curve: OldCurve, rpm: number, mapKpa: number, barometerKpa: number, plateShut = false): number {
  const share = (x: number, from: number, to: number) => Math.min(1, Math.max(0, (x - from) / (to - from)))
  const vacuum = curve.source === 'none' || (curve.source === 'ported' && plateShut) ? 0 : Math.max(0, barometerKpa - mapKpa)
  return (
    curve.staticDeg +
    curve.mechanicalDeg * share(rpm, curve.fromRpm, curve.toRpm) +
    curve.vacuumDeg * share(vacuum, CAN_STARTS * curve.vacuumFullKpa, curve.vacuumFullKpa)
  )
}

/** One place of the old curve as a map: what it gave there, and what is planned, crank degrees BTDC. */
export interface OldCell {
  rpm: number
  mapKpa: number
  oldDeg: number
  plannedDeg: number
}
/** with the plate shut a ported can sees nothing: so near the idle's speed and pressure it is */
const SHUT_UNDER = { rpmTimes: 1.3, overKpa: 5 }
/** The old distributor as a map over speed and load, to compare with: rows of pressure from the highest, speeds rising within each. */
export function oldCurveMap(
  curve: OldCurve,
  planned: (rpm: number, mapKpa: number) => number,
  axes: { rpm: readonly number[]; mapKpa: readonly number[] },
  car: { idleRpm: number; idleMapKpa: number; barometerKpa: number },
): OldCell[][] {
  return [...axes.mapKpa]
    .sort((a, b) => b - a)
    .map((mapKpa) =>
      axes.rpm.map((rpm) => {
        const shut = rpm <= SHUT_UNDER.rpmTimes * car.idleRpm && mapKpa <= car.idleMapKpa + SHUT_UNDER.overKpa
        return { rpm, mapKpa, oldDeg: oldAdvanceDeg(curve, rpm, mapKpa, car.barometerKpa, shut), plannedDeg: planned(rpm, mapKpa) }
      }),
    )
}

/** Torque lost per square degree from best timing, as share of the indicated: about 1 % at 6 degrees, 6 % at 16. Source: Heywood, section 9.3.2. */
export const LOSS_PER_DEG2 = 2.5e-4

export interface PayoffRegion {
  id: 'idle' | 'cruise' | 'pull-away' | 'full'
  label: string
  rpm: number
  mapKpa: number
  oldDeg: number
  plannedDeg: number
  /** torque of the planned timing over the old, %, taking the planned as best; less advance for knock's sake gains none */
  gainPct: number
  /** the plan holds back for knock there: what it saves is the engine */
  heldBack: boolean
}
/** A plan that stands so near under the guard is held back by it, degrees. */
const HELD_BACK_DEG = 2.5

/**
 * What timing control might pay, region by region. An estimate: the planned map is taken for the best timing, which only a dyno knows.
 * @param planned advance of the planned map, crank degrees BTDC, at a speed and manifold pressure
 */
export function timingPayoff(
  curve: OldCurve,
  planned: (rpm: number, mapKpa: number) => number,
  car: { redlineRpm: number; idleRpm: number; idleMapKpa: number; barometerKpa: number },
  lossPerDeg2 = LOSS_PER_DEG2,
  guard: (rpm: number, mapKpa: number) => number = () => Infinity,
): PayoffRegion[] {
  const points = [
    { id: 'idle', label: 'Idle', rpm: car.idleRpm, mapKpa: car.idleMapKpa, shut: true },
    { id: 'cruise', label: 'Cruise', rpm: 0.45 * car.redlineRpm, mapKpa: 0.5 * car.barometerKpa, shut: false },
    { id: 'pull-away', label: 'Pull-away', rpm: 0.3 * car.redlineRpm, mapKpa: 0.85 * car.barometerKpa, shut: false },
    { id: 'full', label: 'Full load', rpm: 0.7 * car.redlineRpm, mapKpa: car.barometerKpa, shut: false },
  ] as const
  return points.map(({ id, label, rpm, mapKpa, shut }) => {
    const oldDeg = oldAdvanceDeg(curve, rpm, mapKpa, car.barometerKpa, shut)
    const plannedDeg = planned(rpm, mapKpa)
    const kept = Math.max(0.5, 1 - lossPerDeg2 * (plannedDeg - oldDeg) ** 2)
    const heldBack = plannedDeg < oldDeg && guard(rpm, mapKpa) - plannedDeg <= HELD_BACK_DEG
    return { id, label, rpm, mapKpa, oldDeg, plannedDeg, gainPct: heldBack ? 0 : 100 * (1 / kept - 1), heldBack }
  })
}

/** How much of its time a car spends in each region, by what it is used for: our own round figures. */
export const useShares = (use: string | undefined): Record<PayoffRegion['id'], number> =>
  use === 'track' ? { idle: 0.05, cruise: 0.2, 'pull-away': 0.3, full: 0.45 } : { idle: 0.15, cruise: 0.55, 'pull-away': 0.25, full: 0.05 }

/** Gain over all regions, %, each counted by its share of the time. */
export const gainByUsePct = (regions: readonly PayoffRegion[], shares: Record<PayoffRegion['id'], number>): number =>
  regions.reduce((sum, r) => sum + shares[r.id] * r.gainPct, 0)
