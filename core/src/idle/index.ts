export { type AirBalance, airBalance, type IdlePoint, plateEndsMm2, valveSharePct } from './air.ts'
export { idleCauseWords, type IdleOptions, IdleVerdict } from './answer.ts'
export { catches, catchesSaid, type LeftRest } from './catches.ts'
export { startScores, type StartScore } from './cold-start.ts'
export { applyStartMove, type StartMove } from './start-advice.ts'
export { idleEntries, Regime, regimeWords } from './entries.ts'
export { learnsIdle } from './findings.ts'
export { goodIdle, type IdleMove, idleMoves, idlePoints, turnsSoFar, warmDays } from './history.ts'
export { idleModeSeen } from './idle-mode.ts'
export {
  BACK_WITHIN_S,
  DIP_RPM,
  FAN_DROP_RPM,
  FIRES_WITHIN_S,
  GEAR_DROP_RPM,
  HOSE_RPM,
  LEAST_MARGIN_DEG,
  OVERSHOOT_RPM,
  STEADY_WITHIN_S,
  WARM_C,
  WARM_IDLES,
} from './limits.ts'
export { lookAt } from './look.ts'
export { type Load, loadDrop, type LoadDrop } from './load-drop.ts'
export { type IdlePlant, type LoopMove, loopMove, mixtureLoopMove, phaseMarginDeg, sparkMove } from './loop.ts'
export { carIdleOptions, controllerOf, idleOptions, tuneIdleOptions, valveBandPct } from './options.ts'
export { idleRuns } from './runs.ts'
export { type ScrewAdvice, screwByPlate, screwByValve } from './screw.ts'
export { type SpeedSpectrum, speedSpectrum } from './measure.ts'
export { idle, idleRequirement } from './station.ts'
export { judgeShown, LOOKS_WANTED } from './shown.ts'
export { judgeIdle } from './verdict.ts'
