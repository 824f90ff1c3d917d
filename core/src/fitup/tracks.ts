import Papa from 'papaparse'
import { CoreError, type EntryTable, monotoneCubic } from '../kernel/index.ts'
import type { PedalChoices } from './choices.ts'
import { NOISE_PCT, SPIKE_PCT, SPIKES_PER_MIN, TRACKS_PCT } from './limits.ts'

/** A slow sweep of a pedal or a plate: both tracks' volts over time. */
export interface TrackSweep {
  timeS: readonly number[]
  oneV: readonly number[]
  twoV: readonly number[]
}
export interface TrackVerdict {
  /** widest between the tracks, each over its own ends, % */
  apartPct: number
  atPct: number
  /** rms of what is faster than a foot, while it stands still (null: it never was) and while it moves, % */
  restNoisePct: number | null
  noisePct: number
  spikesPerMin: number
  /** each track's ends, V */
  ends: { oneV: [number, number]; twoV: [number, number] }
  /** both tracks are there and move */
  live: boolean
  /** why it is not sound; empty: it is */
  wrong: string[]
}
const LEAST_S = 3
const LEAST_SPAN_V = 1
/** under this a supply or a ground is gone, or a wire broken: no track lives there, V */
const DEAD_V = 0.08
const SHORT_V = 4.95
/** half a window of the running median, s and samples */
const HALF_S = 0.04
const HALF_LEAST = 2
const HALF_MOST = 12
/** from one sample to the next it may move so much, %: else where it turns looks like a spike */
const STEP_PCT = 1.5
/** so many times the noise is no noise */
const SPIKE_OF_NOISE = 5
const median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1]
const smoothed = (v: readonly number[], half: number): number[] => v.map((_, i) => median(v.slice(Math.max(0, i - half), i + half + 1)))
/** of a normal spread, its sigma over the median of its size */
const SIGMA_OVER_MEDIAN = 1.4826
const WINDOW_S = 1
const LEAST_IN_WINDOW = 20
/** a track that goes so far in a second moves, % */
const MOVES_PCT = 2
/** beyond so many times the noise a sample stands apart from it */
const APART = 4
/** Noise of the worst second of those that move, or that stand, rms %; a spike by itself is none. */
function noiseOf(
  { slow, fast }: Pick<ReturnType<typeof track>, 'slow' | 'fast'>,
  timeS: readonly number[],
  moving: boolean,
): number | null {
  let worst: number | null = null
  for (let from = 0; from < fast.length;) {
    let to = from
    while (to < fast.length && timeS[to] - timeS[from] < WINDOW_S) to++
    const part = fast.slice(from, to)
    const moves = Math.abs(slow[to - 1] - slow[from]) > MOVES_PCT
    if (part.length >= LEAST_IN_WINDOW && moves === moving) {
      const sigma = SIGMA_OVER_MEDIAN * median(part.map(Math.abs))
      const within = part.filter((v) => Math.abs(v) <= APART * sigma)
      worst = Math.max(worst ?? 0, Math.sqrt(within.reduce((sum, v) => sum + v * v, 0) / (within.length || 1)))
    }
    from = to
  }
  return worst
}

/**
 * Two tracks of a pedal or a plate against each other over a slow sweep from end to end and back.
 * @throws CoreError EVIDENCE_MISSING for a sweep that is too short to tell
 */
export function judgeTracks(sweep: TrackSweep): TrackVerdict {
  const { timeS, oneV, twoV } = sweep
  const n = timeS.length
  const lengthS = n ? timeS[n - 1] - timeS[0] : 0
  if (n < 30 || lengthS < LEAST_S)
    throw new CoreError('EVIDENCE_MISSING', 'sweep', `must be ${LEAST_S} s or longer with 30 samples or more, from end to end and back`)
  const wrong: string[] = []
  const dead = (v: readonly number[]): boolean => v.filter((x) => x < DEAD_V || x > SHORT_V).length > 0.02 * n
  for (const [name, v] of [
    ['one', oneV],
    ['two', twoV],
  ] as const)
    if (dead(v)) wrong.push(`track ${name} falls to nothing: supply, ground or wire lost`)
  const half = Math.min(HALF_MOST, Math.max(HALF_LEAST, Math.round((HALF_S * n) / lengthS)))
  const one = track(oneV, half)
  const two = track(twoV, half)
  const steps = one.slow.slice(1).map((v, i) => Math.abs(v - one.slow[i]))
  if (steps.filter((v) => v > STEP_PCT).length > 0.1 * n)
    throw new CoreError(
      'EVIDENCE_MISSING',
      'sweep',
      `must move slower, or be sampled faster: ${STEP_PCT} % from one sample to the next is the most`,
    )
  if (one.span < LEAST_SPAN_V && two.span < LEAST_SPAN_V) wrong.push('neither track moves by a volt: stuck, or not moved from end to end')
  for (const [name, t] of [
    ['one', one],
    ['two', two],
  ] as const)
    if (t.span < LEAST_SPAN_V && !wrong.length) wrong.push(`track ${name} does not move with the other`)
  const live = wrong.length === 0
  let apartPct = 0
  let atPct = 0
  one.slow.forEach((v, i) => {
    const apart = Math.abs(v - two.slow[i])
    if (apart > apartPct) [apartPct, atPct] = [apart, v]
  })
  if (live && apartPct > TRACKS_PCT) wrong.push(`the tracks differ by ${apartPct.toFixed(1)} % at ${atPct.toFixed(0)} % of the way`)
  const noise = (moving: boolean): number | null => {
    const [a, b] = [noiseOf(one, timeS, moving), noiseOf(two, timeS, moving)]
    return a === null || b === null ? null : Math.max(a, b)
  }
  const noisePct = noise(true) ?? 0
  const restNoisePct = noise(false)
  const loudest = Math.max(noisePct, restNoisePct ?? 0)
  // out of a noisy track a few samples stand out by chance: a spike is what noise does not do
  const leastPct = Math.max(SPIKE_PCT, SPIKE_OF_NOISE * loudest)
  const spikes = spikesOf(one.fast, leastPct) + spikesOf(two.fast, leastPct)
  const spikesPerMin = (60 * spikes) / lengthS
  if (loudest > NOISE_PCT)
    wrong.push(
      restNoisePct !== null && restNoisePct <= NOISE_PCT
        ? `noise of ${noisePct.toFixed(1)} % while it moves, clean at rest: linkage, spring or mount`
        : `noise of ${loudest.toFixed(1)} %: shield, ground, or the track itself`,
    )
  if (spikesPerMin > SPIKES_PER_MIN && spikes > 1)
    wrong.push(`${spikes} spikes over ${SPIKE_PCT} % in ${lengthS.toFixed(0)} s: a worn spot or a loose pin`)
  return { apartPct, atPct, restNoisePct, noisePct, spikesPerMin, ends: { oneV: one.ends, twoV: two.ends }, live, wrong }
}
/** What a sweep showed against its limits, in words. */
export const tracksSay = (v: TrackVerdict): string =>
  `Widest apart ${v.apartPct.toFixed(1)} % (${TRACKS_PCT} is the most), noise ${v.noisePct.toFixed(2)} % in motion and ${
    v.restNoisePct === null ? 'not seen at rest' : `${v.restNoisePct.toFixed(2)} % at rest`
  } (${NOISE_PCT} is the most), ${v.spikesPerMin.toFixed(1)} spikes a minute (${SPIKES_PER_MIN}).`
const DECIMALS = 3
/** A verdict as its entry keeps it. */
export function tracksEntry(which: 'pedal' | 'plate', v: TrackVerdict): EntryTable['fitup.tracks'] {
  const short = (x: number): number => Number(Math.min(100, x).toFixed(DECIMALS))
  return {
    which,
    apartPct: short(v.apartPct),
    noisePct: short(Math.max(v.noisePct, v.restNoisePct ?? 0)),
    spikesPerMin: Number(v.spikesPerMin.toFixed(1)),
    sound: v.live,
  }
}
/** One track over its own ends, %, the slow of it and what is faster. A track may fall as the pedal goes down: then it is turned over. */
function track(v: readonly number[], half: number) {
  const slowV = smoothed(v, half)
  const [low, high] = [Math.min(...slowV), Math.max(...slowV)]
  const span = high - low
  if (span < LEAST_SPAN_V) return { slow: v.map(() => 0), fast: v.map(() => 0), span, ends: [low, high] as [number, number] }
  const falls = Math.abs(slowV[0] - high) < Math.abs(slowV[0] - low)
  const share = (x: number): number => (span > 0 ? (100 * (falls ? high - x : x - low)) / span : 0)
  const slow = slowV.map(share)
  return { slow, fast: v.map((x, i) => share(x) - slow[i]), span, ends: (falls ? [high, low] : [low, high]) as [number, number] }
}
const spikesOf = (fast: readonly number[], leastPct: number): number =>
  fast.filter((v, i) => Math.abs(v) > leastPct && !(i > 0 && Math.abs(fast[i - 1]) > leastPct)).length

/**
 * A recorded sweep from CSV: time in seconds, track one and track two in volts, with or without a head.
 * @throws CoreError SCOPE_UNREADABLE naming the line
 */
export function sweepFromCsv(text: string): TrackSweep {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: true })
  const rows = data.map((line) => line.slice(0, 3).map((cell) => (cell.trim() === '' ? NaN : Number(cell.trim().replace(',', '.')))))
  const head = rows.findIndex((row) => row.length === 3 && row.every(Number.isFinite))
  if (head < 0)
    throw new CoreError('SCOPE_UNREADABLE', 'sweep', 'three columns of numbers are wanted: time in s, track one and track two in V')
  const timeS: number[] = []
  const oneV: number[] = []
  const twoV: number[] = []
  rows.slice(head).forEach((row, i) => {
    const line = `line ${head + i + 1}`
    if (row.length < 3 || !row.every(Number.isFinite)) throw new CoreError('SCOPE_UNREADABLE', 'sweep', `${line}: three numbers are wanted`)
    const [t, one, two] = row
    if (timeS.length && t <= timeS[timeS.length - 1]) throw new CoreError('SCOPE_UNREADABLE', 'sweep', `${line}: time must run forward`)
    if (Math.max(one, two) > MOST_V || Math.min(one, two) < -1)
      throw new CoreError('SCOPE_UNREADABLE', 'sweep', `${line}: a track must be -1 to ${MOST_V} V`)
    timeS.push(t)
    oneV.push(one)
    twoV.push(two)
  })
  return { timeS, oneV, twoV }
}
const MOST_V = 16

/** Plate over pedal, %, through the points of a curve; without one, straight. */
export function pedalMap({ curve }: PedalChoices = {}): (pedalPct: number) => number {
  if (!curve) return (pedalPct) => pedalPct
  return monotoneCubic(
    curve.map((p) => p.pedalPct),
    curve.map((p) => p.platePct),
  )
}
/** A softer start: the plate follows the pedal slowly at first, and all the way in the end. */
export const softStart = (softness: number): NonNullable<PedalChoices['curve']> =>
  [0, 10, 25, 50, 75, 100].map((pedalPct) => {
    const x = pedalPct / 100
    return { pedalPct, platePct: Math.round(10 * (100 * ((1 - softness) * x + softness * x * x))) / 10 }
  })
