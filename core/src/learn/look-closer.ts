import type { LogData } from '../logfile/index.ts'
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

/** What became of each of `width` slices of the time: what most of its rows came to. */
export function stretchFates({ fate }: Pick<Samples, 'fate'>, timeS: Float64Array, width: number): StretchFate[] {
  const kinds: StretchFate[] = ['used', 'cold', 'moving', 'cut', 'other']
  const counts = Array.from({ length: width }, () => new Uint32Array(kinds.length))
  const [from, span] = [timeS[0], timeS[timeS.length - 1] - timeS[0] || 1]
  for (let i = 0; i < fate.length; i++) {
    const slot = Math.min(width - 1, Math.floor(((timeS[i] - from) / span) * width))
    counts[slot][fate[i] === 0 ? 0 : kinds.indexOf(KIND_OF[excludedReasons[fate[i] - 1]])]++
  }
  return counts.map((c) => kinds[c.indexOf(Math.max(...c))])
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
