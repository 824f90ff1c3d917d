export { type CarInstrumentId, carInstrumentIds, carInstruments, Settling } from './car-instruments.ts'
export { benchCarFor } from './car.ts'
export type { Heard } from './crank.ts'
export { BenchDesk, DESK_FRAME_S, DeskCommand, type DeskState } from './desk.ts'
export { crankUp } from './crank-up.ts'
export { benchDrive, driveByPlan, everydayDrive, stepDrive, followedDrive, outfitBench, warmUpDrive } from './drive.ts'
export { benchDyno, benchTrialHold, DynoPlan, type DynoRow, dynoSummary, TrialHold, usualSweep } from './dyno.ts'
export { BenchChoices, benchFaults, carFaultIds, type FaultId, faultsFor, fitupFaultIds, wiringFaultIds } from './faults.ts'
export { benchIgnition } from './ignition.ts'
export { BenchHeldAt, type HeldAt, type IgnitionInstrument, ignitionInstruments, readIgnition } from './instruments.ts'
export { answersTold, tuneOfAnswers, type TypedAnswers } from './answered.ts'
export { benchReading, type BenchReadingKind, benchReadingKinds } from './read.ts'
export { type TriedIdle, tryIdle } from './idle-try.ts'
export { type TriedOutput, tryOutput } from './output-try.ts'
export { Bench, type BenchFrame } from './rig.ts'
export { benchSweep, fitupInstruments } from './fitup.ts'
export {
  benchMeterV,
  type KeyedCandidate,
  keyedCandidates,
  type KeyState,
  keyStates,
  type MeterPoint,
  meterPoints,
  wiringInstruments,
} from './wiring.ts'
export { checkScope, scopeBounds, type ScopeSetting, scopeTraces } from './signals.ts'
