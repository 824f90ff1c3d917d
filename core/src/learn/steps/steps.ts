import { catches, type LeftRest } from '../../idle/index.ts'
import { type LogData, rowFrom } from '../../logfile/index.ts'
import { accelColdShare, type TuneDocument } from '../../tune/index.ts'
import {
  ACCEL_MOST_PCT,
  ARRIVES_S,
  FIRST_S,
  HELD_S,
  HELD_SHARE,
  KNOWN_TO_PCT_S,
  LEAST_COLD_SHARE,
  LEAST_RISE_KPA,
  LEAST_ROWS,
  LEAST_STEPS,
  MAP_APART_PCT,
  MOST_COLD_FACTOR,
  MOST_TIMES,
  MOVES_PCT,
  RIGHT_PCT_S,
  SETTLED_FROM_S,
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
/** A linkage that catches and a map that is off come before the fuel of a step. */
type StepsSay = 'linkage-first' | 'too-few' | 'map-first' | 'unsure' | 'right' | 'lean' | 'rich'
/** Openings of an engine that is not warm: the tune gives them so many times as much. */
export interface ColdSteps {
  steps: number
  /** coolant over them on the mean, degC */
  coolantC: number
  missingPctS: number
  errorPctS: number
  says: StepsSay
  /** as for warm ones */
  times: number | null
}
export interface StepsJudged {
  /** warm ones, by which is judged */
  steps: ThrottleStep[]
  cold: ColdSteps
  /** those over which the map itself changes too much */
  offMapSteps: number
  /** how the throttle catches; null: it does not, or the log does not tell */
  catches: LeftRest | null
  says: StepsSay
  missingPctS: number
  /** one standard error, %·s */
  errorPctS: number
  /** fuel for a step that is wanted over what was given; null: nothing to change, or not told what was given */
  times: number | null
  shape: 'even' | 'lean-then-rich' | 'rich-then-lean'
  /** mean of the steps, fuel missing beyond the map's, by time from the foot, for a drawing */
  curve: { atS: number; missingPct: number; givenPct: number | null }[]
}
const CURVE_STEP_S = 0.1
const CURVE_FROM_S = -0.5

const mean = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0) / list.length
const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0)

/** What a log holds of steps, row by row. */
interface Traces {
  timeS: Float64Array
  throttle: Float32Array
  /**
   * fuel that the table lacks, % of what is wanted: what lambda shows, without what the loop adds; NaN where nothing is read. In shares of fuel, not of
   * lambda: a pipe and a sensor mix charges by their fuel, so that a short lean spike keeps its area
   */
  lacks: (row: number) => number
  /** pressure that the gas at the sensor was burnt at; NaN where it is not known */
  cause: (row: number) => number
  given: Float32Array | undefined
  coolantC: Float32Array | undefined
  cut: (row: number) => boolean
}
function tracesOf({ timeS, channels }: Log, causeMapKpa?: Float32Array): Traces | null {
  const { throttlePct, lambda, lambdaTarget, correctionPct, enrichmentPct, coolantC, fuelCut } = channels
  if (!throttlePct || !lambda) return null
  return {
    timeS,
    throttle: throttlePct,
    lacks: (i) => 100 * (1 - (lambdaTarget?.[i] ?? 1) / lambda[i] / (1 + (correctionPct?.[i] ?? 0) / 100)),
    cause: (i) => causeMapKpa?.[i] ?? NaN,
    given: enrichmentPct,
    coolantC,
    cut: (i) => (fuelCut?.[i] ?? 0) > 0,
  }
}
function rowsBetween(timeS: Float64Array, fromS: number, toS: number): number[] {
  const rows: number[] = []
  for (let i = rowFrom(timeS, fromS); i < timeS.length && timeS[i] <= toS; i++) rows.push(i)
  return rows
}
/** Area under what is read at rows, by the trapezium rule; rows without a reading are left out. */
function area({ timeS }: Traces, rows: readonly number[], of: (row: number) => number): number {
  const read = rows.filter((k) => Number.isFinite(of(k)))
  return sum(read.slice(1).map((k, n) => ((of(k) + of(read[n])) / 2) * (timeS[k] - timeS[read[n]])))
}

/** A foot that begins to move at a row, still before and held after. */
interface Opening {
  row: number
  atS: number
  opensPct: number
  still: number[]
  lastRow: number
}
function openingAt(t: Traces, i: number): Opening | null {
  const { timeS, throttle, cut } = t
  const [atS, from] = [timeS[i - 1], throttle[i - 1]]
  if (!(throttle[i] - from > MOVES_PCT) || atS - timeS[0] < STILL_BEFORE_S) return null
  const still = rowsBetween(timeS, atS - STILL_BEFORE_S, atS)
  if (still.length < LEAST_ROWS || still.some((k) => Math.abs(throttle[k] - from) > STILL_WITHIN_PCT || cut(k))) return null
  const opensPct = Math.max(...rowsBetween(timeS, atS, atS + STEP_WITHIN_S).map((k) => throttle[k])) - from
  const held = rowsBetween(timeS, atS + STEP_WITHIN_S, atS + HELD_S)
  if (!(opensPct >= STEP_OPENS_PCT) || held.length < LEAST_ROWS || timeS[held.at(-1)!] < atS + HELD_S - STEP_WITHIN_S / 2) return null
  if (held.some((k) => throttle[k] - from < HELD_SHARE * opensPct || cut(k))) return null
  return { row: i, atS, opensPct, still, lastRow: held.at(-1)! }
}
/** What was missing over an opening beyond what the map lacks at both ends of it, and on the way between them; null: nothing was read. */
function measured(t: Traces, { row, atS, opensPct, still }: Opening): ThrottleStep | null {
  const { timeS, lacks, cause, given } = t
  const then = rowsBetween(timeS, atS + SETTLED_FROM_S, atS + HELD_S)
  const [before, after] = [still, then].map((rows) => mean(rows.map(lacks).filter(Number.isFinite)))
  if (Number.isNaN(before) || Number.isNaN(after)) return null
  const [mapBefore, mapAfter] = [still, then].map((rows) => mean(rows.map(cause)))
  const way = (k: number): number =>
    mapAfter - mapBefore > LEAST_RISE_KPA
      ? Math.min(1, Math.max(0, (cause(k) - mapBefore) / (mapAfter - mapBefore)))
      : Number(timeS[k] >= atS + ARRIVES_S)
  const missing = (k: number): number => lacks(k) - before - (after - before) * way(k)
  const [first, rest] = [rowsBetween(timeS, atS, atS + FIRST_S), rowsBetween(timeS, atS + FIRST_S, atS + SETTLED_FROM_S)]
  const peak = [...first, ...rest].reduce((best, k) => (Math.abs(missing(k)) > Math.abs(missing(best)) ? k : best))
  const [firstPctS, restPctS] = [first, rest].map((rows) => area(t, rows, missing))
  return {
    atS: atS - timeS[0],
    opensPct,
    mapApartPct: after - before,
    coolantC: t.coolantC?.[row] ?? null,
    missingPctS: firstPctS + restPctS,
    firstPctS,
    restPctS,
    peakPct: missing(peak),
    peakAtS: timeS[peak] - atS,
    givenPctS: given ? area(t, rowsBetween(timeS, atS, atS + SETTLED_FROM_S), (k) => given[k] - given[still[0]]) : null,
  }
}

/** @returns openings of a still foot that were held, in order */
export function stepsIn(log: Log, causeMapKpa?: Float32Array): ThrottleStep[] {
  const t = tracesOf(log, causeMapKpa)
  const list: ThrottleStep[] = []
  for (let i = 1; t && i < t.timeS.length; i++) {
    const opening = openingAt(t, i)
    const step = opening && measured(t, opening)
    if (!step) continue
    list.push(step)
    i = opening.lastRow
  }
  return list
}

function saidOf(missingPctS: number, errorPctS: number): 'right' | 'unsure' | 'lean' | 'rich' {
  const known = errorPctS <= KNOWN_TO_PCT_S
  if (known && Math.abs(missingPctS) <= RIGHT_PCT_S) return 'right'
  if (!known && Math.abs(missingPctS) < 2 * errorPctS) return 'unsure'
  return missingPctS > 0 ? 'lean' : 'rich'
}
/** What some steps tell together. @param seen with those over which the map itself changes too much */
function toldBy(steps: readonly ThrottleStep[], seen: number): Omit<ColdSteps, 'steps' | 'coolantC'> {
  const n = steps.length
  const missingPctS = n ? mean(steps.map((s) => s.missingPctS)) : 0
  const errorPctS = n > 1 ? Math.sqrt(sum(steps.map((s) => (s.missingPctS - missingPctS) ** 2)) / (n - 1) / n) : Infinity
  const says = n >= LEAST_STEPS ? saidOf(missingPctS, errorPctS) : seen < LEAST_STEPS ? 'too-few' : 'map-first'
  const given = n && steps.every((s) => s.givenPctS !== null) ? mean(steps.map((s) => s.givenPctS!)) : null
  const wanted = given !== null && given > 0 ? (given + missingPctS) / given : null
  const times = (says === 'lean' || says === 'rich') && wanted !== null ? Math.min(MOST_TIMES, Math.max(1 / MOST_TIMES, wanted)) : null
  return { missingPctS, errorPctS, says, times }
}
function shapeOf(firstPctS: number, restPctS: number): StepsJudged['shape'] {
  if (Math.min(Math.abs(firstPctS), Math.abs(restPctS)) < RIGHT_PCT_S || Math.sign(firstPctS) === Math.sign(restPctS)) return 'even'
  return firstPctS > 0 ? 'lean-then-rich' : 'rich-then-lean'
}

/**
 * What the fuel for an opening throttle does (handbook 07): the lean or rich area of each step that a still foot made, over what the map lacks at both
 * ends of it. Fuel that goes into the film of the walls is missing in the charge; what is given for a step pays for it, so that the wanted is what was
 * given and what was missing.
 * @source Aquino, SAE 810494 (film of the walls): fuel stored by a step is a share of it, whatever its speed
 */
export function judgeSteps(log: Log, causeMapKpa?: Float32Array): StepsJudged {
  const all = stepsIn(log, causeMapKpa)
  const isWarm = (s: ThrottleStep): boolean => s.coolantC === null || s.coolantC >= STEP_WARM_C
  const onMap = (s: ThrottleStep): boolean => Math.abs(s.mapApartPct) <= MAP_APART_PCT
  const warm = all.filter(isWarm)
  const steps = warm.filter(onMap)
  const offMapSteps = warm.length - steps.length
  const n = steps.length
  const { missingPctS, errorPctS, times, says } = toldBy(steps, warm.length)
  const allCold = all.filter((s) => !isWarm(s))
  const coldOnes = allCold.filter(onMap)
  const caught = catches(log)
  // steps of a plate that jumps are not the foot's
  const linkage = caught ? { says: 'linkage-first' as const, times: null } : {}
  const [first, rest] = n ? [mean(steps.map((s) => s.firstPctS)), mean(steps.map((s) => s.restPctS))] : [0, 0]
  return {
    ...{ steps, offMapSteps, catches: caught, says, missingPctS, errorPctS, times, ...linkage },
    cold: {
      steps: coldOnes.length,
      coolantC: coldOnes.length ? mean(coldOnes.map((s) => s.coolantC!)) : NaN,
      ...toldBy(coldOnes, allCold.length),
      ...linkage,
    },
    shape: n < LEAST_STEPS ? 'even' : shapeOf(first, rest),
    curve: n ? meanCurve(log, steps) : [],
  }
}
function meanCurve(log: Log, steps: readonly ThrottleStep[]): StepsJudged['curve'] {
  const t = tracesOf(log)!
  const slots = Array.from({ length: Math.round((HELD_S - CURVE_FROM_S) / CURVE_STEP_S) }, () => [] as number[])
  for (const { atS } of steps) {
    const at = t.timeS[0] + atS
    for (const k of rowsBetween(t.timeS, at + CURVE_FROM_S, at + HELD_S))
      if (Number.isFinite(t.lacks(k))) slots[Math.floor((t.timeS[k] - at - CURVE_FROM_S) / CURVE_STEP_S)]?.push(k)
  }
  return slots.flatMap((rows, k) =>
    rows.length
      ? [
          {
            atS: CURVE_FROM_S + (k + 0.5) * CURVE_STEP_S,
            missingPct: mean(rows.map(t.lacks)),
            givenPct: t.given ? mean(rows.map((r) => t.given![r])) : null,
          },
        ]
      : [],
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

/**
 * A tune whose factor of a cold engine gives its steps as many times more as `cold` wants, at the coolant that they were taken at.
 * @returns null when nothing changes, or it was too warm for the factor to tell
 */
export function applyColdSteps(
  tune: TuneDocument,
  { times, coolantC }: Pick<ColdSteps, 'times' | 'coolantC'>,
  provenance: string,
): TuneDocument | null {
  const share = accelColdShare(coolantC)
  if (times === null || !(share >= LEAST_COLD_SHARE)) return null
  const stands = tune.parameters.accelColdFactor
  const given = 1 + (stands - 1) * share
  const wanted = 1 + (given * times - 1) / share
  const accelColdFactor = Math.round(20 * Math.min(MOST_COLD_FACTOR, Math.max(1, wanted))) / 20
  if (accelColdFactor === stands) return null
  return { ...tune, parameters: { ...tune.parameters, accelColdFactor }, provenance: { ...tune.provenance, accelColdFactor: provenance } }
}
