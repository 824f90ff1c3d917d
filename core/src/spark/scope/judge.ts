import { CoreError } from '../../kernel/index.ts'
import { placed, type Pulse } from './places.ts'
import type { PulsePattern, Trace } from './trace.ts'

export interface TrainVerdict {
  kind: 'magnetic' | 'square'
  /** how the signal passes the moment of a target: falling or rising, through zero or from level to level */
  slope: 'falling' | 'rising'
  /** why the slope may as well be the other one; null when it is told */
  unsure: string | null
  /** places and missing ones counted between two gaps of the record itself; null with fewer than two gaps in it */
  counted: { places: number; missing: number } | null
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

interface Lobe {
  sign: number
  from: number
  to: number
  peakV: number
}
/** A lobe counts from this share of the peak of its neighbours. */
const THRESHOLD_SHARE = 0.3
/** Lobes down to this share of the highest are looked at: voltage rises with speed, and a start flares to many times the speed of cranking. */
const LEAST_SHARE = 0.04
/** so many lobes on one side say how high the next must be */
const NEIGHBOURS = 3

/** Runs of a magnetic signal beyond a low threshold, one sign at a time, and where it last crossed its rest before each. */
function runsBeyond(samples: Float32Array, rest: number, thresholdV: number): { lobe: Lobe; crossing: number | null }[] {
  const runs: { lobe: Lobe; crossing: number | null }[] = []
  let crossing: number | null = null
  for (let i = 1; i < samples.length; i++) {
    const a = samples[i - 1] - rest
    const b = samples[i] - rest
    if (a * b <= 0 && a !== b) crossing = i - 1 + a / (a - b)
    const sign = b > thresholdV ? 1 : b < -thresholdV ? -1 : 0
    if (sign === 0) continue
    const last = runs.at(-1)
    if (last && sign === last.lobe.sign && (crossing === null || crossing <= last.lobe.to)) {
      last.lobe.to = i
      last.lobe.peakV = Math.max(last.lobe.peakV, Math.abs(b))
    } else runs.push({ lobe: { sign, from: i, to: i, peakV: Math.abs(b) }, crossing })
  }
  return runs
}

/**
 * Lobes of a magnetic signal and the zero crossings between two of opposite sign. How high a lobe must be follows from those beside it, going out from
 * the first that is high in the whole record: between two lobes no engine changes its speed threefold.
 */
function magneticEvents(trace: Trace, rest: number, peakV: number): { events: Event[]; lobes: Lobe[] } {
  const { samples, stepS, startS } = trace
  const runs = runsBeyond(samples, rest, LEAST_SHARE * peakV)
  const first = runs.findIndex(({ lobe }) => lobe.peakV > THRESHOLD_SHARE * peakV)
  if (first < 0) return { events: [], lobes: [] }
  const outwards = (from: number, step: 1 | -1) => {
    const kept: typeof runs = []
    const peaks: number[] = []
    for (let i = from; i >= 0 && i < runs.length; i += step) {
      const usual = peaks.length
        ? quantile(
            [...peaks].sort((p, q) => p - q),
            0.5,
          )
        : peakV
      if (runs[i].lobe.peakV <= THRESHOLD_SHARE * usual) continue
      kept.push(runs[i])
      peaks.push(runs[i].lobe.peakV)
      if (peaks.length > NEIGHBOURS) peaks.shift()
    }
    return kept
  }
  const kept = [...outwards(first, -1).reverse().slice(0, -1), ...outwards(first, 1)]
  const events: Event[] = []
  kept.forEach(({ lobe, crossing }, i) => {
    const before = kept[i - 1]?.lobe
    if (before && before.sign !== lobe.sign && crossing !== null && crossing > before.to)
      events.push({ timeS: startS + crossing * stepS, slope: lobe.sign < 0 ? 'falling' : 'rising' })
  })
  return { events, lobes: kept.map(({ lobe }) => trimmed(lobe, samples, rest)) }
}
/** A lobe as far as it stands above the threshold of its own height. */
function trimmed(lobe: Lobe, samples: Float32Array, rest: number): Lobe {
  const above = (i: number) => Math.abs(samples[i] - rest) > THRESHOLD_SHARE * lobe.peakV
  let { from, to } = lobe
  while (from < to && !above(from)) from++
  while (to > from && !above(to)) to--
  return { ...lobe, from, to }
}

/** A stretch without lobes so many times longer than those beside it, and so much of the distance between targets, is a gap of the train. */
const QUIET_TIMES = 1.8
const QUIET_OF_PITCH = 0.6
const BESIDE = 3
/** Such a share of the gaps must say the same. */
const AGREED_SHARE = 0.8
/**
 * Polarity by a gap of the train, whether of the wheel or where a target is lost: a target makes the signal fall through zero, so that before a missing
 * one the last lobe is negative and after it the first is positive. With the wires changed over it is the other way round.
 */
function slopeAtGap(lobes: readonly Lobe[]): Event['slope'] | null {
  const quiet = lobes.slice(1).map((lobe, i) => lobe.from - lobes[i].to)
  const before: number[] = []
  quiet.forEach((length, i) => {
    const beside = [...quiet.slice(Math.max(0, i - BESIDE), i), ...quiet.slice(i + 1, i + 1 + BESIDE)].sort((p, q) => p - q)
    const pitch = i > 1 ? lobes[i].from - lobes[i - 2].from : Infinity
    const isGap = length > QUIET_TIMES * Math.max(1, quantile(beside, 0.5)) && length > QUIET_OF_PITCH * pitch
    if (isGap && lobes[i].sign !== lobes[i + 1].sign) before.push(lobes[i].sign)
  })
  if (!before.length) return null
  const falling = before.filter((sign) => sign < 0).length / before.length
  return falling >= AGREED_SHARE ? 'falling' : falling <= 1 - AGREED_SHARE ? 'rising' : null
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

/** The two waits before a crossing must differ by so much to tell which of the two stands at the target. */
const CLEAR_SHARE = 0.6
/** A known width must fit one of the edges so much better than the other, as a share of the distance between targets. */
const WIDTH_CLEAR_SHARE = 0.08

/**
 * Of the two crossings a pulse makes, the one at the target: for a magnetic pulse the steep one between its lobes, which follows its first lobe at
 * once while the other waits for the next target; for a square one the edge at which the target leaves, its width after it came. A wheel whose signal
 * is a wave is judged at its gap; where nothing tells the two apart, that is said.
 */
function atTargets(
  events: readonly Event[],
  kind: TrainVerdict['kind'],
  pattern: PulsePattern,
  lobes: readonly Lobe[],
): { slope: Event['slope']; times: number[]; unsure: string | null } {
  const gapBefore = { falling: [] as number[], rising: [] as number[] }
  for (let i = 1; i < events.length; i++) gapBefore[events[i].slope].push(events[i].timeS - events[i - 1].timeS)
  const middle = (list: number[]) =>
    quantile(
      [...list].sort((a, b) => a - b),
      0.5,
    ) ?? Infinity
  const waits = { falling: middle(gapBefore.falling), rising: middle(gapBefore.rising) }
  const shorter: Event['slope'] = waits.falling <= waits.rising ? 'falling' : 'rising'
  const at = (slope: Event['slope'], unsure: string | null) => ({
    slope,
    unsure,
    times: events.filter((e) => e.slope === slope).map((e) => e.timeS),
  })
  if (kind === 'square' && pattern.widthShare !== undefined) {
    const pitch = waits.falling + waits.rising
    const miss = (slope: Event['slope']) => Math.abs(waits[slope] / pitch - pattern.widthShare!)
    const nearer: Event['slope'] = miss('falling') <= miss('rising') ? 'falling' : 'rising'
    const clear = Math.abs(miss('falling') - miss('rising')) > WIDTH_CLEAR_SHARE
    return at(nearer, clear ? null : 'targets and gaps are about as wide as each other: the two edges cannot be told apart')
  }
  const clear = Math.min(waits.falling, waits.rising) < CLEAR_SHARE * Math.max(waits.falling, waits.rising)
  if (kind === 'square') return at(shorter, clear ? null : 'targets and gaps are about as wide as each other: tell the width of the target')
  const byGap = clear && pattern.missing === 0 ? null : slopeAtGap(lobes)
  if (byGap !== null) return at(byGap, null)
  if (clear) return at(shorter, null)
  return at(
    shorter,
    pattern.missing > 0
      ? 'the signal is a wave and no gap of the wheel is in the record: take a longer one'
      : 'the signal is a wave without a gap: it looks the same with its wires changed over',
  )
}

/** no wheel has more: such a count is a dropout */
const MOST_PLACES = 400
const MOST_MISSING = 10
/** Teeth between two gaps, as the record shows them, whatever the plan says: the most frequent count. */
function countedPlaces(times: readonly number[]): { places: number; missing: number } | null {
  const intervals = times.slice(1).map((t, i) => t - times[i])
  const long = intervals.flatMap((interval, i) => {
    const near = [intervals[i - 1], intervals[i - 2], intervals[i + 1], intervals[i + 2]]
      .filter((x) => x !== undefined)
      .sort((a, b) => a - b)
    const usual = near.length ? near[Math.floor((near.length - 1) / 2)] : interval
    const places = Math.round(interval / usual)
    return places >= 2 && Math.abs(interval / usual - places) < 0.35 ? [{ i, missing: places - 1 }] : []
  })
  const votes = new Map<string, number>()
  for (let k = 1; k < long.length; k++) {
    if (long[k].missing !== long[k - 1].missing) continue
    const between = long[k].i - long[k - 1].i
    const key = `${between + long[k].missing}-${long[k].missing}`
    votes.set(key, (votes.get(key) ?? 0) + 1)
  }
  const [best] = [...votes].sort((a, b) => b[1] - a[1])
  if (!best) return null
  const [places, missing] = best[0].split('-').map(Number)
  return places <= MOST_PLACES && missing <= MOST_MISSING ? { places, missing } : null
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
  const { events, lobes } = kind === 'magnetic' ? magneticEvents(trace, rest, peakV) : { events: squareEvents(trace, low, high), lobes: [] }
  const { slope, times, unsure } = atTargets(events, kind, pattern, lobes)
  if (times.length < 4)
    throw new CoreError('SCOPE_UNREADABLE', 'scope trace', `only ${times.length} pulses in it; take a longer stretch or a higher speed`)
  const { pulses, missing, extra } = placed(times, pattern)
  const spanPlaces = pulses[pulses.length - 1].place - pulses[0].place
  const spanS = pulses[pulses.length - 1].timeS - pulses[0].timeS
  const degPerPlace = (360 * pattern.crankTurns) / pattern.places
  return {
    kind,
    slope,
    unsure,
    counted: pattern.missing > 0 ? countedPlaces(times) : null,
    pulses,
    missing,
    extra,
    rpm: spanS > 0 ? ((spanPlaces * degPerPlace) / 360 / spanS) * 60 : null,
    jitterDeg: jitterOf(pulses, degPerPlace),
    noiseV: noiseBetween(trace, kind, rest, low, high, pulses),
    peakV,
    thresholdV: THRESHOLD_SHARE * peakV,
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

/** A magnetic signal that rests for less than this share of its time is a wave: it has no rest to show noise against. */
const RESTS_SHARE = 0.3
const REST_OF_PEAK = 0.15

/** Noise of a wave, V: three times the rms of what a smooth curve would not do from sample to sample (variance of third differences is 20 s^2). */
function noiseOnWave({ samples }: Trace): number {
  let sum = 0
  for (let i = 3; i < samples.length; i++) sum += (samples[i] - 3 * samples[i - 1] + 3 * samples[i - 2] - samples[i - 3]) ** 2
  return 3 * Math.sqrt(sum / Math.max(1, samples.length - 3) / 20)
}
/** Of an interval between two pulses, how much is near rest for the height it has itself: at a start the first are a tenth of the last. */
function restShare({ samples, startS, stepS }: Trace, rest: number, fromS: number, toS: number): number {
  const part = samples.subarray(Math.max(0, Math.ceil((fromS - startS) / stepS)), Math.floor((toS - startS) / stepS) + 1)
  const peakV = part.reduce((most, v) => Math.max(most, Math.abs(v - rest)), 0)
  return part.reduce((n, v) => n + (Math.abs(v - rest) < REST_OF_PEAK * peakV ? 1 : 0), 0) / Math.max(1, part.length)
}
function isWave(trace: Trace, rest: number, pulses: readonly Pulse[]): boolean {
  const shares = pulses.slice(1).map((pulse, i) => restShare(trace, rest, pulses[i].timeS, pulse.timeS))
  return (
    quantile(
      shares.sort((p, q) => p - q),
      0.5,
    ) < RESTS_SHARE
  )
}

/** Highest excursion in the middle half of each interval, where a magnetic signal is at rest; of a square one the scatter about its levels. */
function noiseBetween(trace: Trace, kind: TrainVerdict['kind'], rest: number, low: number, high: number, pulses: readonly Pulse[]): number {
  const { samples, startS, stepS } = trace
  if (kind === 'magnetic' && isWave(trace, rest, pulses)) return noiseOnWave(trace)
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
