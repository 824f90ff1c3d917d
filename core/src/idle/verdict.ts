import { z } from 'zod'
import { CoreError } from '../kernel/index.ts'
import { type LogData, usualStepS } from '../logfile/index.ts'
import {
  COAST_OVER_RPM,
  HUNT_RPM,
  HUNT_SHARE,
  IDLE_MAX_RPM,
  IDLE_MIN_RPM,
  MAX_STEP_S,
  MIN_RUN_S,
  MIN_TOTAL_S,
  VALVE_SHUT_PCT,
  WARM_C,
} from './limits.ts'
import { peak, welch } from './spectrum.ts'

export const IdleVerdictCode = z.enum([
  'good',
  'high-valve-shut',
  'low-valve-wide',
  'hunting-valve',
  'hunting-mixture',
  'rich',
  'lean',
  'misfire',
  'loop-fooled',
  'not-enough-data',
])
export const IdleVerdict = z.object({
  verdict: IdleVerdictCode,
  meanRpm: z.number().nullable(),
  rpmStdDev: z.number().nullable(),
  periodS: z.number().nullable().describe('dominant period of engine speed; null when there is none'),
  amplitudeRpm: z.number().nullable().describe('half of peak to peak of the dominant swing'),
  valveMeanPct: z.number().nullable(),
  lambdaMean: z.number().nullable(),
  correctionMeanPct: z.number().nullable(),
  seconds: z.number(),
  next: z.string(),
})
export type IdleVerdict = z.infer<typeof IdleVerdict>

export interface IdleOptions {
  targetRpm?: number
  /** correction the loop may make, %; found from the log when left out */
  authorityPct?: number
}

const SEGMENT_S = 10
const LONG_SEGMENT_S = 20
const MAX_HZ = 3

interface Run {
  from: number
  to: number
}

/** Unbroken warm idle: throttle shut, engine turning at idle speed, no fuel cut; the first 3 s after coming down are left out. */
function idleRuns(log: Pick<LogData, 'timeS' | 'channels'>, targetRpm?: number): Run[] {
  const { timeS, channels } = log
  const { rpm, throttlePct, coolantC, fuelCut, speedKmh } = channels
  const usual = usualStepS(timeS)
  const top = targetRpm ? Math.max(IDLE_MAX_RPM, targetRpm * 1.7) : IDLE_MAX_RPM
  const could = (i: number) =>
    rpm![i] >= IDLE_MIN_RPM &&
    rpm![i] <= top &&
    (!throttlePct || throttlePct[i] <= VALVE_SHUT_PCT) &&
    (!coolantC || coolantC[i] >= WARM_C) &&
    !(fuelCut && fuelCut[i] >= 0.5) &&
    !(speedKmh && speedKmh[i] > 2)
  // rolling in gear with the throttle shut looks like idle but for its speed: rows far over the usual shut-throttle speed are coasting
  const speeds: number[] = []
  for (let i = 0; i < timeS.length; i++) if (could(i)) speeds.push(rpm![i])
  speeds.sort((a, b) => a - b)
  const usualRpm = speeds[speeds.length >> 1]
  const idles = (i: number) => could(i) && Math.abs(rpm![i] - usualRpm) <= COAST_OVER_RPM
  const runs: Run[] = []
  let from = -1
  for (let i = 0; i <= timeS.length; i++) {
    // one unreadable cell does not end an idle
    const on = i < timeS.length && (idles(i) || (from >= 0 && Number.isNaN(rpm![i]) && i + 1 < timeS.length && idles(i + 1)))
    const broken = i > 0 && i < timeS.length && timeS[i] - timeS[i - 1] > Math.max(0.5, 5 * usual)
    if (from >= 0 && (!on || broken)) {
      runs.push({ from, to: i })
      from = -1
    }
    if (on && from < 0) from = i
  }
  return runs
    .map((run) => {
      let start = run.from
      while (start < run.to && timeS[start] - timeS[run.from] < 3) start++
      return { from: start, to: run.to }
    })
    .filter((run) => run.to - run.from > 3 && timeS[run.to - 1] - timeS[run.from] >= MIN_RUN_S)
}

/** A channel over a run, evenly spaced by straight lines between readings. */
function even(timeS: Float64Array, values: Float32Array, run: Run, stepS: number): Float64Array {
  const n = Math.floor((timeS[run.to - 1] - timeS[run.from]) / stepS)
  const out = new Float64Array(n)
  let k = run.from
  let last = NaN
  for (let i = run.from; i < run.to && Number.isNaN(last); i++) last = values[i]
  for (let i = 0; i < n; i++) {
    const t = timeS[run.from] + i * stepS
    while (k + 1 < run.to && timeS[k + 1] <= t) k++
    const a = values[k]
    const b = values[Math.min(run.to - 1, k + 1)]
    const span = timeS[Math.min(run.to - 1, k + 1)] - timeS[k]
    const value = Number.isNaN(a) || Number.isNaN(b) ? (Number.isNaN(a) ? last : a) : span > 0 ? a + ((b - a) * (t - timeS[k])) / span : a
    out[i] = Number.isNaN(value) ? last : value
    last = out[i]
  }
  return out
}

const flat = (runs: Float64Array[]): number[] => runs.flatMap((run) => Array.from(run))
const mean = (values: number[]): number => values.reduce((a, b) => a + b, 0) / values.length
const deviation = (values: number[]): number => {
  const m = mean(values)
  return Math.sqrt(mean(values.map((v) => (v - m) ** 2)))
}
/** Amplitude of a sine that has the power found near the peak: half of peak to peak. */
const amplitudeOf = (runs: Float64Array[], share: number): number => {
  const around = runs.flatMap((run) => {
    const m = mean(Array.from(run))
    return Array.from(run, (v) => v - m)
  })
  return deviation(around) * Math.sqrt(2 * share)
}

/** What an idle measures, worked out once; each cause looks at what it needs. */
interface IdleMeasures {
  meanRpm: number
  rpmStdDev: number
  /** dominant swing, when it is one */
  swing: { amplitudeRpm: number; periodS: number; withMixture: number | null; valvePct: number | null } | null
  valveMeanPct: number | null
  lambdaMean: number | null
  leanBy: number | null
  correctionMeanPct: number | null
  authorityPct: number
  /** share of the time that the loop adds all it may */
  saturatedShare: number
  mapStdDevKpa: number | null
  targetRpm: number | undefined
}
type Traces = Float64Array[]

function measureIdle(log: Pick<LogData, 'timeS' | 'channels'>, runs: Run[], options: IdleOptions): IdleMeasures {
  const { timeS, channels } = log
  const stepS = Math.max(0.02, usualStepS(timeS))
  const trace = (values: Float32Array | undefined) => (values ? runs.map((run) => even(timeS, values, run, stepS)) : null)
  const rpm = trace(channels.rpm)!
  const lambda = trace(channels.lambda)
  const correction = trace(channels.correctionPct)
  const map = trace(channels.mapKpa)
  const meanOf = (traces: Traces | null) => (traces ? mean(flat(traces)) : null)
  const rpmStdDev = deviation(flat(rpm))
  const lambdaMean = meanOf(lambda)
  const targetMean = meanOf(trace(channels.lambdaTarget))
  const authorityPct = options.authorityPct ?? largest(channels.correctionPct)
  const corrections = correction ? flat(correction) : []
  return {
    meanRpm: meanOf(rpm)!,
    rpmStdDev,
    swing: swingOf(rpm, lambda, trace(channels.idleValvePct), rpmStdDev, stepS, segmentFor(runs, timeS)),
    valveMeanPct: meanOf(trace(channels.idleValvePct)),
    lambdaMean,
    leanBy: lambdaMean === null ? null : lambdaMean - (targetMean ?? 1),
    correctionMeanPct: meanOf(correction),
    authorityPct,
    saturatedShare: corrections.length ? corrections.filter((v) => v > authorityPct - 0.5).length / corrections.length : 0,
    mapStdDevKpa: map ? deviation(flat(map)) : null,
    targetRpm: options.targetRpm,
  }
}
const segmentFor = (runs: Run[], timeS: Float64Array): number =>
  runs.some((run) => timeS[run.to - 1] - timeS[run.from] >= LONG_SEGMENT_S + 1) ? LONG_SEGMENT_S : SEGMENT_S

/** The dominant swing of the speed, and how far mixture and valve go with it; null when no line of the spectrum stands out. */
function swingOf(
  rpm: Traces,
  lambda: Traces | null,
  valve: Traces | null,
  rpmStdDev: number,
  stepS: number,
  segmentS: number,
): IdleMeasures['swing'] {
  const spectrum = welch(rpm, stepS, segmentS, MAX_HZ, lambda ?? undefined)
  const line = peak(spectrum)
  // the first bin is what is left of a slow drift over the segment, not a swing
  if (!line || line.index === 0 || line.share < HUNT_SHARE || rpmStdDev <= 6) return null
  let withMixture: number | null = null
  if (lambda && spectrum.otherPower) {
    const cross = spectrum.crossRe![line.index] ** 2 + spectrum.crossIm![line.index] ** 2
    const coherence = cross / Math.max(1e-30, spectrum.power[line.index] * spectrum.otherPower[line.index])
    if (coherence > 0.5) withMixture = amplitudeOf(lambda, peak(welch(lambda, stepS, segmentS, MAX_HZ))?.share ?? 0)
  }
  return {
    amplitudeRpm: amplitudeOf(rpm, line.share),
    periodS: 1 / line.frequencyHz,
    withMixture,
    valvePct: valve ? amplitudeOf(valve, 1) : null,
  }
}

/** A cause and the next move, or null when this is not it. */
type Cause = (m: IdleMeasures) => Pick<IdleVerdict, 'verdict' | 'next'> | null
/** In the order they are asked: what fools the sensor makes all that follows worthless. */
const causes: readonly Cause[] = [
  ({ authorityPct, saturatedShare, leanBy }) =>
    authorityPct >= 8 && saturatedShare > 0.7 && leanBy !== null && leanBy > 0.02
      ? {
          verdict: 'loop-fooled',
          next: `The loop adds all it may (${authorityPct.toFixed(0)} %) and still reads lean by ${leanBy.toFixed(2)}. If it smells rich, overlap or an exhaust leak fools the sensor: look for the leak, then run idle open loop on the base map.`,
        }
      : null,
  ({ swing }) =>
    swing && swing.amplitudeRpm >= HUNT_RPM && swing.withMixture !== null && swing.withMixture >= 0.025
      ? {
          verdict: 'hunting-mixture',
          next: `Lambda swings by ±${swing.withMixture.toFixed(3)} with the speed, every ${swing.periodS.toFixed(1)} s: slow the closed loop at idle (half its gain) before touching the valve.`,
        }
      : null,
  ({ swing }) =>
    swing && swing.amplitudeRpm >= HUNT_RPM
      ? {
          verdict: 'hunting-valve',
          next: `Speed swings ±${swing.amplitudeRpm.toFixed(0)} rpm every ${swing.periodS.toFixed(1)} s${swing.valvePct === null ? '' : ` with the valve (±${swing.valvePct.toFixed(0)} %)`} while the mixture stays steady: halve the idle valve's gain, or lower the screw so that it works mid-range.`,
        }
      : null,
  ({ rpmStdDev, swing, mapStdDevKpa }) =>
    rpmStdDev > 35 && !swing && (mapStdDevKpa === null || mapStdDevKpa > 1.2)
      ? {
          verdict: 'misfire',
          next: `Speed is rough (${rpmStdDev.toFixed(0)} rpm rms) without a rhythm: a cylinder misses. Check plugs, leads and firing order, one cylinder at a time.`,
        }
      : null,
  ({ valveMeanPct, meanRpm, targetRpm }) =>
    valveMeanPct !== null && valveMeanPct <= 2 && (targetRpm === undefined || meanRpm > targetRpm + 50)
      ? {
          verdict: 'high-valve-shut',
          next: `${meanRpm.toFixed(0)} rpm with the valve shut (${valveMeanPct.toFixed(0)} %): the plate or a leak passes too much air. Turn the throttle screw out a quarter turn, relearn zero, look again; if it does not fall, look for a vacuum leak.`,
        }
      : null,
  ({ valveMeanPct, meanRpm, targetRpm }) =>
    valveMeanPct !== null && valveMeanPct >= 60
      ? {
          verdict: 'low-valve-wide',
          next: `The valve stands ${valveMeanPct.toFixed(0)} % open${targetRpm ? ` at ${meanRpm.toFixed(0)} of ${targetRpm.toFixed(0)} rpm` : ''}: it has nothing left to add. Turn the throttle screw in a quarter turn, relearn zero, look again.`,
        }
      : null,
  ({ leanBy }) =>
    leanBy !== null && leanBy > 0.05
      ? {
          verdict: 'lean',
          next: `Idle is lean by ${leanBy.toFixed(2)} lambda: add ${(leanBy * 100).toFixed(0)} % in the idle cells, after looking for a vacuum leak.`,
        }
      : null,
  ({ leanBy }) =>
    leanBy !== null && leanBy < -0.05
      ? {
          verdict: 'rich',
          next: `Idle is rich by ${(-leanBy).toFixed(2)} lambda: take ${(-leanBy * 100).toFixed(0)} % out of the idle cells.`,
        }
      : null,
]

/**
 * What kind of idle a log shows (handbook 06), and the next move.
 * @throws CoreError COLUMN_MISSING when the log has no engine speed
 */
export function judgeIdle(log: Pick<LogData, 'timeS' | 'channels'>, options: IdleOptions = {}): IdleVerdict {
  const { timeS, channels } = log
  if (!channels.rpm) throw new CoreError('COLUMN_MISSING', 'engine speed')
  const runs = idleRuns(log, options.targetRpm)
  const seconds = runs.reduce((sum, run) => sum + timeS[run.to - 1] - timeS[run.from], 0)
  const stepS = usualStepS(timeS)
  const tooSlow = stepS > MAX_STEP_S
  if (seconds < MIN_TOTAL_S || tooSlow)
    return {
      verdict: 'not-enough-data',
      meanRpm: null,
      rpmStdDev: null,
      periodS: null,
      amplitudeRpm: null,
      valveMeanPct: null,
      lambdaMean: null,
      correctionMeanPct: null,
      seconds,
      next: tooSlow
        ? `The rows stand ${stepS.toFixed(1)} s apart: a swing of one second does not show. Log at least ${1 / MAX_STEP_S} rows a second; 10 are better.`
        : `Only ${seconds.toFixed(0)} s of warm idle with the throttle shut; log ${MIN_TOTAL_S} s or more without touching anything.`,
    }
  const m = measureIdle(log, runs, options)
  const { meanRpm, rpmStdDev, valveMeanPct, lambdaMean, correctionMeanPct } = m
  const periodS = m.swing?.periodS ?? null
  const amplitudeRpm = m.swing?.amplitudeRpm ?? rpmStdDev * Math.SQRT2
  const base = { meanRpm, rpmStdDev, periodS, amplitudeRpm, valveMeanPct, lambdaMean, correctionMeanPct, seconds }
  for (const cause of causes) {
    const found = cause(m)
    if (found) return { ...base, ...found }
  }
  return { ...base, verdict: 'good', next: 'Idle is steady and the valve has room both ways. Nothing to do.' }
}

function largest(values: Float32Array | undefined): number {
  let most = 0
  if (values) for (const v of values) if (Math.abs(v) > most) most = Math.abs(v)
  return most
}
