import { degC, degCApart, type Said, say } from '../../kernel/index.ts'
import { meritOf, trialEstimate, type Held, type TrialEstimate } from './estimate.ts'
import {
  ALIKE_COOLANT_C,
  ALIKE_INTAKE_C,
  FIRST_HOLDS,
  KNOCK_BACK_DEG,
  KNOWN_DEG,
  MOST_HOLDS,
  MOST_OVER_DEG,
  MOST_UNDER_DEG,
  TORQUE_REPEATS_PCT,
  TRIAL_STEP_DEG,
} from './limits.ts'

/** One hold of a spark trial, as it was measured. */
export interface TrialPoint {
  advanceDegBtdc: number
  /** at the brake; or the throttle that held the same speed on the same grade, % */
  torqueNm?: number
  throttlePct?: number
  knock: boolean
  coolantC?: number
  intakeAirC?: number
}
export interface Trial {
  state: 'holds' | 'known' | 'knock' | 'scatters'
  /** advance of the next hold; null when the trial is over */
  nextDeg: number | null
  /** why that one */
  because: string
  /** what goes into the map, crank degrees BTDC; null before it is known */
  resultDeg: number | null
  /** torque at the result over that at the map's advance, %; null under what a brake tells */
  gainPct: number | null
  estimate: TrialEstimate | null
  /** advance of the first knock; null: none was heard */
  knockDeg: number | null
  used: TrialPoint[]
  leftOut: { point: TrialPoint; why: Said }[]
}

const apart = (a: number | undefined, b: number | undefined, by: number): boolean =>
  a !== undefined && b !== undefined && Math.abs(a - b) > by
/** Why a hold cannot be compared with the first; null: it can. */
function notAlike(point: TrialPoint, first: TrialPoint): Said | null {
  if (!meritOf(point)) return point.knock ? null : 'neither torque nor throttle was read'
  if ((point.torqueNm === undefined) !== (first.torqueNm === undefined)) return 'measured otherwise than the first hold'
  const other = (what: string, now: number, then: number, by: number) =>
    say`${what} ${degC(now)}, at the first hold ${degC(then)}; within ${degCApart(by)} is wanted`
  if (apart(point.coolantC, first.coolantC, ALIKE_COOLANT_C)) return other('coolant', point.coolantC!, first.coolantC!, ALIKE_COOLANT_C)
  if (apart(point.intakeAirC, first.intakeAirC, ALIKE_INTAKE_C))
    return other('intake air', point.intakeAirC!, first.intakeAirC!, ALIKE_INTAKE_C)
  return null
}
/** Holds that can be compared: one measure throughout, coolant and air like those of the first. */
function comparable(points: readonly TrialPoint[]): Pick<Trial, 'used' | 'leftOut'> {
  const first = points.find((p) => meritOf(p))
  const used: TrialPoint[] = []
  const leftOut: Trial['leftOut'] = []
  for (const point of points) {
    const why = notAlike(point, first ?? point)
    if (why) leftOut.push({ point, why })
    else used.push(point)
  }
  return { used, leftOut }
}
/** Advance of the first knock, crank degrees BTDC; null: none was heard. */
export function firstKnockDeg(points: readonly TrialPoint[]): number | null {
  const knocked = points.filter((p) => p.knock).map((p) => p.advanceDegBtdc)
  return knocked.length ? Math.min(...knocked) : null
}
/** Most that may be held after a knock at an angle. */
export const underKnockDeg = (knockDeg: number): number => Math.floor(knockDeg - KNOCK_BACK_DEG)
/** Angles are whole degrees: nobody sets less. */
const whole = (deg: number) => Math.round(deg)
/** what a unit commands differs by less from what was typed, ° */
const SAME_DEG = 0.75
const sameDeg = (a: number, b: number) => Math.abs(a - b) < SAME_DEG

/** The first five, from the late side: knock is met at its edge, never from beyond it. */
const firstHolds = (mapDeg: number): number[] =>
  Array.from({ length: FIRST_HOLDS }, (_, i) => whole(mapDeg) + (i - (FIRST_HOLDS - 1) / 2) * TRIAL_STEP_DEG)

/** The hold that tells most of the least advance, between the latest tried and one step over the earliest. */
function tellingMost(estimate: TrialEstimate, used: readonly TrialPoint[], from: number, to: number): number {
  const tried = used.map((p) => p.advanceDegBtdc)
  const low = Math.max(whole(from) - MOST_UNDER_DEG, Math.min(...tried) - 2 * TRIAL_STEP_DEG)
  const high = Math.min(to, Math.max(...tried) + TRIAL_STEP_DEG)
  let best = whole(from)
  let most = -1
  for (let deg = Math.ceil(Math.min(low, high)); deg <= high; deg++) {
    const tells = estimate.tells(deg)
    if (tells > most) [best, most] = [deg, tells]
  }
  return best
}

function gainOf(estimate: TrialEstimate, resultDeg: number, mapDeg: number): number | null {
  const gainPct = 100 * (estimate.curve(resultDeg).share / estimate.curve(mapDeg).share - 1)
  return gainPct > TORQUE_REPEATS_PCT ? gainPct : null
}
/** The holds on the scale of the estimate's curve, whose best is 1; none before there is a curve. */
export function heldShares({
  used,
  estimate,
}: Pick<Trial, 'used' | 'estimate'>): { advanceDegBtdc: number; share: number; knock: boolean }[] {
  if (!estimate) return []
  const held = used.flatMap(({ advanceDegBtdc, knock, ...point }) => {
    const merit = meritOf(point)?.merit
    return merit === undefined ? [] : [{ advanceDegBtdc, knock, merit }]
  })
  const best = held.reduce((sum, h) => sum + h.merit / estimate.curve(h.advanceDegBtdc).share, 0) / held.length
  return held.map(({ merit, ...h }) => ({ ...h, share: merit / best }))
}

/**
 * A spark trial at one held speed and load, as far as it has gone: the next hold, or what it came to. Five advances three degrees apart from the
 * late side; then the hold that tells most, until the least advance within 1 % of the best torque is known; off at the first knock.
 * @param mapDeg advance that the map holds there, crank degrees BTDC
 */
export function judgeTrial(points: readonly TrialPoint[], mapDeg: number): Trial {
  const { used, leftOut } = comparable(points)
  // a knock counts however hot it was: it was heard
  const knockDeg = firstKnockDeg(points)
  const topDeg = Math.min(whole(mapDeg) + MOST_OVER_DEG, knockDeg === null ? Infinity : underKnockDeg(knockDeg))
  const holds: Held[] = used.flatMap((p) => {
    const merit = p.knock ? null : meritOf(p)
    return merit ? [{ advanceDegBtdc: p.advanceDegBtdc, ...merit }] : []
  })
  const estimate = holds.length >= 2 ? trialEstimate(holds, mapDeg) : null
  const open = { resultDeg: null, gainPct: null, estimate, knockDeg, used, leftOut }
  const ended = (state: 'known' | 'knock' | 'scatters', result: number | null, because: string): Trial => ({
    ...open,
    state,
    nextDeg: null,
    because,
    resultDeg: result,
    gainPct: result === null || !estimate ? null : gainOf(estimate, result, mapDeg),
  })
  const next = (nextDeg: number, because: string): Trial => ({ ...open, state: 'holds', nextDeg, because })

  const untried = firstHolds(mapDeg).find((deg) => deg <= topDeg && !used.some((p) => sameDeg(p.advanceDegBtdc, deg)))
  if (untried !== undefined && used.length < FIRST_HOLDS)
    return next(
      untried,
      used.length ? 'three degrees earlier than the last, while nothing knocks' : 'from the late side, six degrees under the map',
    )
  const least = estimate?.leastDeg ?? Infinity
  if (knockDeg !== null && topDeg <= least)
    return ended('knock', topDeg, `it knocked at ${knockDeg.toFixed(0)}°: ${KNOCK_BACK_DEG}° back, and no further`)
  if (estimate && holds.length >= FIRST_HOLDS - 1 && estimate.leastSdDeg <= KNOWN_DEG)
    return ended(
      'known',
      whole(Math.min(least, topDeg)),
      `within 1 % of the best torque from ${least.toFixed(1)} ± ${estimate.leastSdDeg.toFixed(1)}° on`,
    )
  if (used.length >= MOST_HOLDS)
    return ended(
      'scatters',
      null,
      `${used.length} holds and the torque scatters by ${(100 * (estimate?.noise ?? 0)).toFixed(1)} %: look for what is not alike from hold to hold`,
    )
  return next(
    estimate ? tellingMost(estimate, used, mapDeg, topDeg) : topDeg,
    'the hold that tells most of where the torque begins to fall',
  )
}
