import { CORRECTION_OFF_PCT, FLICKER_LAMBDA, HUNT_RPM, MIN_TOTAL_S, MIXTURE_OFF, OFF_TARGET_RPM, ROUGH_RPM } from './limits.ts'
import type { Judged } from './rules.ts'

/** seconds of idle that double the sureness of a verdict, and what a channel that is not there takes from a "good" */
export const SURER_IN_S = 20
const BLIND = { valve: 0.7, lambda: 0.75, target: 0.6, throttle: 0.85 }

/** What would make the verdict surer. */
export function wantsOf(m: Judged): string[] {
  return [
    ...(m.overRpm === null ? ['the target speed'] : []),
    ...(m.valveMeanPct === null ? ['the idle valve’s position'] : []),
    ...(m.lambdaMean === null ? ['the mixture'] : []),
    ...(m.restsAtPct === null ? ['the throttle’s position'] : []),
    ...(m.seconds < 2 * MIN_TOTAL_S ? [`${(2 * MIN_TOTAL_S - m.seconds).toFixed(0)} s more of it`] : []),
    ...(m.correctionMeanPct !== null && m.correctionMeanPct > CORRECTION_OFF_PCT && m.correctionDrivenPct === null
      ? ['ten seconds held at 2,500 rpm']
      : []),
  ]
}
/** A thing twice its threshold is nearly certain, one at it is a toss. */
export const sureOf = (margin: number): number => 1 - 0.5 * 2 ** (-3 * Math.max(0, margin - 1))
/** How far a good idle stays from every threshold, worst first, times what it cannot see. */
export function sureGood(m: Judged): number {
  const shares = [
    Math.abs(m.overRpm ?? 0) / OFF_TARGET_RPM,
    (m.swing?.amplitudeRpm ?? 0) / HUNT_RPM,
    Math.abs(m.leanBy ?? 0) / MIXTURE_OFF,
    Math.abs(m.correctionMeanPct ?? 0) / CORRECTION_OFF_PCT,
    m.flicker === null ? 0 : Math.min(m.roughRpm / ROUGH_RPM, m.flicker / FLICKER_LAMBDA),
  ]
  const nearest = Math.max(...shares)
  const seen =
    (m.overRpm === null ? BLIND.target : 1) *
    (m.valveMeanPct === null ? BLIND.valve : 1) *
    (m.lambdaMean === null ? BLIND.lambda : 1) *
    (m.restsAtPct === null ? BLIND.throttle : 1)
  return seen * (1 - 0.5 * Math.min(1, nearest) ** 3)
}
