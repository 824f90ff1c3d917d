import { CoreError } from '../../kernel/index.ts'
import type { PulsePattern, Trace } from './trace.ts'

interface Pulse {
  timeS: number
  /** place in the train, missing ones counted, from the first pulse seen */
  place: number
}
export interface TrainVerdict {
  kind: 'magnetic' | 'square'
  /** how the signal passes the moment of a target: falling or rising, through zero or from level to level */
  slope: 'falling' | 'rising'
  pulses: Pulse[]
  missing: number[]
  extra: number[]
  /** crank speed over the window, rpm; null with too few pulses */
  rpm: number | null
  /** scatter of the pulses against their neighbours, crank degrees rms; null with too few */
  jitterDeg: number | null
  /** rms would hide single spikes: the highest excursion between pulses, V */
  noiseV: number
  peakV: number
  thresholdV: number
}

const quantile = (sorted: ArrayLike<number>, q: number): number => sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))]

interface Event {
  timeS: number
  slope: 'falling' | 'rising'
}

/** Level of the signal when nothing passes, and its swing either way: from the sorted samples, so that a few spikes do not count. */
function levelsOf(samples: Float32Array) {
  const sorted = Float32Array.from(samples).sort()
  const rest = quantile(sorted, 0.5)
  return { sorted, rest, low: quantile(sorted, 0.002), high: quantile(sorted, 0.998) }
}

/** Steep zero crossings of a magnetic signal: each between a lobe of one sign and one of the other, with a full swing within. */
function magneticEvents(trace: Trace, rest: number, thresholdV: number): Event[] {
  const { samples, stepS, startS } = trace
  const events: Event[] = []
  let lobe: { sign: number; at: number } | null = null
  let crossing: number | null = null
  for (let i = 1; i < samples.length; i++) {
    const a = samples[i - 1] - rest
    const b = samples[i] - rest
    if (a * b <= 0 && a !== b) crossing = i - 1 + a / (a - b)
    const sign = b > thresholdV ? 1 : b < -thresholdV ? -1 : 0
    if (sign === 0) continue
    if (lobe && sign !== lobe.sign && crossing !== null && crossing > lobe.at)
      events.push({ timeS: startS + crossing * stepS, slope: sign < 0 ? 'falling' : 'rising' })
    lobe = { sign, at: i }
  }
  return events
}

/** Changes of level of a square signal, with hysteresis. */
function squareEvents(trace: Trace, low: number, high: number): Event[] {
  const { samples, stepS, startS } = trace
  const upper = low + 0.65 * (high - low)
  const lower = low + 0.35 * (high - low)
  const middle = (low + high) / 2
  const events: Event[] = []
  let state = samples[0] > middle
  let crossing = 0
  for (let i = 1; i < samples.length; i++) {
    const a = samples[i - 1]
    const b = samples[i]
    if ((a - middle) * (b - middle) <= 0 && a !== b) crossing = i - 1 + (middle - a) / (b - a)
    if (state ? b < lower : b > upper) {
      state = !state
      events.push({ timeS: startS + crossing * stepS, slope: state ? 'rising' : 'falling' })
    }
  }
  return events
}

/**
 * Of the two crossings a pulse makes, the one at the target: for a magnetic pulse the steep one between its lobes, which follows its first lobe
 * at once while the other waits for the next target. Pulses are shorter than the gaps between them.
 */
function atTargets(events: readonly Event[]): { slope: Event['slope']; times: number[] } {
  const gapBefore = { falling: [] as number[], rising: [] as number[] }
  for (let i = 1; i < events.length; i++) gapBefore[events[i].slope].push(events[i].timeS - events[i - 1].timeS)
  const middle = (list: number[]) =>
    quantile(
      [...list].sort((a, b) => a - b),
      0.5,
    ) ?? Infinity
  const slope = middle(gapBefore.falling) <= middle(gapBefore.rising) ? 'falling' : 'rising'
  return { slope, times: events.filter((e) => e.slope === slope).map((e) => e.timeS) }
}

const EXTRA_SHARE = 0.6

/** Puts pulses on the places of their pattern: each interval is a whole number of places, less one that is too short for any. */
function placed(times: readonly number[], pattern: PulsePattern) {
  const intervals = times.slice(1).map((t, i) => t - times[i])
  const sorted = [...intervals].sort((a, b) => a - b)
  let pitch = quantile(sorted, 0.5)
  const pulses: Pulse[] = []
  const missing: number[] = []
  const extra: number[] = []
  let last = { timeS: times[0], place: 0 }
  let sinceGap: number | null = null
  pulses.push(last)
  for (let i = 1; i < times.length; i++) {
    const ratio = (times[i] - last.timeS) / pitch
    if (ratio < EXTRA_SHARE) {
      extra.push(times[i])
      continue
    }
    // a short interval made up by the next is an extra pulse between two places
    const next = times[i + 1]
    const nextRatio = next === undefined ? Infinity : (next - last.timeS) / pitch
    if (
      ratio < 0.8 &&
      Math.abs(nextRatio - Math.round(nextRatio)) < 0.12 &&
      Math.round(nextRatio) >= 1 &&
      (next! - times[i]) / pitch < 0.8
    ) {
      extra.push(times[i])
      continue
    }
    const places = Math.max(1, Math.round(ratio))
    const isGap: boolean =
      pattern.missing > 0 && places === pattern.missing + 1 && (sinceGap === null || sinceGap >= pattern.places - pattern.missing - 1)
    if (places > 1 && !isGap) for (let k = 1; k < places; k++) missing.push(last.timeS + (k / places) * (times[i] - last.timeS))
    sinceGap = isGap ? 0 : sinceGap === null ? null : sinceGap + places
    last = { timeS: times[i], place: last.place + places }
    pulses.push(last)
    // follow a changing speed
    const seen = (times[i] - pulses[pulses.length - 2].timeS) / places
    pitch += 0.3 * (seen - pitch)
  }
  return { pulses, missing, extra }
}

/**
 * What a sensor's signal says of itself: which pulses came, which are missing, which are too many, how they scatter, which way they pass, how
 * far noise stands under them.
 *
 * Levels by quantiles, so that a few spikes do not set them; pulses by hysteresis; each interval as a whole number of places of the pattern.
 * Jitter from third differences of the times of neighbouring pulses, which a steady change of speed does not touch: for scatter s of single
 * pulses their variance is 20 s^2.
 * @throws CoreError SCOPE_UNREADABLE with fewer than four pulses in the window
 * @source Box and Jenkins, Time Series Analysis (variance of differences)
 */
export function judgeTrain(trace: Trace, pattern: PulsePattern): TrainVerdict {
  const { rest, low, high } = levelsOf(trace.samples)
  const up = high - rest
  const down = rest - low
  const kind = Math.min(up, down) > 0.25 * Math.max(up, down) ? 'magnetic' : 'square'
  const peakV = kind === 'magnetic' ? Math.max(up, down) : high - low
  const thresholdV = 0.3 * peakV
  const events = kind === 'magnetic' ? magneticEvents(trace, rest, thresholdV) : squareEvents(trace, low, high)
  const { slope, times } = atTargets(events)
  if (times.length < 4)
    throw new CoreError('SCOPE_UNREADABLE', 'scope trace', `only ${times.length} pulses in it; take a longer stretch or a higher speed`)
  const { pulses, missing, extra } = placed(times, pattern)
  const spanPlaces = pulses[pulses.length - 1].place - pulses[0].place
  const spanS = pulses[pulses.length - 1].timeS - pulses[0].timeS
  const degPerPlace = (360 * pattern.crankTurns) / pattern.places
  return {
    kind,
    slope,
    pulses,
    missing,
    extra,
    rpm: spanS > 0 ? ((spanPlaces * degPerPlace) / 360 / spanS) * 60 : null,
    jitterDeg: jitterOf(pulses, degPerPlace),
    noiseV: noiseBetween(trace, kind, rest, low, high, pulses),
    peakV,
    thresholdV,
  }
}

function jitterOf(pulses: readonly Pulse[], degPerPlace: number): number | null {
  let sum = 0
  let n = 0
  for (let i = 3; i < pulses.length; i++) {
    const [a, b, c, d] = pulses.slice(i - 3, i + 1)
    if (d.place - a.place !== 3) continue
    const pitch = (d.timeS - a.timeS) / 3
    sum += (((d.timeS - 3 * c.timeS + 3 * b.timeS - a.timeS) / pitch) * degPerPlace) ** 2
    n++
  }
  return n < 2 ? null : Math.sqrt(sum / n / 20)
}

/** Highest excursion in the middle half of each interval, where a magnetic signal is at rest; of a square one the scatter about its levels. */
function noiseBetween(trace: Trace, kind: TrainVerdict['kind'], rest: number, low: number, high: number, pulses: readonly Pulse[]): number {
  const { samples, startS, stepS } = trace
  let noise = 0
  for (let k = 1; k < pulses.length; k++) {
    const a = pulses[k - 1].timeS
    const b = pulses[k].timeS
    const from = Math.ceil((a + 0.35 * (b - a) - startS) / stepS)
    const to = Math.floor((a + 0.65 * (b - a) - startS) / stepS)
    for (let i = from; i <= to; i++) {
      const v = samples[i]
      const off = kind === 'magnetic' ? Math.abs(v - rest) : Math.min(Math.abs(v - low), Math.abs(v - high))
      if (off > noise) noise = off
    }
  }
  return noise
}
