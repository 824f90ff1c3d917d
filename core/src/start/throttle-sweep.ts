import { AGREE_PCT, MAX_JUMP_PCT, OPEN_PCT, SHUT_PCT } from './limits.ts'
/** One full press of the throttle with the engine still, as the stream showed it. */
export interface ThrottleSweep {
  topPct: number
  /** where it came to rest afterwards */
  restPct: number
  seconds: number
  largestJumpPct: number
  /** places at which the reading dropped out or turned back against the foot, % */
  deadSpotsPct: number[]
}
export interface SweepSample {
  timeS: number
  pct: number
}

/** a reading that turns back by more than this against the foot is no foot */
const BACK_PCT = 3
const SAME_SPOT_PCT = 6

/**
 * What one press shows. The way up and the way down are each looked at by themselves: a worn track drops the reading, or turns it back, where the
 * foot went on.
 * @param samples from just before it left the stop to where it rests again, in order
 */
export function readSweep(samples: readonly SweepSample[]): ThrottleSweep {
  const top = samples.reduce((best, s, i) => (s.pct > samples[best].pct ? i : best), 0)
  const legs = [samples.slice(0, top + 1), samples.slice(top).reverse()]
  const spots: number[] = []
  let largestJumpPct = 0
  for (const leg of legs) {
    let last = leg[0]?.pct ?? 0
    leg.forEach(({ pct }, i) => {
      if (pct < last - BACK_PCT) {
        const next = leg.slice(i + 1).find((s) => s.pct >= last)?.pct ?? last
        const at = (last + next) / 2
        if (!spots.some((spot) => Math.abs(spot - at) < SAME_SPOT_PCT)) spots.push(at)
        return
      }
      largestJumpPct = Math.max(largestJumpPct, pct - last)
      last = Math.max(last, pct)
    })
  }
  return {
    topPct: samples[top]?.pct ?? 0,
    restPct: samples.at(-1)?.pct ?? 0,
    seconds: samples.length ? samples[samples.length - 1].timeS - samples[0].timeS : 0,
    largestJumpPct,
    deadSpotsPct: spots.map((spot) => Math.round(spot)).sort((a, b) => a - b),
  }
}

/** What two presses together say (handbook 06, step 2): the same ends, the whole way, smooth. Empty when they are good. */
export function sweepProblems(sweeps: readonly ThrottleSweep[]): string[] {
  const [a, b] = sweeps.slice(-2)
  if (!b) return ['two full presses are wanted']
  const problems: string[] = []
  const spots = [...new Set([...a.deadSpotsPct, ...b.deadSpotsPct])]
  if (spots.length) problems.push(`the reading drops out at ${spots.map((s) => `${s} %`).join(', ')}: worn sensor or bad plug`)
  const jump = Math.max(a.largestJumpPct, b.largestJumpPct)
  if (jump > MAX_JUMP_PCT) problems.push(`jumps by ${jump.toFixed(0)} %; press more slowly, or the sensor is worn`)
  if (Math.abs(a.topPct - b.topPct) > AGREE_PCT)
    problems.push(`opens to ${a.topPct.toFixed(0)} % once and ${b.topPct.toFixed(0)} % then: carpet, cable or stop`)
  if (Math.abs(a.restPct - b.restPct) > AGREE_PCT)
    problems.push(`rests at ${a.restPct.toFixed(1)} % once and ${b.restPct.toFixed(1)} % then: a plate that sticks`)
  if (Math.min(a.topPct, b.topPct) < OPEN_PCT)
    problems.push(`opens to ${Math.min(a.topPct, b.topPct).toFixed(0)} %; ${OPEN_PCT} % is wanted`)
  if (Math.max(a.restPct, b.restPct) > SHUT_PCT)
    problems.push(`rests at ${Math.max(a.restPct, b.restPct).toFixed(1)} %; ${SHUT_PCT} % at most: learn the zero`)
  return problems
}

/** Memory of a watch for presses between samples. */
export interface SweepWatch {
  current: SweepSample[]
  shutSinceS: number | null
  last: SweepSample | null
  done: ThrottleSweep[]
}
export const startSweepWatch = (): SweepWatch => ({ current: [], shutSinceS: null, last: null, done: [] })
/** shut for so long it rests; a worn track reads shut for a moment only */
const RESTS_S = 0.3
/** less than this is a twitch, not a press */
const PRESS_PCT = 40
const MAX_SAMPLES = 1500
const REST_LEVEL_PCT = 12

/** Takes one sample; a press ends when it has rested again, wherever that is under an eighth of the way. */
export function watchSweep(watch: SweepWatch, sample: SweepSample): SweepWatch {
  const { last } = watch
  const low = sample.pct <= REST_LEVEL_PCT
  const still = last !== null && Math.abs(sample.pct - last.pct) < 0.5
  const shutSinceS = low && still ? (watch.shutSinceS ?? last.timeS) : null
  if (watch.current.length === 0) {
    const moved = last !== null && sample.pct > last.pct + 0.5
    return { ...watch, current: moved ? [last, sample] : [], shutSinceS, last: sample }
  }
  const current = watch.current.length < MAX_SAMPLES ? [...watch.current, sample] : watch.current
  if (shutSinceS === null || sample.timeS - shutSinceS < RESTS_S) return { ...watch, current, shutSinceS, last: sample }
  const sweep = readSweep(current)
  return {
    current: [],
    shutSinceS,
    last: sample,
    done: sweep.topPct >= PRESS_PCT ? [...watch.done, sweep].slice(-4) : watch.done,
  }
}
