import { alongCurve, bentTo, CoreError } from '../kernel/index.ts'
import { type TuneDocument, TuneParameters } from '../tune/index.ts'
import { DIP_RPM, FIRES_WITHIN_S, OVERSHOOT_RPM, STEADY_WITHIN_S } from './limits.ts'
import type { Log } from './runs.ts'

const CRANKS_RPM = 60
const RUNS_RPM = 450
/** it is steady once it stays within so much of where it settles, rpm, and the score looks no further than so long after, s */
const STEADY_RPM = 80
const LOOKS_S = 30
const DIP_WITHIN_S = 10
/** the pulse of the display's speed: what is shorter is no dip */
const SMOOTH_S = 0.3

/** One thing to change after a start, with its size. */
export interface StartMove {
  text: string
  /** the curve of the tune that is bent for it at the coolant of the start: so many times what stands there, and so many points more */
  bends: { curve: 'crankingPct' | 'afterStartPct' | 'idleValvePct'; times: number; points: number } | null
}
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
  /** what to change, with its size, one at a time */
  moves: StartMove[]
}

/**
 * The starts of a log, each with its score: time to fire, overshoot, dip after it and time until steady.
 * @throws CoreError COLUMN_MISSING without engine speed
 */
export function startScores({ timeS, channels }: Log): StartScore[] {
  const { rpm, coolantC, lambda } = channels
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
      scores.push({ ...score, coolantC: temperature, moves: movesFor(score, lambda ? leanestAfter(timeS, lambda, from, to) : null) })
    }
    cranked = -1
    // a start is looked at once: on to where this one ends
    while (i + 1 < timeS.length && rpm[i + 1] >= CRANKS_RPM) i++
  }
  return scores
}
function scoreOf(
  timeS: Float64Array,
  rpm: Float32Array,
  cranked: number,
  from: number,
  to: number,
): Omit<StartScore, 'coolantC' | 'moves'> | null {
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
  const dip = Math.min(...early.slice(peak))
  let last = 0
  for (let k = 0; k < smooth.length; k++) if (Math.abs(smooth[k] - steadyRpm) > STEADY_RPM) last = k + 1
  const score = {
    atS: timeS[cranked],
    secondsToFire: timeS[from] - timeS[cranked],
    overshootRpm: Math.max(0, early[peak] - steadyRpm),
    dipRpm: Math.max(0, steadyRpm - dip),
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
/** Leanest of the first seconds, where the sensor is hot already; null: it is not. */
function leanestAfter(timeS: Float64Array, lambda: Float32Array, from: number, to: number): number | null {
  let most = -Infinity
  for (let i = from; i < to && timeS[i] - timeS[from] < DIP_WITHIN_S; i++) if (lambda[i] > most) most = lambda[i]
  return most > 0 ? most : null
}
function movesFor(score: Omit<StartScore, 'coolantC' | 'moves'>, leanest: number | null): StartMove[] {
  const moves: StartMove[] = []
  if (score.secondsToFire > FIRES_WITHIN_S)
    moves.push({
      text: `It took ${score.secondsToFire.toFixed(1)} s to fire (${FIRES_WITHIN_S} s wanted): 10 % more cranking fuel at this coolant, and dry plugs first. If that makes it longer, it was too much.`,
      bends: { curve: 'crankingPct', times: 1.1, points: 0 },
    })
  if (score.dipRpm > DIP_RPM) {
    const lean = leanest === null || leanest > 1.05
    const what = lean ? '10 points more after-start fuel at this coolant' : '5 % more valve at this coolant, since the mixture was not lean'
    moves.push({
      text: `It fell ${score.dipRpm.toFixed(0)} rpm under its idle after firing (${DIP_RPM} wanted): ${what}.`,
      bends: lean ? { curve: 'afterStartPct', times: 1, points: 10 } : { curve: 'idleValvePct', times: 1, points: 5 },
    })
  }
  if (score.overshootRpm > OVERSHOOT_RPM) {
    const less = Math.min(12, Math.max(2, Math.round(score.overshootRpm / 100)))
    moves.push({
      text: `It ran up ${score.overshootRpm.toFixed(0)} rpm over its idle (${OVERSHOOT_RPM} wanted): ${less} % less valve at this coolant.`,
      bends: { curve: 'idleValvePct', times: 1, points: -less },
    })
  }
  if (score.secondsToSteady > STEADY_WITHIN_S && moves.length === 0)
    moves.push({
      text: `Steady after ${score.secondsToSteady.toFixed(0)} s (${STEADY_WITHIN_S} s wanted): the valve’s start at this coolant is off by what it moved meanwhile.`,
      bends: null,
    })
  return moves
}

/**
 * A tune with one move of a start made: its curve bent at the coolant of that start, to a tenth.
 * @returns null where the move bends no curve, or the tune has no room for it
 */
export function applyStartMove(tune: TuneDocument, { bends }: StartMove, coolantC: number, provenance: string): TuneDocument | null {
  if (!bends) return null
  const { curve, times, points } = bends
  const stands = tune.parameters[curve]
  const next = bentTo(stands, coolantC, alongCurve(stands, coolantC) * times + points).map(([c, v]): [number, number] => [
    c,
    Math.round(10 * v) / 10,
  ])
  if (!TuneParameters.shape[curve].safeParse(next).success) return null
  return { ...tune, parameters: { ...tune.parameters, [curve]: next }, provenance: { ...tune.provenance, [curve]: provenance } }
}
