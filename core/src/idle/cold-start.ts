import { alongCurve, bentTo, CoreError } from '../kernel/index.ts'
import { type TuneDocument, TuneParameters } from '../tune/index.ts'
import {
  AFTER_START_PCT,
  AIM_AFTER,
  DIP_RPM,
  FIRES_WITHIN_S,
  LEAN_AFTER,
  LEAST_VALVE_PCT,
  LONG_TIMES,
  MOST_AFTER_START_PCT,
  MOST_VALVE_PCT,
  OVERSHOOT_RPM,
  RICH_AFTER,
  STEADY_WITHIN_S,
} from './limits.ts'
import type { Log } from './runs.ts'

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

/** One thing to change after a start, with its size. */
export interface StartMove {
  /** what a check that the log cannot replace must have shown for it; null: the log tells enough */
  when: string | null
  text: string
  /** the curve of the tune that is bent for it at the coolant of the start: so many times what stands there, and so many points more */
  bends: { curve: 'crankingPct' | 'afterStartPct' | 'warmupPct' | 'idleValvePct'; times: number; points: number } | null
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

type Scored = Omit<StartScore, 'coolantC' | 'moves'>

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
      scores.push({ ...score, coolantC: temperature, moves: movesFor(score, seen) })
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

/** A mixture, lambda, and the fuel that was given for it, % of a warm engine's. */
interface Burnt {
  lambda: number
  givenPct: number
}
interface Seen {
  /** after firing, and later while it warms */
  mixture: (Burnt & { later: Burnt | null }) | null
  valvePct: number | null
}
const moreValve = (points: number): StartMove['bends'] => ({ curve: 'idleValvePct', times: 1, points })
function movesFor(score: Scored, { mixture, valvePct }: Seen): StartMove[] {
  const moves: StartMove[] = []
  if (score.secondsToFire > FIRES_WITHIN_S) moves.push(...crankingMoves(score.secondsToFire))
  if (score.dipRpm > DIP_RPM) moves.push(...dipMoves(score.dipRpm, { mixture, valvePct }))
  if (score.overshootRpm > OVERSHOOT_RPM) {
    const less = Math.min(12, Math.max(2, Math.round(score.overshootRpm / 100)))
    moves.push({
      when: null,
      text: `It ran up ${score.overshootRpm.toFixed(0)} rpm over its idle (${OVERSHOOT_RPM} wanted): ${less} % less valve at this coolant.`,
      bends: moreValve(-less),
    })
  }
  if (score.secondsToSteady > STEADY_WITHIN_S && moves.length === 0) moves.push(slowMove(score.secondsToSteady, { mixture, valvePct }))
  return moves
}
function slowMove(secondsToSteady: number, { mixture, valvePct }: Seen): StartMove {
  const steady = `Steady after ${secondsToSteady.toFixed(0)} s (${STEADY_WITHIN_S} s wanted)`
  const lean = warmUpMove(steady, mixture)
  if (lean) return lean
  const points = Math.max(-MOST_VALVE_PCT, Math.min(MOST_VALVE_PCT, Math.round(valvePct ?? 0)))
  const moved = points === 0 ? '' : `: ${Math.abs(points)} % ${points > 0 ? 'more' : 'less'}`
  return {
    when: null,
    text: `${steady}: the valve’s start at this coolant is off by what it moved meanwhile${moved}.`,
    bends: points === 0 ? null : moreValve(points),
  }
}
/** Lean still when the fuel after a start is gone: no other fuel is looked at before. */
function warmUpMove(said: string, mixture: Seen['mixture']): StartMove | null {
  const later = mixture?.later
  if (!later || later.lambda <= LEAN_AFTER) return null
  const points = Math.round(Math.min(MOST_AFTER_START_PCT, later.givenPct * (later.lambda - 1)))
  return {
    when: null,
    text: `${said}, and lambda is ${later.lambda.toFixed(2)} still when the fuel after a start is gone: ${points} points more warm-up fuel at this coolant.`,
    bends: { curve: 'warmupPct', times: 1, points },
  }
}
/** Too little and too much fuel crank alike: the plugs tell. */
function crankingMoves(secondsToFire: number): StartMove[] {
  const long = secondsToFire > LONG_TIMES * FIRES_WITHIN_S
  const took = `It took ${secondsToFire.toFixed(1)} s to fire (${FIRES_WITHIN_S} s wanted)`
  const [more, less] = long ? [25, 25] : [10, 10]
  return [
    {
      when: 'Cranked as long again and broken off, a plug taken out is dry',
      text: `${took}: ${more} % more cranking fuel at this coolant.`,
      bends: { curve: 'crankingPct', times: 1 + more / 100, points: 0 },
    },
    {
      when: 'Cranked as long again and broken off, a plug taken out is wet',
      text: `${took}: ${less} % less cranking fuel at this coolant, after the plugs are dry.`,
      bends: { curve: 'crankingPct', times: 1 - less / 100, points: 0 },
    },
  ]
}
function dipMoves(dipRpm: number, { mixture, valvePct }: Seen): StartMove[] {
  const fell = `It fell ${dipRpm.toFixed(0)} rpm after firing (${DIP_RPM} wanted)`
  const afterStart = (points: number): StartMove['bends'] => ({ curve: 'afterStartPct', times: 1, points })
  const points = Math.min(MOST_VALVE_PCT, Math.max(LEAST_VALVE_PCT, Math.round(valvePct ?? 0)))
  const air = `${points} % more valve at this coolant`
  if (mixture === null)
    return [
      {
        when: 'Opened a hair by hand as it falls, it coughs or dies',
        text: `${fell}: ${AFTER_START_PCT} points more after-start fuel at this coolant.`,
        bends: afterStart(AFTER_START_PCT),
      },
      { when: 'Opened a hair by hand as it falls, it catches', text: `${fell}: ${air}.`, bends: moreValve(points) },
    ]
  const warmUp = warmUpMove(fell, mixture)
  if (warmUp) return [warmUp]
  const { lambda, givenPct } = mixture
  const read = `lambda ${lambda.toFixed(2)} there`
  // fuel that would bring it to what a cold engine runs well on
  const byFuel = Math.round(Math.min(MOST_AFTER_START_PCT, Math.max(AFTER_START_PCT, givenPct * Math.abs(lambda / AIM_AFTER - 1))))
  if (lambda > LEAN_AFTER)
    return [{ when: null, text: `${fell}, ${read}: ${byFuel} points more after-start fuel at this coolant.`, bends: afterStart(byFuel) }]
  if (lambda < RICH_AFTER)
    return [
      {
        when: null,
        text: `${fell}, ${read}, too rich to burn well: ${byFuel} points less after-start fuel at this coolant.`,
        bends: afterStart(-byFuel),
      },
      { when: 'There is none left to take', text: `${fell}, ${read}: ${air}.`, bends: moreValve(points) },
    ]
  return [{ when: null, text: `${fell}, ${read}: ${air}, since the mixture was neither lean nor drowned.`, bends: moreValve(points) }]
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
    // what is taken ends at nothing
    Math.max(0, Math.round(10 * v) / 10),
  ])
  if (next.every(([, v], i) => v === stands[i][1])) return null
  if (!TuneParameters.shape[curve].safeParse(next).success) return null
  return { ...tune, parameters: { ...tune.parameters, [curve]: next }, provenance: { ...tune.provenance, [curve]: provenance } }
}
