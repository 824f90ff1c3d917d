import type { ChannelId } from '../logfile/index.ts'
import { usualStepS } from '../logfile/index.ts'
import { CATCHES_PCT, HUNT_SHARE } from './limits.ts'
import type { Log, Run } from './runs.ts'
import { lineAmplitude, peak, welch } from './spectrum.ts'

const SEGMENT_S = 10
const LONG_SEGMENT_S = 20
const MAX_HZ = 3
/** a speed that stands as still as this swings in no rhythm, rpm rms */
const STILL_RPM = 6
/** swings that go with the speed share this much of their power at its line with it */
const WITH_IT = 0.5

/** A swing of the speed and what swings with it: half of peak to peak each, at the speed's own period. */
export interface Swing {
  periodS: number
  amplitudeRpm: number
  /** null: not told, or not with the speed */
  lambda: number | null
  correctionPct: number | null
  valvePct: number | null
}
/** What an idle measures, worked out once; each cause looks at what it needs. Null: the log does not tell. */
export interface IdleMeasures {
  seconds: number
  meanRpm: number
  rpmStdDev: number
  /** from reading to reading, what no swing explains, rpm rms */
  roughRpm: number
  swing: Swing | null
  valveMeanPct: number | null
  valveStdDevPct: number | null
  lambdaMean: number | null
  /** from reading to reading, lambda rms */
  flicker: number | null
  leanBy: number | null
  correctionMeanPct: number | null
  /** share of the time that the loop stands at the most it was seen or is allowed to do, %, lean and rich side */
  authorityPct: number
  saturatedShare: number
  /** correction with the throttle open, loop at work, %; null: none */
  correctionDrivenPct: number | null
  mapMeanKpa: number | null
  mapStdDevKpa: number | null
  advanceMeanDeg: number | null
  coolantMeanC: number | null
  restsAtPct: number | null
}

/** A channel over a run, evenly spaced by straight lines between readings. */
export function even(timeS: Float64Array, values: Float32Array, run: Pick<Run, 'from' | 'to'>, stepS: number): Float64Array {
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

/** Values of all rows of the runs that are numbers. */
function told(values: Float32Array | undefined, runs: readonly Run[]): number[] | null {
  if (!values) return null
  const out: number[] = []
  for (const { from, to } of runs) for (let i = from; i < to; i++) if (!Number.isNaN(values[i])) out.push(values[i])
  return out.length ? out : null
}
export const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length
export const deviation = (values: readonly number[]): number => {
  const m = mean(values)
  return Math.sqrt(mean(values.map((v) => (v - m) ** 2)))
}
/** share of a bell curve within one sigma */
const ONE_SIGMA = 0.683
/**
 * What changes from reading to reading, rms: second differences of white noise have six times its variance, and a slow swing leaves nothing in
 * them. Taken from their middle two thirds, so that a jump now and then is not roughness.
 */
function roughness(values: Float32Array | undefined, runs: readonly Run[]): number | null {
  if (!values) return null
  const bends: number[] = []
  for (const { from, to } of runs)
    for (let i = from + 1; i + 1 < to; i++) {
      const bend = Math.abs(values[i + 1] - 2 * values[i] + values[i - 1])
      if (!Number.isNaN(bend)) bends.push(bend)
    }
  return bends.length ? Float64Array.from(bends).sort()[Math.floor(ONE_SIGMA * bends.length)] / Math.sqrt(6) : null
}

/** The dominant swing of the speed, and how far mixture, correction and valve go with it; null when no line of the spectrum stands out. */
export function swingOf(log: Log, runs: readonly Run[]): Swing | null {
  const { timeS, channels } = log
  const stepS = Math.max(0.02, usualStepS(timeS))
  const segmentS = runs.some((run) => timeS[run.to - 1] - timeS[run.from] >= LONG_SEGMENT_S + 1) ? LONG_SEGMENT_S : SEGMENT_S
  const traces = (id: ChannelId) => {
    const values = channels[id as Exclude<ChannelId, 'timeS'>]
    return values ? runs.map((run) => even(timeS, values, run, stepS)) : null
  }
  const rpm = traces('rpm')!
  const spectrum = welch(rpm, stepS, segmentS, MAX_HZ)
  const line = peak(spectrum)
  const all = rpm.flatMap((run) => Array.from(run))
  // the first bin is what is left of a slow drift over the segment, not a swing
  if (!line || line.index === 0 || line.share < HUNT_SHARE || deviation(all) <= STILL_RPM) return null
  const withIt = (id: ChannelId): number | null => {
    const other = traces(id)
    if (!other || other.some((run) => run.some(Number.isNaN))) return null
    const cross = welch(rpm, stepS, segmentS, MAX_HZ, other)
    const together = cross.crossRe![line.index] ** 2 + cross.crossIm![line.index] ** 2
    const coherence = together / Math.max(1e-30, cross.power[line.index] * cross.otherPower![line.index])
    return coherence > WITH_IT ? lineAmplitude(cross.otherPower!, line.index, cross.windowSum!) : 0
  }
  return {
    periodS: 1 / line.frequencyHz,
    amplitudeRpm: lineAmplitude(spectrum.power, line.index, spectrum.windowSum!),
    lambda: withIt('lambda'),
    correctionPct: withIt('correctionPct'),
    valvePct: withIt('idleValvePct'),
  }
}

/** How far the speed swings at each frequency, for a picture: half of peak to peak, rpm. */
export interface SpeedSpectrum {
  frequencyHz: number[]
  amplitudeRpm: number[]
}
/** Spectrum of the speed over the runs, up to 3 Hz; empty where no run is long enough. */
export function speedSpectrum(log: Log, runs: readonly Run[]): SpeedSpectrum {
  const { timeS, channels } = log
  const stepS = Math.max(0.02, usualStepS(timeS))
  const { frequencyHz, power, windowSum } = welch(
    runs.map((run) => even(timeS, channels.rpm!, run, stepS)),
    stepS,
    SEGMENT_S,
    MAX_HZ,
  )
  return { frequencyHz, amplitudeRpm: power.map((v) => (2 * Math.sqrt(v)) / windowSum!) }
}

/** Correction that the loop makes with a foot on the throttle, %. */
function drivenCorrection({ channels }: Log, runs: readonly Run[]): number | null {
  const { throttlePct, correctionPct, fuelCut, rpm } = channels
  if (!throttlePct || !correctionPct || !rpm) return null
  const idleRpm = mean(told(rpm, runs) ?? [0])
  const rest = Math.max(...runs.map((run) => run.restsAtPct ?? 0))
  const seen: number[] = []
  for (let i = 0; i < throttlePct.length; i++)
    if (throttlePct[i] > rest + CATCHES_PCT && rpm[i] > 1.6 * idleRpm && !(fuelCut && fuelCut[i] >= 0.5) && !Number.isNaN(correctionPct[i]))
      seen.push(correctionPct[i])
  // a blip tells nothing: the loop has had no time
  if (seen.length < 60) return null
  return mean(seen.slice(seen.length >> 1))
}

function largest(values: Float32Array | undefined): number {
  let most = 0
  if (values) for (const v of values) if (Math.abs(v) > most) most = Math.abs(v)
  return most
}

/** What the runs measure together. @param authorityPct most that the loop may do, %; the most it was seen to do where it is not known */
export function measureIdle(log: Log, runs: readonly Run[], authorityPct?: number): IdleMeasures {
  const { timeS, channels } = log
  const of = (id: Exclude<ChannelId, 'timeS'>) => told(channels[id], runs)
  const meanOf = (id: Exclude<ChannelId, 'timeS'>) => {
    const values = of(id)
    return values ? mean(values) : null
  }
  const rpm = of('rpm')!
  const valve = of('idleValvePct')
  const map = of('mapKpa')
  const corrections = of('correctionPct')
  const lambdaMean = meanOf('lambda')
  const most = authorityPct ?? largest(channels.correctionPct)
  return {
    seconds: runs.reduce((sum, run) => sum + timeS[run.to - 1] - timeS[run.from], 0),
    meanRpm: mean(rpm),
    rpmStdDev: deviation(rpm),
    roughRpm: roughness(channels.rpm, runs) ?? 0,
    swing: swingOf(log, runs),
    valveMeanPct: valve && mean(valve),
    valveStdDevPct: valve && deviation(valve),
    lambdaMean,
    flicker: roughness(channels.lambda, runs),
    leanBy: lambdaMean === null ? null : lambdaMean - (meanOf('lambdaTarget') ?? 1),
    correctionMeanPct: corrections && mean(corrections),
    authorityPct: most,
    saturatedShare: corrections ? corrections.filter((v) => v > most - 0.5).length / corrections.length : 0,
    correctionDrivenPct: drivenCorrection(log, runs),
    mapMeanKpa: map && mean(map),
    mapStdDevKpa: map && deviation(map),
    advanceMeanDeg: meanOf('advanceDegBtdc'),
    coolantMeanC: meanOf('coolantC'),
    restsAtPct: runs.some((run) => run.restsAtPct !== null) ? Math.max(...runs.map((run) => run.restsAtPct ?? 0)) : null,
  }
}
