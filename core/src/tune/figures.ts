import { peakPowerRpm } from '../air/index.ts'
import { alongCurve, type Told } from '../kernel/index.ts'
import { boostKpaOf, idleTargetRpm, resolveFacts } from '../survey/index.ts'
import { bilinear } from './axes.ts'
import { parameterSpecs } from './parameters.ts'
import type { TuneDocument, TuneParameters } from './tune.ts'

/** Single numbers that stand for a tune where a unit asks for one answer, read from its tables and curves. */
type LookedUp =
  | 'advanceIdleDeg'
  | 'veIdlePct'
  | 'advanceCruiseDeg'
  | 'advanceFullDeg'
  | 'advanceBoostDeg'
  | 'advanceLeastDeg'
  | 'advanceMostDeg'
  | 'lambdaIdle'
  | 'lambdaCruise'
  | 'lambdaFull'
  | 'idleHotRpm'
  | 'idleColdRpm'
  | 'cranking20Pct'
  | 'crankingMinus10Pct'
  | 'warmup20Pct'
  | 'afterStart20Pct'
  | 'idleValveHotPct'
  | 'deadTime14Ms'
type ScalarKey = { [K in keyof TuneParameters]: TuneParameters[K] extends number ? K : never }[keyof TuneParameters]
export type FigureKey = LookedUp | ScalarKey
/** `advanceBoostDeg` is there only with boost. */
export type TuneFigures = Readonly<Partial<Record<FigureKey, number>>>

const WARM_C = 85
const COLD_C = 0
const CRUISE_RPM_SHARE = 0.45
const CRUISE_LOAD_SHARE = 0.45
/** under the barometer by what a wide-open plate takes */
const FULL_LOAD = 0.98
const CHARGING_V = 14

/** Least and most advance that the tune commands where the engine can go, cranking and nitrous counted. */
function sweptDeg(
  axes: TuneDocument['axes'],
  spark: readonly number[],
  p: TuneParameters,
  redlineRpm: number,
  topKpa: number,
): { advanceLeastDeg: number; advanceMostDeg: number } {
  const n = axes.rpm.length
  const reached = spark.filter((_, cell) => {
    const [i, j] = [cell % n, Math.floor(cell / n)]
    // the row or column past the limit still takes part in what lies between
    return (i === 0 || axes.rpm[i - 1] <= redlineRpm) && (j === 0 || axes.mapKpa[j - 1] <= topKpa)
  })
  const least = Math.min(...reached, p.crankingAdvanceDeg)
  return { advanceLeastDeg: least - p.nitrousRetardDeg, advanceMostDeg: Math.max(...reached, p.crankingAdvanceDeg) }
}

/**
 * The numbers a display asks for, from a tune: advance and target lambda at idle, in cruise, at full load and in boost; curves at a usual
 * temperature; every parameter that is one number. Units are in the names.
 */
export function tuneFigures({ axes, tables, parameters: p }: TuneDocument, told: Told): TuneFigures {
  const r = resolveFacts(told)
  const idleRpm = idleTargetRpm(r)
  const cruise = [CRUISE_RPM_SHARE * r.redlineRpm, CRUISE_LOAD_SHARE * r.barometerKpa] as const
  const full = [Math.min(peakPowerRpm(r.camClass, r.redlineRpm), 0.8 * r.redlineRpm), FULL_LOAD * r.barometerKpa] as const
  const boostKpa = boostKpaOf(told.facts)
  const spark = (rpm: number, mapKpa: number) => bilinear(axes, tables.spark, rpm, mapKpa)
  const lambda = (rpm: number, mapKpa: number) => bilinear(axes, tables.lambdaTarget, rpm, mapKpa)
  const scalars = Object.fromEntries(
    (Object.keys(parameterSpecs) as (keyof TuneParameters)[]).flatMap((key) => (typeof p[key] === 'number' ? [[key, p[key]]] : [])),
  )
  return {
    ...scalars,
    advanceIdleDeg: spark(idleRpm, r.idleMapKpa),
    veIdlePct: bilinear(axes, tables.ve, idleRpm, r.idleMapKpa),
    advanceCruiseDeg: spark(...cruise),
    advanceFullDeg: spark(...full),
    ...sweptDeg(axes, tables.spark, p, r.redlineRpm, r.barometerKpa + boostKpa),
    ...(boostKpa > 0 ? { advanceBoostDeg: spark(full[0], r.barometerKpa + boostKpa) } : {}),
    lambdaIdle: lambda(idleRpm, r.idleMapKpa),
    lambdaCruise: lambda(...cruise),
    lambdaFull: lambda(...full),
    idleHotRpm: alongCurve(p.idleTargetRpm, WARM_C),
    idleColdRpm: alongCurve(p.idleTargetRpm, COLD_C),
    cranking20Pct: alongCurve(p.crankingPct, 20),
    crankingMinus10Pct: alongCurve(p.crankingPct, -10),
    warmup20Pct: alongCurve(p.warmupPct, 20),
    afterStart20Pct: alongCurve(p.afterStartPct, 20),
    idleValveHotPct: alongCurve(p.idleValvePct, WARM_C),
    deadTime14Ms: alongCurve(p.deadTimeMs, CHARGING_V),
  }
}
