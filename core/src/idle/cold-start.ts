import { CoreError } from '../kernel/index.ts'
import { DIP_RPM, FIRES_WITHIN_S, OVERSHOOT_RPM, STEADY_WITHIN_S } from './limits.ts'
import type { Log } from './runs.ts'
import { adviceOn, type Seen, type StartMove } from './start-advice.ts'

const CRANKS_RPM = 60
const RUNS_RPM = 450
/** it is steady once it stays within so much of where it settles, rpm, and the score looks no further than so long after, s */
const STEADY_RPM = 80
const LOOKS_S = 30
const DIP_WITHIN_S = 10
/** the pulse of the display's speed: what is shorter is no dip */
const SMOOTH_S = 0.3
/** the mixture after firing is that of these seconds, and what the valve had to move is told from its first to its last so many */
const FIRED_FROM_S = 0.5
const FIRED_TO_S = 5
/** after-start fuel is gone by then: what is lean still is the warm-up, s */
const LATER_FROM_S = 20
const VALVE_S = 1
const LEAST_ROWS = 5

/** How one start went. */
export interface StartScore {
  atS: number
  coolantC: number | null
  secondsToFire: number
  overshootRpm: number
  dipRpm: number
  secondsToSteady: number
  steadyRpm: number
  good: boolean
  /** the first thing that is off, and what to change for it, with its size: one thing for one start. Null: it is good */
  found: string | null
  moves: StartMove[]
}

export type Scored = Omit<StartScore, 'coolantC' | 'found' | 'moves'>

/**
 * The starts of a log, each with its score: time to fire, overshoot, dip after it and time until steady.
 * @throws CoreError COLUMN_MISSING without engine speed
 */
export function startScores({ timeS, channels }: Log): StartScore[] {
  const { rpm, coolantC } = channels
  if (!rpm) throw new CoreError('COLUMN_MISSING', 'engine speed')
  const scores: StartScore[] = []
  let cranked = -1
  for (let i = 0; i < timeS.length; i++) {
    if (rpm[i] < CRANKS_RPM) cranked = -1
    else if (cranked < 0 && (i === 0 ? rpm[i] < RUNS_RPM : rpm[i - 1] < CRANKS_RPM)) cranked = i
    if (cranked < 0 || rpm[i] < RUNS_RPM) continue
    const from = i
    let to = i
    while (to < timeS.length && timeS[to] - timeS[from] < LOOKS_S && rpm[to] >= CRANKS_RPM) to++
    const score = scoreOf(timeS, rpm, cranked, from, to)
    if (score) {
      const temperature = coolantC && !Number.isNaN(coolantC[cranked]) ? coolantC[cranked] : null
      const seen = { mixture: mixtureAfter(timeS, channels, from, to), valvePct: valveMoved(timeS, channels.idleValvePct, from, to) }
      scores.push({ ...score, coolantC: temperature, ...adviceOn(score, seen) })
    }
    cranked = -1
    // a start is looked at once: on to where this one ends
    while (i + 1 < timeS.length && rpm[i + 1] >= CRANKS_RPM) i++
  }
  return scores
}
function scoreOf(timeS: Float64Array, rpm: Float32Array, cranked: number, from: number, to: number): Scored | null {
  if (to - from < 10 || timeS[to - 1] - timeS[from] < DIP_WITHIN_S) return null
  const smooth = new Float64Array(to - from)
  let value = rpm[from]
  for (let k = from; k < to; k++) {
    const dt = k === from ? 0 : timeS[k] - timeS[k - 1]
    value += (rpm[k] - value) * Math.min(1, dt / SMOOTH_S)
    smooth[k - from] = value
  }
  const tail = smooth.slice(Math.floor(0.75 * smooth.length))
  const steadyRpm = tail.reduce((s, v) => s + v, 0) / tail.length
  const early = [...smooth].filter((_, k) => timeS[from + k] - timeS[from] <= DIP_WITHIN_S)
  const peak = early.reduce((best, v, k) => (v > early[best] ? k : best), 0)
  // the deepest fall from where it had come to, or from its idle where it had run up over it
  let [reached, dipRpm] = [-Infinity, 0]
  for (const v of early) {
    reached = Math.min(steadyRpm, Math.max(reached, v))
    dipRpm = Math.max(dipRpm, reached - v)
  }
  let last = 0
  for (let k = 0; k < smooth.length; k++) if (Math.abs(smooth[k] - steadyRpm) > STEADY_RPM) last = k + 1
  const score = {
    atS: timeS[cranked],
    secondsToFire: timeS[from] - timeS[cranked],
    overshootRpm: Math.max(0, early[peak] - steadyRpm),
    dipRpm,
    secondsToSteady: timeS[Math.min(to - 1, from + last)] - timeS[from],
    steadyRpm,
  }
  return {
    ...score,
    good:
      score.secondsToFire <= FIRES_WITHIN_S &&
      score.dipRpm <= DIP_RPM &&
      score.overshootRpm <= OVERSHOOT_RPM &&
      score.secondsToSteady <= STEADY_WITHIN_S,
  }
}
/**
 * Mixture in the seconds after firing, lambda. A sensor that is hot already reads it, and the leanest counts; of one that wakes later what it reads then
 * is led back by the fuel that was given then and at first. Null: neither is told. With it the fuel that was given at first, % of a warm engine's.
 *
 *     lambda at first = lambda later x (1 + enrichment later)(1 + correction later) / ((1 + enrichment at first)(1 + correction at first))
 */
function mixtureAfter(
  timeS: Float64Array,
  { lambda, enrichmentPct, correctionPct }: Log['channels'],
  from: number,
  to: number,
): Seen['mixture'] {
  if (!lambda) return null
  const rows = Array.from({ length: to - from }, (_, k) => from + k)
  const read = rows.filter((k) => lambda[k] > 0)
  const within = (fromS: number, toS: number) => (k: number) => timeS[k] - timeS[from] >= fromS && timeS[k] - timeS[from] < toS
  const given = (k: number): number => (1 + (enrichmentPct?.[k] || 0) / 100) * (1 + (correctionPct?.[k] || 0) / 100)
  const first = mean(rows.filter(within(FIRED_FROM_S, FIRED_TO_S)).map(given))
  const early = read.filter(within(0, DIP_WITHIN_S))
  const late = read.filter(within(LATER_FROM_S, Infinity))
  const later = late.length >= LEAST_ROWS ? { lambda: mean(late.map((k) => lambda[k])), givenPct: 100 * mean(late.map(given)) } : null
  if (early.length >= LEAST_ROWS) return { lambda: Math.max(...early.map((k) => lambda[k])), givenPct: 100 * first, later }
  if (!enrichmentPct || read.length < LEAST_ROWS) return null
  const lambdaThen = mean(read.map((k) => lambda[k] * given(k))) / first
  return Number.isFinite(lambdaThen) ? { lambda: lambdaThen, givenPct: 100 * first, later } : null
}
const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length
/** How far the valve had to move from its start until the speed stood, %; null: the log does not tell. */
function valveMoved(timeS: Float64Array, valve: Float32Array | undefined, from: number, to: number): number | null {
  if (!valve) return null
  const over = (fromS: number, toS: number): number =>
    mean([...valve.subarray(from, to)].filter((v, k) => !Number.isNaN(v) && timeS[from + k] >= fromS && timeS[from + k] <= toS))
  const moved = over(timeS[to - 1] - VALVE_S, timeS[to - 1]) - over(timeS[from], timeS[from] + VALVE_S)
  return Number.isFinite(moved) ? moved : null
}
