import { type LogData, usualStepS } from '../logfile/index.ts'
import { type Samples, USUAL_FLOW } from '../samples/index.ts'
import type { KnownTraces } from '../tune/index.ts'
import * as limits from './limits.ts'

/** What the traces of a log show besides the table: how late the sensors come, how the crank shakes. Left out where it cannot be told. */
export type Traces = KnownTraces
type Log = Pick<LogData, 'timeS' | 'channels'>

export const sorted = (values: readonly number[]): Float64Array => Float64Array.from(values).sort()
/** of so many values spread over a longer list: a million are sorted for nothing */
const MOST_SORTED = 20_000
export const quantile = (values: readonly number[], share: number): number => {
  const every = Math.ceil(values.length / MOST_SORTED)
  const some = sorted(every > 1 ? values.filter((_, k) => k % every === 0) : values)
  return some[Math.floor(share * (some.length - 1))]
}
export const median = (values: readonly number[]): number => quantile(values, 0.5)
export function rms(values: ArrayLike<number>): number {
  let sum = 0
  for (let i = 0; i < values.length; i++) sum += values[i] * values[i]
  return Math.sqrt(sum / values.length)
}

/** Speed that shakes at idle, or as it is driven where there is none; and jumps of lambda: their middle, and how heavy their tail is. */
function shakeOf({ timeS, channels }: Log, samples: Samples, stepS: number): Traces['shake'] {
  const { rpm, lambda, throttlePct, speedKmh } = channels
  if (stepS > limits.RIPPLE_STEP_S) return undefined
  const idle: number[] = []
  const driven: number[] = []
  const jumps: number[] = []
  for (let i = 2; i < timeS.length; i++) {
    if (samples.fate[i] !== 0 || samples.fate[i - 2] !== 0) continue
    const shake = Math.abs(rpm![i] - 2 * rpm![i - 1] + rpm![i - 2]) / Math.sqrt(6)
    if (shake !== shake) continue
    // a shut throttle in gear is no idle
    const idles =
      rpm![i] < limits.IDLES_UNDER_RPM &&
      !(throttlePct && throttlePct[i] >= limits.SHUT_PCT) &&
      !(speedKmh && speedKmh[i] > limits.STANDS_KMH)
    const list = idles ? idle : driven
    list.push(shake)
    const jump = Math.abs(lambda![i] - lambda![i - 1]) / lambda![i]
    if (jump === jump) jumps.push(jump)
  }
  const shakes = idle.length > LEAST_SHAKES ? idle : driven
  if (shakes.length < LEAST_SHAKES || jumps.length < LEAST_SHAKES) return undefined
  const jump = Math.max(1e-4, 1.4826 * median(jumps))
  return {
    // one row of a gear change or of a start counts for more than all of an idle: a cylinder that misses shakes oftener than that
    rpm: rms(sorted(shakes).subarray(0, Math.ceil(limits.SHAKE_KEPT * shakes.length))),
    jump,
    tail: rms(jumps) / jump,
  }
}
const LEAST_SHAKES = 100

/** Manifold pressure with the throttle shut at idle, as a share of the air outside. */
function shutShareOf({ timeS, channels }: Log, stepS: number, barometerKpa: number): number | undefined {
  const { throttlePct, mapKpa, rpm } = channels
  const shut: number[] = []
  for (let i = 0; i < timeS.length; i++)
    if (throttlePct![i] < limits.SHUT_PCT && rpm![i] > 500 && rpm![i] < 1300 && mapKpa![i] === mapKpa![i]) shut.push(mapKpa![i])
  return shut.length * stepS > 10 ? median(shut) / barometerKpa : undefined
}

/**
 * How late pressure follows the throttle, s: where the changes of both are most alike; null where the throttle hardly moves.
 * @source time delay by the peak of the cross-correlation: Ljung, System Identification, section 6.1
 */
function pressureLag(timeS: Float64Array, throttlePct: Float32Array, mapKpa: Float32Array, step: number): number | null {
  const n = timeS.length
  const over = Math.max(1, Math.round(limits.LAG_OVER_S / step))
  const most = Math.round(limits.MOST_MAP_LAG_S / step)
  const early = Math.round(limits.EARLY_MAP_S / step)
  const sums = new Float64Array(most + early + 1)
  let moved = 0
  for (let i = over; i < n - over; i++) {
    const foot = throttlePct[i + over] - throttlePct[i - over]
    // only what opens a nearly shut plate moves pressure at once
    if (!(Math.abs(foot) > limits.LAG_FOOT_PCT) || throttlePct[i - over] > limits.LAG_FROM_PCT) continue
    moved++
    for (let k = -early; k <= most; k++) {
      const a = i + k
      if (a - over < 0 || a + over >= n) continue
      const d = mapKpa[a + over] - mapKpa[a - over]
      if (d === d) sums[k + early] += foot * d
    }
  }
  if (moved * step < limits.LEAST_LAG_S) return null
  let top = 0
  for (let k = 1; k < sums.length; k++) if (sums[k] > sums[top]) top = k
  if (top === 0 || top === sums.length - 1) return null
  const [a, b, c] = [sums[top - 1], sums[top], sums[top + 1]]
  return (top - early + (a - c) / (2 * (a - 2 * b + c))) * step
}

/** Where the coolant of a long drive levels out, degC. */
function coolantHeldOf({ timeS, channels: { coolantC, rpm } }: Log): number | undefined {
  const n = timeS.length
  if (!coolantC || timeS[n - 1] <= limits.WARMED_AFTER_S) return undefined
  const late: number[] = []
  for (let i = 0; i < n; i++) if (timeS[i] > 0.6 * timeS[n - 1] && rpm![i] > 500 && coolantC[i] === coolantC[i]) late.push(coolantC[i])
  const levelled = late.length > 20 && quantile(late, 0.9) - quantile(late, 0.1) < limits.LEVELLED_K
  return levelled ? median(late) : undefined
}

/** What a log's traces show besides the table. */
export function tracesOf(log: Log, samples: Samples, barometerKpa: number): Traces {
  const { timeS, channels } = log
  const { delay } = samples
  const stepS = usualStepS(timeS)
  const { throttlePct, mapKpa } = channels
  const found: Traces = {
    delayS: delay.fitted ? delay.lagS + delay.pipe / USUAL_FLOW : undefined,
    pipe: delay.fitted ? delay.pipe : undefined,
    shake: shakeOf(log, samples, stepS),
    shutShare: throttlePct ? shutShareOf(log, stepS, barometerKpa) : undefined,
    coolantHeldC: coolantHeldOf(log),
    mapLagS: throttlePct && stepS <= limits.RIPPLE_STEP_S ? (pressureLag(timeS, throttlePct, mapKpa!, stepS) ?? undefined) : undefined,
  }
  return Object.fromEntries(Object.entries(found).filter(([, value]) => value !== undefined))
}
