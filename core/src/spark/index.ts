export { fixActions } from './apply-fix.ts'
export { camSyncPosition } from './cam-sync-position.ts'
export { SparkChoices, TriggerWay } from './choices.ts'
export {
  boxOf,
  type CoilDrive,
  coilDrives,
  dwellDeg,
  dwellOf,
  LOADED_BATTERY_V,
  neededKv,
  ohmPerMetre,
  reachedKv,
  volumeRatioAt,
} from './coil.ts'
export { damperArc } from './damper-arc.ts'
export { delayDeg, delayRetard } from './delay-retard.ts'
export { dwellTable } from './dwell-table.ts'
export { dwell } from './dwell.ts'
export { firingInterval, firingIntervalDeg } from './firing-interval.ts'
export { fitTiming } from './fit-timing.ts'
export { airGapMm, wheelReferenceOf } from './fitting.ts'
export { alignAfterCapTurn, coilMap, firingAngles, otherPulsesDeg, rotorAngleDeg, towers, withinCycle } from './geometry.ts'
export { type SuspectId, suspectIds, symptomIds, symptomWords } from './interference-words.ts'
export { activeSymptoms, interferenceSuspects, nextSuspect, type SpeedSpike, speedSpikes } from './interference.ts'
export { leadSwap, strokesAsLed } from './lead-swap.ts'
export { TIMING_PROVED_DEG } from './limits.ts'
export {
  gainByUsePct,
  LOSS_PER_DEG2,
  oldAdvanceDeg,
  type OldCell,
  oldCurveMap,
  oldCurveOf,
  timingPayoff,
  useShares,
  USUAL_STATIC_DEG,
} from './old-curve.ts'
export { ownAdvanceDeg, type OwnCurveRow, ownCurveTable } from './own-curve.ts'
export { alignOf, burnClearance, phaseOf, phaseSchools, phaseSeenOf, sweepOf } from './phase.ts'
export { CRUISE_TOTAL_MAX, fullLoadAdvanceDeg, guardDeg, plannedSparkDeg, sparkDeg } from './planned-advance.ts'
export { sparkProcedure, type SparkRoom, type SparkStep } from './procedure.ts'
export { proofsOf, unproved, zeroMark } from './proofs.ts'
export { degreesToUs, referenceWindow } from './reference-window.ts'
export { rotorOffsetDistDeg, rotorPhase, widthDistDeg } from './rotor-phase.ts'
export { readScopeCsv } from './scope/csv.ts'
export { judgeTrain } from './scope/judge.ts'
export { patternOf, polarityOf } from './scope/pattern.ts'
export { patternFor, scopeVerdict } from './scope/verdict.ts'
export { minMaxPerColumn, type PulsePattern, type Trace } from './scope/trace.ts'
export {
  CRANKING_RPM,
  edgeErrorDeg,
  edgeOf,
  lobeWave,
  peakAtV,
  RELEASE_V,
  reversedAtSpeeds,
  reversedShiftDeg,
  USUAL_LOBE_DEG,
  USUAL_TARGET_DEG,
} from './sensor-edge.ts'
export { spark } from './station.ts'
export type { TimingFix } from './timing-fixes.ts'
export { CHECK_BAR_MM, type TapeTick, timingTape, USUAL_TAPE_MM } from './timing-tape.ts'
export { currentLight, currentLightReadings, currentTiming, fitVerdict } from './timing.ts'
export { ignitionUses, knockFrequenciesKhz, thresholdFor } from './trigger-signal.ts'
export { coilCount, coilsOf, controlsTiming, hasCamSignal, hasDistributor, sensorDegToCrank, sensorOf, triggerWays } from './ways.ts'
export { onIgnition } from './proof-basis.ts'
