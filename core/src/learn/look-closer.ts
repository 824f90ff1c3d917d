import { type LogData, rowFrom } from '../logfile/index.ts'
import { defaultLimits, excludedReasons, judgeSamples, type Samples } from '../samples/index.ts'
import { place, runnerShare } from '../tune/index.ts'
import { type LearnSetup, lambdaTargetOf } from './setup.ts'

type Log = Pick<LogData, 'timeS' | 'channels'>
/** What became of a stretch of a log, in the words of the strip: used, or the kind of reason that most of its rows were left out for. */
export type StretchFate = 'used' | 'cold' | 'moving' | 'cut' | 'other'

const KIND_OF: Readonly<Record<(typeof excludedReasons)[number], Exclude<StretchFate, 'used'>>> = {
  unreadable: 'other',
  cranking: 'other',
  'fuel-cut': 'cut',
  'after-fuel-cut': 'cut',
  'cold-engine': 'cold',
  battery: 'other',
  'sensor-range': 'other',
  'after-start': 'cold',
  gap: 'other',
  'transient-map': 'moving',
  'transient-speed': 'moving',
  'off-grid': 'other',
}

/** Rows of a log judged as its solve judges them. @throws CoreError COLUMN_MISSING */
export function judgedRows(log: Log, { coolantMinC, target }: Pick<LearnSetup, 'coolantMinC' | 'target'>): Samples {
  return judgeSamples(log, { ...defaultLimits, coolantMinC }, lambdaTargetOf({ target }))
}

const KINDS: readonly StretchFate[] = ['used', 'cold', 'moving', 'cut', 'other']
/** by a row's fate: 0 used, else its reason by number from 1 */
const KIND_OF_FATE = Uint8Array.from([0, ...excludedReasons.map((reason) => KINDS.indexOf(KIND_OF[reason]))])

/** What became of each of `width` slices of a window of time, the whole log where none is said: what most of its rows came to; null: a slice without rows. */
export function stretchFates(
  { fate }: Pick<Samples, 'fate'>,
  timeS: Float64Array,
  width: number,
  fromS = timeS[0],
  toS = timeS[timeS.length - 1],
): (StretchFate | null)[] {
  const counts = Array.from({ length: width }, () => new Uint32Array(KINDS.length))
  const span = toS - fromS || 1
  for (let i = rowFrom(timeS, fromS); i < fate.length && timeS[i] <= toS; i++)
    counts[Math.min(width - 1, Math.floor(((timeS[i] - fromS) / span) * width))][KIND_OF_FATE[fate[i]]]++
  return counts.map((c) => (c.some((n) => n > 0) ? KINDS[c.indexOf(Math.max(...c))] : null))
}

/** One row of a log: its readings, what became of it, and the fuel it still wanted where it was used. */
export interface LogRow {
  /** from the log's beginning */
  atS: number
  values: Record<string, number>
  fate: StretchFate
  errorPct: number | null
}
/**
 * The row next to a moment, s from the log's beginning.
 * @param step so many rows after it, before it where negative; the first and the last row are never passed
 */
export function logRow(log: Log, { fate, error }: Pick<Samples, 'fate' | 'error'>, atS: number, step = 0): LogRow {
  const { timeS } = log
  const wanted = timeS[0] + atS
  const after = Math.min(timeS.length - 1, rowFrom(timeS, wanted))
  const next = after > 0 && wanted - timeS[after - 1] < timeS[after] - wanted ? after - 1 : after
  const row = Math.min(timeS.length - 1, Math.max(0, next + step))
  return {
    atS: timeS[row] - timeS[0],
    values: Object.fromEntries(Object.entries(log.channels).map(([id, v]) => [id, v[row]])),
    fate: KINDS[KIND_OF_FATE[fate[row]]],
    errorPct: fate[row] === 0 ? 100 * error[row] : null,
  }
}

/** The readings that one cell was solved from. */
export interface CellReadings {
  /** used seconds, by share */
  seconds: number
  lambda: number
  target: number
  /** readings lie so far from their mean, one sigma, % */
  spreadPct: number
  /** fuel that each still wanted, %, in the order of time; thinned to what can be drawn */
  points: { timeS: number; errorPct: number }[]
}
/** A reading counts for a cell from this share of its four on. */
const OWN_SHARE = 0.25
const MOST_POINTS = 300

/** What was read at one cell: the used rows that have a good part of their weight there. null: none. */
export function cellReadings(
  log: Log,
  samples: Samples,
  { axes, runner }: Pick<LearnSetup, 'axes' | 'runner'>,
  { i, j, by }: { i: number; j: number; by: 'pressure' | 'throttle' },
): CellReadings | null {
  const loads = by === 'throttle' && runner ? runner.throttlePct : axes.mapKpa
  const load = by === 'throttle' ? samples.causeThrottlePct : samples.causeMapKpa
  if (!load) return null
  const near = (axis: readonly number[], k: number, value: number): number => {
    const { index, fraction } = place(axis, value)
    return k === index ? 1 - fraction : k === index + 1 ? fraction : 0
  }
  const rows: number[] = []
  let [seconds, lambda, target, sum, square, weight] = [0, 0, 0, 0, 0, 0]
  for (let row = 0; row < samples.fate.length; row++) {
    if (samples.fate[row] !== 0) continue
    const share = near(axes.rpm, i, samples.causeRpm[row]) * near(loads, j, load[row])
    if (share <= 0) continue
    const ofTable = runner ? runnerShare(runner, samples.causeThrottlePct?.[row] ?? 0) : 0
    const w = share * samples.stepS[row] * (by === 'throttle' ? ofTable : 1 - ofTable)
    seconds += w
    if (share < OWN_SHARE || w <= 0) continue
    rows.push(row)
    weight += w
    lambda += w * log.channels.lambda![row]
    target += w * (log.channels.lambda![row] - samples.overTarget[row])
    sum += w * samples.error[row]
    square += w * samples.error[row] ** 2
  }
  if (!rows.length) return null
  const every = Math.max(1, Math.ceil(rows.length / MOST_POINTS))
  return {
    seconds,
    lambda: lambda / weight,
    target: target / weight,
    spreadPct: 100 * Math.sqrt(Math.max(0, square / weight - (sum / weight) ** 2)),
    points: rows.filter((_, k) => k % every === 0).map((row) => ({ timeS: log.timeS[row], errorPct: 100 * samples.error[row] })),
  }
}

/** What every used row wanted, over one of its readings: shows what a table cannot, such as fuel that goes with the pulse or the air. */
export interface Scatter {
  /** thinned to what can be drawn */
  points: { x: number; errorPct: number }[]
  /** means of as many rows each, in the order of x */
  means: { x: number; errorPct: number }[]
}
/** Readings that a scatter can be laid over. */
export const scatterOver = ['pulseMs', 'rpm', 'mapKpa', 'intakeAirC', 'coolantC', 'batteryV', 'throttlePct'] as const
export type ScatterOver = (typeof scatterOver)[number]
const SCATTER_POINTS = 900
const SCATTER_MEANS = 12

/** @returns null when the log does not tell that reading, or no row was used */
export function scatterOf(log: Log, { fate, error }: Pick<Samples, 'fate' | 'error'>, over: ScatterOver): Scatter | null {
  const values = log.channels[over]
  if (!values) return null
  const rows: { x: number; errorPct: number }[] = []
  for (let i = 0; i < fate.length; i++)
    if (fate[i] === 0 && Number.isFinite(values[i])) rows.push({ x: values[i], errorPct: 100 * error[i] })
  if (!rows.length) return null
  const every = Math.max(1, Math.ceil(rows.length / SCATTER_POINTS))
  const points = rows.filter((_, k) => k % every === 0)
  rows.sort((a, b) => a.x - b.x)
  const each = Math.ceil(rows.length / SCATTER_MEANS)
  const means = Array.from({ length: Math.ceil(rows.length / each) }, (_, m) => {
    const part = rows.slice(m * each, (m + 1) * each)
    const mean = (of: (r: (typeof part)[number]) => number) => part.reduce((sum, r) => sum + of(r), 0) / part.length
    return { x: mean((r) => r.x), errorPct: mean((r) => r.errorPct) }
  })
  return { points, means }
}
