import type { LogData } from '../../logfile/index.ts'
import type { TuneDocument } from '../../tune/index.ts'
import {
  ACCEL_MOST_PCT,
  HELD_S,
  HELD_SHARE,
  KNOWN_TO_PCT_S,
  LEAST_STEPS,
  MAP_APART_PCT,
  MOST_TIMES,
  RIGHT_PCT_S,
  STEP_OPENS_PCT,
  STEP_WARM_C,
  STEP_WITHIN_S,
  STILL_BEFORE_S,
  STILL_WITHIN_PCT,
} from './limits.ts'

type Log = Pick<LogData, 'timeS' | 'channels'>
/** One opening of a foot that was still before and held it after. */
export interface ThrottleStep {
  /** from the log's beginning, s */
  atS: number
  opensPct: number
  /** what the map lacks after it over what it lacked before, % */
  mapApartPct: number
  coolantC: number | null
  /** fuel that was missing over the step beyond what the map lacks before and after it, % times seconds; less than none: too much */
  missingPctS: number
  /** the same of its first part, and of the rest: lean first and rich then is fuel that lasts too long */
  firstPctS: number
  restPctS: number
  /** leanest that it got beyond what the map lacks, %, and when, s after the foot moved */
  peakPct: number
  peakAtS: number
  /** enrichment that was given, % times seconds; null: the log does not tell */
  givenPctS: number | null
}
export interface StepsJudged {
  /** warm ones, by which is judged */
  steps: ThrottleStep[]
  /** those of a cold engine, and those over which the map itself changes too much */
  coldSteps: number
  offMapSteps: number
  says: 'too-few' | 'map-first' | 'unsure' | 'right' | 'lean' | 'rich'
  missingPctS: number
  /** one standard error, %·s */
  errorPctS: number
  /** fuel for a step that is wanted over what was given; null: nothing to change, or not told what was given */
  times: number | null
  shape: 'even' | 'lean-then-rich' | 'rich-then-lean'
  /** mean of the steps, fuel missing beyond the map's, by time from the foot, for a drawing */
  curve: { atS: number; missingPct: number; givenPct: number | null }[]
}
const SETTLED_FROM_S = 1.6
/** The new place's own error is counted from here on: gas on its way, and the sensor. */
const ARRIVES_S = 0.25
/** Less than this between the two places tells no way from one to the other, kPa. */
const LEAST_RISE_KPA = 3
const FIRST_S = 0.6
const CURVE_STEP_S = 0.1
const CURVE_FROM_S = -0.5

const mean = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0) / list.length
/** Trapezium over rows by time, between two times; NaN rows are left out. */
function area(timeS: Float64Array, of: (i: number) => number, from: number, to: number): number {
  let sum = 0
  let last = -1
  for (let i = 0; i < timeS.length && timeS[i] <= to; i++) {
    if (timeS[i] < from || Number.isNaN(of(i))) continue
    if (last >= 0) sum += ((of(i) + of(last)) / 2) * (timeS[i] - timeS[last])
    last = i
  }
  return sum
}

/**
 * Fuel that the table lacks at a row, % of what is wanted: what lambda shows, without what the loop adds; NaN where nothing is read. In shares of fuel,
 * not of lambda: a pipe and a sensor mix charges by their fuel, so that a short lean spike keeps its area.
 */
function lacksIn({ lambda, lambdaTarget, correctionPct }: Log['channels']): ((row: number) => number) | null {
  if (!lambda) return null
  return (i) => 100 * (1 - (lambdaTarget?.[i] ?? 1) / lambda[i] / (1 + (correctionPct?.[i] ?? 0) / 100))
}

/** @returns openings of a still foot that were held, in order */
export function stepsIn({ timeS, channels }: Log, causeMapKpa?: Float32Array): ThrottleStep[] {
  const cause = (i: number): number => causeMapKpa?.[i] ?? NaN
  const { throttlePct: throttle, coolantC, enrichmentPct, fuelCut } = channels
  const lacks = lacksIn(channels)
  if (!throttle || !lacks) return []
  const rowsWithin = (from: number, to: number, around: number): number[] => {
    const rows: number[] = []
    let i = around
    while (i > 0 && timeS[i - 1] >= from) i--
    for (; i < timeS.length && timeS[i] <= to; i++) if (timeS[i] >= from) rows.push(i)
    return rows
  }
  const list: ThrottleStep[] = []
  for (let i = 1, end = 0; i < timeS.length; i++) {
    // the foot begins to move here
    if (!(throttle[i] - throttle[i - 1] > 0.5) || i < end) continue
    const at = timeS[i - 1]
    const still = rowsWithin(at - STILL_BEFORE_S, at, i)
    const from = throttle[i - 1]
    if (timeS[i - 1] - timeS[0] < STILL_BEFORE_S || still.length < 4) continue
    if (still.some((k) => Math.abs(throttle[k] - from) > STILL_WITHIN_PCT || (fuelCut?.[k] ?? 0) > 0)) continue
    const opened = Math.max(...rowsWithin(at, at + STEP_WITHIN_S, i).map((k) => throttle[k])) - from
    const after = rowsWithin(at + STEP_WITHIN_S, at + HELD_S, i)
    if (!(opened >= STEP_OPENS_PCT) || !after.length || timeS[after.at(-1)!] < at + HELD_S - STEP_WITHIN_S / 2) continue
    if (after.some((k) => throttle[k] - from < HELD_SHARE * opened || (fuelCut?.[k] ?? 0) > 0)) continue
    const settled = rowsWithin(at + SETTLED_FROM_S, at + HELD_S, i)
      .map(lacks)
      .filter(Number.isFinite)
    const steady = still.map(lacks).filter(Number.isFinite)
    if (!settled.length || !steady.length) continue
    const [before, then] = [mean(steady), mean(settled)]
    const mapBefore = mean(still.map(cause))
    const mapThen = mean(rowsWithin(at + SETTLED_FROM_S, at + HELD_S, i).map(cause))
    /** what the map lacks on the way from one place to the other, by the pressure that the gas at the sensor was burnt at */
    const way = (k: number): number => Math.min(1, Math.max(0, (cause(k) - mapBefore) / (mapThen - mapBefore)))
    const missing = (k: number): number =>
      lacks(k) - (before + (then - before) * (mapThen - mapBefore > LEAST_RISE_KPA ? way(k) : timeS[k] < at + ARRIVES_S ? 0 : 1))
    const rows = rowsWithin(at, at + SETTLED_FROM_S, i)
    const peak = rows.reduce((best, k) => (Math.abs(missing(k)) > Math.abs(missing(best)) ? k : best), rows[0])
    const part = (a: number, b: number, of: (k: number) => number): number => {
      const within = rowsWithin(at + a, at + b, i)
      return within.length ? area(timeS.subarray(within[0], within.at(-1)! + 1), (k) => of(within[0] + k), at + a, at + b) : 0
    }
    const given = enrichmentPct && ((k: number) => enrichmentPct[k] - enrichmentPct[still[0]])
    const [firstPctS, restPctS] = [part(0, FIRST_S, missing), part(FIRST_S, SETTLED_FROM_S, missing)]
    list.push({
      ...{
        atS: at - timeS[0],
        opensPct: opened,
        mapApartPct: then - before,
        coolantC: coolantC?.[i] ?? null,
        firstPctS,
        restPctS,
        missingPctS: firstPctS + restPctS,
      },
      ...{ peakPct: missing(peak), peakAtS: timeS[peak] - at, givenPctS: given ? part(0, SETTLED_FROM_S, given) : null },
    })
    end = after.at(-1)!
  }
  return list
}

/**
 * What the fuel for an opening throttle does (handbook 07): the lean or rich area of each step that a still foot made, over what the map lacks at both
 * ends of it. Fuel that goes into the film of the walls is missing in the charge; what is given for a step pays for it, so that the wanted is what was
 * given and what was missing.
 * @source Aquino, SAE 810494 (film of the walls): fuel stored by a step is a share of it, whatever its speed
 */
export function judgeSteps(log: Log, causeMapKpa?: Float32Array): StepsJudged {
  const all = stepsIn(log, causeMapKpa)
  const warm = all.filter((s) => s.coolantC === null || s.coolantC >= STEP_WARM_C)
  const steps = warm.filter((s) => Math.abs(s.mapApartPct) <= MAP_APART_PCT)
  const offMapSteps = warm.length - steps.length
  const n = steps.length
  const missingPctS = n ? mean(steps.map((s) => s.missingPctS)) : 0
  const errorPctS = n > 1 ? Math.sqrt(steps.reduce((sum, s) => sum + (s.missingPctS - missingPctS) ** 2, 0) / (n - 1) / n) : Infinity
  const given = steps.every((s) => s.givenPctS !== null) && n ? mean(steps.map((s) => s.givenPctS!)) : null
  const says =
    n < LEAST_STEPS
      ? warm.length < LEAST_STEPS
        ? 'too-few'
        : 'map-first'
      : Math.abs(missingPctS) <= RIGHT_PCT_S && errorPctS <= KNOWN_TO_PCT_S
        ? 'right'
        : errorPctS > KNOWN_TO_PCT_S && Math.abs(missingPctS) < 2 * errorPctS
          ? 'unsure'
          : missingPctS > 0
            ? 'lean'
            : 'rich'
  const [first, rest] = n ? [mean(steps.map((s) => s.firstPctS)), mean(steps.map((s) => s.restPctS))] : [0, 0]
  const wanted = given !== null && given > 0 ? (given + missingPctS) / given : null
  return {
    ...{ steps, coldSteps: all.length - warm.length, offMapSteps, says, missingPctS, errorPctS },
    times: (says === 'lean' || says === 'rich') && wanted !== null ? Math.min(MOST_TIMES, Math.max(1 / MOST_TIMES, wanted)) : null,
    shape:
      n < LEAST_STEPS || Math.min(Math.abs(first), Math.abs(rest)) < RIGHT_PCT_S || Math.sign(first) === Math.sign(rest)
        ? 'even'
        : first > 0
          ? 'lean-then-rich'
          : 'rich-then-lean',
    curve: n ? meanCurve(log, steps) : [],
  }
}
function meanCurve({ timeS, channels }: Log, steps: readonly ThrottleStep[]): StepsJudged['curve'] {
  const { enrichmentPct } = channels
  const lacks = lacksIn(channels)!
  const points = Math.round((HELD_S - CURVE_FROM_S) / CURVE_STEP_S)
  const sums = Array.from({ length: points }, () => ({ missing: 0, given: 0, n: 0 }))
  for (const { atS } of steps) {
    const at = timeS[0] + atS
    for (let i = 0; i < timeS.length && timeS[i] < at + HELD_S; i++) {
      const slot = sums[Math.floor((timeS[i] - at - CURVE_FROM_S) / CURVE_STEP_S)]
      const missing = lacks(i)
      if (!slot || Number.isNaN(missing)) continue
      slot.missing += missing
      slot.given += enrichmentPct?.[i] ?? 0
      slot.n++
    }
  }
  return sums.flatMap(({ missing, given, n }, k) =>
    n ? [{ atS: CURVE_FROM_S + (k + 0.5) * CURVE_STEP_S, missingPct: missing / n, givenPct: enrichmentPct ? given / n : null }] : [],
  )
}

/**
 * A tune with the fuel for a step multiplied, by throttle and by pressure alike, inside what a tune may hold.
 * @returns null when nothing changes
 */
export function applySteps(tune: TuneDocument, times: number, provenance: string): TuneDocument | null {
  const scaled = (key: 'accelPctPer100' | 'accelMapPctPer100'): number =>
    Math.round(Math.min(ACCEL_MOST_PCT, tune.parameters[key] * times) * 10) / 10
  const parameters = { ...tune.parameters, accelPctPer100: scaled('accelPctPer100'), accelMapPctPer100: scaled('accelMapPctPer100') }
  if (parameters.accelPctPer100 === tune.parameters.accelPctPer100 && parameters.accelMapPctPer100 === tune.parameters.accelMapPctPer100)
    return null
  return { ...tune, parameters, provenance: { ...tune.provenance, accelPctPer100: provenance, accelMapPctPer100: provenance } }
}
