import { type LogData, usualStepS } from '../logfile/index.ts'
import {
  COAST_OVER_RPM,
  COMES_DOWN_S,
  HELD_PCT,
  IDLE_MAX_RPM,
  IDLE_MIN_RPM,
  IDLE_OVER_RPM,
  MIN_RUN_S,
  RESTS_WITHIN_PCT,
  STAYED_S,
  STICKS_PCT,
  WARM_C,
} from './limits.ts'

export type Log = Pick<LogData, 'timeS' | 'channels'>
/** Unbroken idle: rows from one to before the other. */
export interface Run {
  from: number
  to: number
  /** where the throttle rests in it, %; null: the log does not tell */
  restsAtPct: number | null
  warm: boolean
}
/** a swing is no longer than this, s: over so long the mean speed tells idle from coasting, whatever it swings */
const MEAN_OVER_S = 6
/** a mean that moves by this over that time is no idle's, rpm */
const FALLS_RPM = 100
/** rows of a swing lie within so many of its mean distances (a sine's amplitude is 1.57 of them, that of short dips twice as many) */
const SWINGS_WITHIN = 3

/** Mean over a time about each row; rows without a number are left out. */
function runningMean(timeS: Float64Array, values: Float32Array, overS: number): Float64Array {
  const out = new Float64Array(timeS.length)
  let [from, to, sum, count] = [0, 0, 0, 0]
  const add = (value: number, sign: 1 | -1) => {
    if (Number.isNaN(value)) return
    sum += sign * value
    count += sign
  }
  for (let i = 0; i < timeS.length; i++) {
    while (to < timeS.length && timeS[to] <= timeS[i] + overS / 2) add(values[to++], 1)
    while (timeS[from] < timeS[i] - overS / 2) add(values[from++], -1)
    out[i] = count > 0 ? sum / count : NaN
  }
  return out
}
/** The row so long after (1) or before (-1) another, by the usual step. */
function rowsIn(timeS: Float64Array, seconds: number): (i: number, way: 1 | -1) => number {
  const rows = Math.max(1, Math.round(seconds / Math.max(1e-3, usualStepS(timeS))))
  return (i, way) => Math.min(timeS.length - 1, Math.max(0, i + way * rows))
}
const quantile = (sorted: readonly number[], share: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]

/** Where the throttle rests, row by row: the level it stands still at, %; NaN where it moves or is held open. */
function rests(timeS: Float64Array, throttlePct: Float32Array | undefined): Float64Array | null {
  if (!throttlePct) return null
  const out = new Float64Array(timeS.length).fill(NaN)
  let from = 0
  let [low, high] = [Infinity, -Infinity]
  const close = (to: number) => {
    if (timeS[to - 1] - timeS[from] >= COMES_DOWN_S && high <= HELD_PCT) out.fill((low + high) / 2, from, to)
  }
  for (let i = 0; i < timeS.length; i++) {
    const value = throttlePct[i]
    if (Number.isNaN(value)) continue
    if (Math.max(high, value) - Math.min(low, value) > 2 * RESTS_WITHIN_PCT) {
      if (i > from) close(i)
      from = i
      low = high = value
    } else {
      low = Math.min(low, value)
      high = Math.max(high, value)
    }
  }
  if (timeS.length > from) close(timeS.length)
  return out
}

/**
 * The idles of a log: throttle at rest, engine turning as it does with nobody's foot on it, no fuel cut, the car standing; the first seconds of
 * coming down are left out. Speed may swing as far as it likes: its mean tells idle from rolling down in gear.
 */
export function idleRuns(log: Log, targetRpm?: number): Run[] {
  const { timeS, channels } = log
  const { rpm, coolantC, fuelCut, speedKmh } = channels
  if (!rpm || timeS.length < 4) return []
  const usual = usualStepS(timeS)
  const restsAt = rests(timeS, channels.throttlePct)
  const top = targetRpm ? Math.max(IDLE_MAX_RPM, targetRpm + IDLE_OVER_RPM) : IDLE_MAX_RPM
  const mean = runningMean(timeS, rpm, MEAN_OVER_S)
  // an idle so fast that the overrun cut comes in stays where it is; a car that rolls slows down
  const later = rowsIn(timeS, MEAN_OVER_S / 2)
  const falls = (i: number) => Math.abs(mean[later(i, 1)] - mean[later(i, -1)]) > FALLS_RPM
  const could = (i: number) =>
    mean[i] >= IDLE_MIN_RPM &&
    mean[i] <= top &&
    !(restsAt && Number.isNaN(restsAt[i])) &&
    !(fuelCut && fuelCut[i] >= 0.5 && falls(i)) &&
    !(speedKmh && speedKmh[i] > 2)
  const rows: number[] = []
  for (let i = 0; i < timeS.length; i++) if (could(i) && rpm[i] > 0) rows.push(i)
  if (rows.length === 0) return []
  const usualRpm = quantile(
    rows.map((i) => mean[i]).sort((a, b) => a - b),
    0.5,
  )
  const apart = runningMean(
    timeS,
    rpm.map((v, i) => Math.abs(v - mean[i])),
    MEAN_OVER_S,
  )
  const idles = (i: number) =>
    could(i) &&
    rpm[i] > 0 &&
    Math.abs(mean[i] - usualRpm) <= COAST_OVER_RPM &&
    Math.abs(rpm[i] - mean[i]) <= Math.max(COAST_OVER_RPM, SWINGS_WITHIN * apart[i])
  const warm = (i: number) => !coolantC || !(coolantC[i] < WARM_C)

  const found: Run[] = []
  let from = -1
  for (let i = 0; i <= timeS.length; i++) {
    // one unreadable cell does not end an idle
    const on = i < timeS.length && (idles(i) || (from >= 0 && Number.isNaN(rpm[i]) && i + 1 < timeS.length && idles(i + 1)))
    const broken =
      i > 0 &&
      i < timeS.length &&
      (timeS[i] - timeS[i - 1] > Math.max(0.5, 5 * usual) ||
        warm(i) !== warm(i - 1) ||
        (restsAt !== null && Math.abs(restsAt[i] - restsAt[i - 1]) > RESTS_WITHIN_PCT))
    if (from >= 0 && (!on || broken)) {
      found.push({ from, to: i, restsAtPct: restsAt ? restsAt[from] : null, warm: warm(from) })
      from = -1
    }
    if (on && from < 0) from = i
  }
  return leftAlone(
    timeS,
    found
      .map((run) => {
        let start = run.from
        while (start < run.to && timeS[start] - timeS[run.from] < COMES_DOWN_S) start++
        return { ...run, from: start }
      })
      .filter((run) => run.to - run.from > 3 && timeS[run.to - 1] - timeS[run.from] >= MIN_RUN_S),
  )
}

/** A throttle that stands above where it rests at other times is held by a foot, unless it never came back. */
function leftAlone(timeS: Float64Array, runs: readonly Run[]): Run[] {
  const levels = runs.flatMap((run) => (run.restsAtPct === null ? [] : [run.restsAtPct]))
  if (levels.length < 2) return [...runs]
  const rest = Math.min(...levels)
  const isLow = (run: Run) => run.restsAtPct === null || run.restsAtPct < rest + STICKS_PCT
  const last = runs.findLastIndex(isLow)
  const stayedS = runs.slice(last + 1).reduce((sum, run) => sum + timeS[run.to - 1] - timeS[run.from], 0)
  return runs.filter((run, i) => isLow(run) || (i > last && stayedS >= STAYED_S))
}
