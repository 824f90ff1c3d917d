import type { LogData } from '../../logfile/index.ts'
import { FELT_BACK_S, FELT_ON_S, OPENED_WITHIN_S } from './limits.ts'

/** What the instruments showed around a moment that somebody felt. */
export interface Moment {
  /** medians over it */
  rpm: number
  mapKpa: number | null
  advanceDegBtdc: number | null
  coolantC: number | null
  /** largest rise of the throttle in half a second, % */
  stepPct: number | null
  /** most over and under its target, lambda; null without a sensor */
  leanLambda: number | null
  richLambda: number | null
  /** how far the speed came and went about its own slope, rpm */
  hunts: number
}
/** A row of a live stream or of a log, as far as it matters here. */
export interface FeltRow {
  timeS: number
  rpm: number
  mapKpa: number | null
  throttlePct: number | null
  lambda: number | null
  lambdaTarget: number | null
  advanceDegBtdc: number | null
  coolantC: number | null
}
const median = (values: readonly number[]): number | null =>
  values.length ? values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)] : null
const told = (rows: readonly FeltRow[], of: (r: FeltRow) => number | null): number[] =>
  rows.map(of).filter((v): v is number => v !== null && Number.isFinite(v))

/** Half of the span of the speed about its own straight line: a car that gathers speed is not hunting. */
function hunting(rows: readonly FeltRow[]): number {
  const n = rows.length
  const [mt, mr] = [rows.reduce((s, r) => s + r.timeS, 0) / n, rows.reduce((s, r) => s + r.rpm, 0) / n]
  const tt = rows.reduce((s, r) => s + (r.timeS - mt) ** 2, 0)
  const slope = tt > 0 ? rows.reduce((s, r) => s + (r.timeS - mt) * (r.rpm - mr), 0) / tt : 0
  const off = rows.map((r) => r.rpm - mr - slope * (r.timeS - mt))
  return (Math.max(...off) - Math.min(...off)) / 2
}
function largestStep(rows: readonly FeltRow[]): number | null {
  const known = rows.filter((r) => r.throttlePct !== null && Number.isFinite(r.throttlePct))
  if (known.length < 2) return null
  let most = 0
  let from = 0
  known.forEach((r, i) => {
    while (r.timeS - known[from].timeS > OPENED_WITHIN_S) from++
    for (let k = from; k < i; k++) most = Math.max(most, r.throttlePct! - known[k].throttlePct!)
  })
  return most
}

/**
 * What was there around a moment: three seconds before the mark to one after it.
 * @returns null when nothing was read then
 */
export function momentOf(all: readonly FeltRow[], atS: number): Moment | null {
  const rows = all.filter((r) => r.timeS >= atS - FELT_BACK_S && r.timeS <= atS + FELT_ON_S && Number.isFinite(r.rpm))
  if (!rows.length) return null
  const off = rows.flatMap((r) => (r.lambda !== null && Number.isFinite(r.lambda) ? [r.lambda - (r.lambdaTarget ?? 1)] : []))
  return {
    rpm: median(rows.map((r) => r.rpm))!,
    mapKpa: median(told(rows, (r) => r.mapKpa)),
    advanceDegBtdc: median(told(rows, (r) => r.advanceDegBtdc)),
    coolantC: median(told(rows, (r) => r.coolantC)),
    stepPct: largestStep(rows),
    leanLambda: off.length ? Math.max(...off) : null,
    richLambda: off.length ? -Math.min(...off) : null,
    hunts: hunting(rows),
  }
}

const MARKS_APART_S = 1
const MOST_MARKS = 200
/** Moments that were marked while a log was taken, s on its clock: where its marker column rises. */
export function marksIn({ timeS, channels: { marker } }: Pick<LogData, 'timeS' | 'channels'>): number[] {
  const marks: number[] = []
  if (!marker) return marks
  for (let i = 0; i < timeS.length && marks.length < MOST_MARKS; i++)
    if (marker[i] > 0.5 && !(i > 0 && marker[i - 1] > 0.5) && timeS[i] - (marks.at(-1) ?? -Infinity) > MARKS_APART_S) marks.push(timeS[i])
  return marks
}
/** The same of a log. */
export function momentInLog({ timeS, channels }: Pick<LogData, 'timeS' | 'channels'>, atS: number): Moment | null {
  const rows: FeltRow[] = []
  const of = (channel: keyof typeof channels, i: number): number | null => {
    const v = channels[channel]?.[i]
    return v === undefined || !Number.isFinite(v) ? null : v
  }
  for (let i = 0; i < timeS.length; i++)
    if (timeS[i] >= atS - FELT_BACK_S && timeS[i] <= atS + FELT_ON_S && of('rpm', i) !== null)
      rows.push({
        timeS: timeS[i],
        rpm: of('rpm', i)!,
        mapKpa: of('mapKpa', i),
        throttlePct: of('throttlePct', i),
        lambda: of('lambda', i),
        lambdaTarget: of('lambdaTarget', i),
        advanceDegBtdc: of('advanceDegBtdc', i),
        coolantC: of('coolantC', i),
      })
  return momentOf(rows, atS)
}
