import { degC, kPa, lambda, type Said, say } from '../kernel/index.ts'
import type { Frame } from './frame.ts'
import { HIGH_LOAD_SHARE, LEAN_S, MAX_COOLANT_C, MIN_OIL_KPA, OIL_S } from './limits.ts'

/** Memory of the stop rules between frames; start with `startStopRules()`. */
export interface StopRuleState {
  runningSinceS: number | null
  leanSinceS: number | null
}
export const startStopRules = (): StopRuleState => ({ runningSinceS: null, leanSinceS: null })

/** Stop rules of handbook 06, step 5, judged on every frame. A reason means: pump and ignition off now. */
export function stopRule(state: StopRuleState, frame: Frame, barometerKpa: number): { state: StopRuleState; reason: Said | null } {
  const running = frame.state === 'running'
  const runningSinceS = running ? (state.runningSinceS ?? frame.timeS) : null
  const loaded = frame.mapKpa !== null && frame.mapKpa > HIGH_LOAD_SHARE * barometerKpa
  const lean = running && frame.lambda !== null && frame.lambda > 1 && (frame.fuelCut ?? 0) < 0.5 && loaded
  const leanSinceS = lean ? (state.leanSinceS ?? frame.timeS) : null
  const next = { runningSinceS, leanSinceS }
  const oilKpa = frame.oilPressureKpa
  if (runningSinceS !== null && frame.timeS - runningSinceS > OIL_S && oilKpa !== null && oilKpa < MIN_OIL_KPA)
    return { state: next, reason: say`No oil pressure after ${OIL_S} s (${kPa(oilKpa)})` }
  if (leanSinceS !== null && frame.timeS - leanSinceS >= LEAN_S)
    return {
      state: next,
      reason: say`Lean at high load: ${lambda(frame.lambda!, 2)} at ${kPa(frame.mapKpa!)} for ${LEAN_S} s`,
    }
  if (frame.coolantC !== null && frame.coolantC > MAX_COOLANT_C) return { state: next, reason: say`Coolant ${degC(frame.coolantC)}` }
  return { state: next, reason: null }
}
