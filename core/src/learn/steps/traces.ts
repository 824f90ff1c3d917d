import { type LogData, rowFrom } from '../../logfile/index.ts'
import {
  ARRIVES_S,
  HELD_S,
  HELD_SHARE,
  LEAST_RISE_KPA,
  LEAST_ROWS,
  MOVES_PCT,
  SETTLED_FROM_S,
  STEP_OPENS_PCT,
  STEP_WITHIN_S,
  STILL_BEFORE_S,
  STILL_WITHIN_PCT,
} from './limits.ts'

export type Log = Pick<LogData, 'timeS' | 'channels'>

export const mean = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0) / list.length
export const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0)

/** What a log holds of steps, row by row. */
export interface Traces {
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
export function tracesOf({ timeS, channels }: Log, causeMapKpa?: Float32Array): Traces | null {
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
export function rowsBetween(timeS: Float64Array, fromS: number, toS: number): number[] {
  const rows: number[] = []
  for (let i = rowFrom(timeS, fromS); i < timeS.length && timeS[i] <= toS; i++) rows.push(i)
  return rows
}
/** Area under what is read at rows, by the trapezium rule; rows without a reading are left out. */
export function area({ timeS }: Traces, rows: readonly number[], of: (row: number) => number): number {
  const read = rows.filter((k) => Number.isFinite(of(k)))
  return sum(read.slice(1).map((k, n) => ((of(k) + of(read[n])) / 2) * (timeS[k] - timeS[read[n]])))
}

/** A foot that begins to move at a row, still before and held after. */
export interface Opening {
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
/** Openings of a still foot that were held, in order: none begins inside another. */
export function openingsIn(t: Traces): Opening[] {
  const list: Opening[] = []
  for (let i = 1; i < t.timeS.length; i++) {
    const opening = openingAt(t, i)
    if (!opening) continue
    list.push(opening)
    i = opening.lastRow
  }
  return list
}
/**
 * A reading over an opening beyond what it is before and after it, and on the way between them: by the pressure that the gas was burnt at where that
 * rises, else at once when it has arrived.
 */
export function beyondMap(
  { timeS, cause }: Traces,
  { atS, still }: Opening,
  read: (row: number) => number,
): { beforePct: number; afterPct: number; of: (row: number) => number } {
  const then = rowsBetween(timeS, atS + SETTLED_FROM_S, atS + HELD_S)
  const [beforePct, afterPct] = [still, then].map((rows) => mean(rows.map(read).filter(Number.isFinite)))
  const [mapBefore, mapAfter] = [still, then].map((rows) => mean(rows.map(cause)))
  const way = (k: number): number =>
    mapAfter - mapBefore > LEAST_RISE_KPA
      ? Math.min(1, Math.max(0, (cause(k) - mapBefore) / (mapAfter - mapBefore)))
      : Number(timeS[k] >= atS + ARRIVES_S)
  return { beforePct, afterPct, of: (k) => read(k) - beforePct - (afterPct - beforePct) * way(k) }
}
