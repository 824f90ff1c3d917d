import { catches, type LeftRest } from '../../idle/index.ts'
import { judgeLength, type StepLength } from './length.ts'
import {
  FIRST_S,
  HELD_S,
  KNOWN_TO_PCT_S,
  LEAST_STEPS,
  MAP_APART_PCT,
  MOST_TIMES,
  RIGHT_PCT_S,
  SETTLED_FROM_S,
  STEP_WARM_C,
} from './limits.ts'
import { area, beyondMap, type Log, mean, type Opening, openingsIn, rowsBetween, sum, type Traces, tracesOf } from './traces.ts'

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
  /** how long it lasts; null: the log does not tell what was given, or the linkage comes first */
  length: StepLength | null
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

/** What was missing over an opening beyond what the map lacks at both ends of it, and on the way between them; null: nothing was read. */
function measured(t: Traces, opening: Opening): ThrottleStep | null {
  const { timeS, lacks, given } = t
  const { row, atS, opensPct, still } = opening
  const { beforePct, afterPct, of: missing } = beyondMap(t, opening, lacks)
  if (Number.isNaN(beforePct) || Number.isNaN(afterPct)) return null
  const [first, rest] = [rowsBetween(timeS, atS, atS + FIRST_S), rowsBetween(timeS, atS + FIRST_S, atS + SETTLED_FROM_S)]
  const peak = [...first, ...rest].reduce((best, k) => (Math.abs(missing(k)) > Math.abs(missing(best)) ? k : best))
  const [firstPctS, restPctS] = [first, rest].map((rows) => area(t, rows, missing))
  return {
    atS: atS - timeS[0],
    opensPct,
    mapApartPct: afterPct - beforePct,
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
  return t ? openingsIn(t).flatMap((opening) => measured(t, opening) ?? []) : []
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
 * @param decayS time constant by which the tune that was driven lets it decay, s; null: no tune is known
 * @source Aquino, SAE 810494 (film of the walls): fuel stored by a step is a share of it, whatever its speed
 */
export function judgeSteps(log: Log, decayS: number | null, causeMapKpa?: Float32Array): StepsJudged {
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
    length: caught || decayS === null ? null : judgeLength(log, decayS, causeMapKpa),
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
