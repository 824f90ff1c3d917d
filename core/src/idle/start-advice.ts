import { alongCurve, bentTo } from '../kernel/index.ts'
import { type TuneDocument, TuneParameters } from '../tune/index.ts'
import type { Scored } from './cold-start.ts'
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

/** One thing to change after a start, with its size. */
export interface StartMove {
  /** what a check that the log cannot replace must have shown for it; null: the log tells enough */
  when: string | null
  text: string
  /** the curve of the tune that is bent for it at the coolant of the start: so many times what stands there, and so many points more */
  bends: { curve: 'crankingPct' | 'afterStartPct' | 'warmupPct' | 'idleValvePct'; times: number; points: number }
}
/** A mixture, lambda, and the fuel that was given for it, % of a warm engine's. */
interface Burnt {
  lambda: number
  givenPct: number
}
export interface Seen {
  /** after firing, and later while it warms */
  mixture: (Burnt & { later: Burnt | null }) | null
  valvePct: number | null
}
interface Advice {
  found: string
  moves: StartMove[]
}
const bent = (curve: NonNullable<StartMove['bends']>['curve'], points: number) => ({ curve, times: 1, points })
const moreValve = (points: number, when: string | null = null): StartMove => ({
  when,
  text: `${Math.abs(points)} % ${points > 0 ? 'more' : 'less'} valve at this coolant`,
  bends: bent('idleValvePct', points),
})
const moreAfterStart = (points: number, when: string | null = null): StartMove => ({
  when,
  text: `${Math.abs(points)} points ${points > 0 ? 'more' : 'less'} after-start fuel at this coolant`,
  bends: bent('afterStartPct', points),
})

/** What is off first at a start: firing before falling, falling before running up, and only then how long it takes to stand. */
export function adviceOn(score: Scored, seen: Seen): Advice | { found: null; moves: [] } {
  const { secondsToFire, dipRpm, overshootRpm, secondsToSteady } = score
  if (secondsToFire > FIRES_WITHIN_S) return slowToFire(secondsToFire)
  if (dipRpm > DIP_RPM) return falls(dipRpm, seen)
  if (overshootRpm > OVERSHOOT_RPM)
    return {
      found: `It ran up ${overshootRpm.toFixed(0)} rpm over its idle (${OVERSHOOT_RPM} wanted)`,
      moves: [moreValve(-Math.min(12, Math.max(2, Math.round(overshootRpm / 100))))],
    }
  return secondsToSteady > STEADY_WITHIN_S ? slowToStand(secondsToSteady, seen) : { found: null, moves: [] }
}
/** Too little and too much fuel crank alike: the plugs tell. */
function slowToFire(secondsToFire: number): Advice {
  const pct = secondsToFire > LONG_TIMES * FIRES_WITHIN_S ? 25 : 10
  const cranking = (way: 'more' | 'less') => ({ curve: 'crankingPct' as const, times: 1 + (way === 'more' ? pct : -pct) / 100, points: 0 })
  return {
    found: `It took ${secondsToFire.toFixed(1)} s to fire (${FIRES_WITHIN_S} s wanted). Crank as long again and break off before it fires, then, key off, take a plug out`,
    moves: [
      { when: 'The plug is dry', text: `${pct} % more cranking fuel at this coolant`, bends: cranking('more') },
      { when: 'The plug is wet', text: `${pct} % less cranking fuel at this coolant, after the plugs are dried`, bends: cranking('less') },
    ],
  }
}
function falls(dipRpm: number, { mixture, valvePct }: Seen): Advice {
  const fell = `It fell ${dipRpm.toFixed(0)} rpm after firing (${DIP_RPM} wanted)`
  const points = Math.min(MOST_VALVE_PCT, Math.max(LEAST_VALVE_PCT, Math.round(valvePct ?? 0)))
  if (mixture === null)
    return {
      found: `${fell}, and nothing tells the mixture there. Open the throttle a hair by hand as it falls`,
      moves: [moreAfterStart(AFTER_START_PCT, 'It coughs or dies'), moreValve(points, 'It catches')],
    }
  const warmUp = leanStill(fell, mixture)
  if (warmUp) return warmUp
  const { lambda, givenPct } = mixture
  const read = `${fell}, at lambda ${lambda.toFixed(2)}`
  // fuel that would bring it to what a cold engine runs well on
  const byFuel = Math.round(Math.min(MOST_AFTER_START_PCT, Math.max(AFTER_START_PCT, givenPct * Math.abs(lambda / AIM_AFTER - 1))))
  if (lambda > LEAN_AFTER) return { found: `${read}: lean`, moves: [moreAfterStart(byFuel)] }
  if (lambda < RICH_AFTER)
    return { found: `${read}: too rich to burn well`, moves: [moreAfterStart(-byFuel), moreValve(points, 'There is none left to take')] }
  return { found: `${read}: neither lean nor drowned, so that it wants air`, moves: [moreValve(points)] }
}
/** Lean still when the fuel after a start is gone: no other fuel is looked at before. */
function leanStill(found: string, mixture: Seen['mixture']): Advice | null {
  const later = mixture?.later
  if (!later || later.lambda <= LEAN_AFTER) return null
  const points = Math.round(Math.min(MOST_AFTER_START_PCT, later.givenPct * (later.lambda - 1)))
  return {
    found: `${found}, and lambda is ${later.lambda.toFixed(2)} still when the fuel after a start is gone`,
    moves: [{ when: null, text: `${points} points more warm-up fuel at this coolant`, bends: bent('warmupPct', points) }],
  }
}
function slowToStand(secondsToSteady: number, { mixture, valvePct }: Seen): Advice {
  const steady = `Steady after ${secondsToSteady.toFixed(0)} s (${STEADY_WITHIN_S} s wanted)`
  const points = Math.max(-MOST_VALVE_PCT, Math.min(MOST_VALVE_PCT, Math.round(valvePct ?? 0)))
  return (
    leanStill(steady, mixture) ?? {
      found: `${steady}: the valve’s start at this coolant is off by what it moved meanwhile`,
      moves: points === 0 ? [] : [moreValve(points)],
    }
  )
}

/**
 * A tune with one move of a start made: its curve bent at the coolant of that start, to a tenth.
 * @returns with it what the curve gives at that coolant before and after, %; null where the tune has no room for it
 */
export function applyStartMove(
  tune: TuneDocument,
  { bends }: StartMove,
  coolantC: number,
  provenance: string,
): { tune: TuneDocument; fromPct: number; toPct: number } | null {
  const { curve, times, points } = bends
  const stands = tune.parameters[curve]
  const next = bentTo(stands, coolantC, alongCurve(stands, coolantC) * times + points).map(([c, v]): [number, number] => [
    c,
    // what is taken ends at nothing
    Math.max(0, Math.round(10 * v) / 10),
  ])
  if (next.every(([, v], i) => v === stands[i][1])) return null
  if (!TuneParameters.shape[curve].safeParse(next).success) return null
  return {
    tune: { ...tune, parameters: { ...tune.parameters, [curve]: next }, provenance: { ...tune.provenance, [curve]: provenance } },
    fromPct: alongCurve(stands, coolantC),
    toPct: alongCurve(next, coolantC),
  }
}
