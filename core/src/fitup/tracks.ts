import { CoreError, monotoneCubic } from '../kernel/index.ts'
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
  /** rms of what is faster than a foot, while it stands still and while it moves, % */
  restNoisePct: number
  noisePct: number
  spikesPerMin: number
  /** each track's ends, V */
  ends: { oneV: [number, number]; twoV: [number, number] }
  /** why it is not sound; empty: it is */
  wrong: string[]
}
const LEAST_S = 3
const LEAST_SPAN_V = 1
/** under this a supply or a ground is gone, or a wire broken: no track lives there, V */
const DEAD_V = 0.08
const SHORT_V = 4.95
/** half a window of the running median, samples */
const HALF = 4
/** moving at all, % in a sample */
const MOVES_PCT = 0.05
const median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1]
const smoothed = (v: readonly number[]): number[] => v.map((_, i) => median(v.slice(Math.max(0, i - HALF), i + HALF + 1)))
const rms = (list: readonly number[]): number => (list.length ? Math.sqrt(list.reduce((s, v) => s + v * v, 0) / list.length) : 0)

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
  const one = track(oneV)
  const two = track(twoV)
  if (one.span < LEAST_SPAN_V && two.span < LEAST_SPAN_V) wrong.push('neither track moves by a volt: stuck, or not moved from end to end')
  for (const [name, t] of [
    ['one', one],
    ['two', two],
  ] as const)
    if (t.span < LEAST_SPAN_V && !wrong.length) wrong.push(`track ${name} does not move with the other`)
  let apartPct = 0
  let atPct = 0
  one.slow.forEach((v, i) => {
    const apart = Math.abs(v - two.slow[i])
    if (apart > apartPct) [apartPct, atPct] = [apart, v]
  })
  if (!wrong.length && apartPct > TRACKS_PCT)
    wrong.push(`the tracks differ by ${apartPct.toFixed(1)} % at ${atPct.toFixed(0)} % of the way`)
  const moves = one.slow.map(
    (v, i) => Math.abs(v - one.slow[Math.max(0, i - 1)]) > MOVES_PCT || Math.abs(two.slow[i] - two.slow[Math.max(0, i - 1)]) > MOVES_PCT,
  )
  const calm = (t: typeof one, moving: boolean): number[] => t.fast.filter((v, i) => moves[i] === moving && Math.abs(v) <= SPIKE_PCT)
  const noisePct = Math.max(rms(calm(one, true)), rms(calm(two, true)))
  const restNoisePct = Math.max(rms(calm(one, false)), rms(calm(two, false)))
  const spikes = spikesOf(one.fast) + spikesOf(two.fast)
  const spikesPerMin = (60 * spikes) / lengthS
  if (Math.max(noisePct, restNoisePct) > NOISE_PCT)
    wrong.push(
      restNoisePct <= NOISE_PCT
        ? `noise of ${noisePct.toFixed(1)} % while it moves, clean at rest: linkage, spring or mount`
        : `noise of ${Math.max(noisePct, restNoisePct).toFixed(1)} %: shield, ground, or the track itself`,
    )
  if (spikesPerMin > SPIKES_PER_MIN && spikes > 1)
    wrong.push(`${spikes} spikes over ${SPIKE_PCT} % in ${lengthS.toFixed(0)} s: a worn spot or a loose pin`)
  return { apartPct, atPct, restNoisePct, noisePct, spikesPerMin, ends: { oneV: one.ends, twoV: two.ends }, wrong }
}
/** One track over its own ends, %, the slow of it and what is faster. A track may fall as the pedal goes down: then it is turned over. */
function track(v: readonly number[]) {
  const slowV = smoothed(v)
  const [low, high] = [Math.min(...slowV), Math.max(...slowV)]
  const span = high - low
  if (span < LEAST_SPAN_V) return { slow: v.map(() => 0), fast: v.map(() => 0), span, ends: [low, high] as [number, number] }
  const falls = Math.abs(slowV[0] - high) < Math.abs(slowV[0] - low)
  const share = (x: number): number => (span > 0 ? (100 * (falls ? high - x : x - low)) / span : 0)
  const slow = slowV.map(share)
  return { slow, fast: v.map((x, i) => share(x) - slow[i]), span, ends: (falls ? [high, low] : [low, high]) as [number, number] }
}
const spikesOf = (fast: readonly number[]): number =>
  fast.filter((v, i) => Math.abs(v) > SPIKE_PCT && !(i > 0 && Math.abs(fast[i - 1]) > SPIKE_PCT)).length

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
