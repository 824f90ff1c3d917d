export { type AnswerMend, answerMend, withMendedAnswer } from './answer-mend.ts'
export { LearnChoices } from './choices.ts'
export { applyCorrection, type CellChange } from './apply-correction.ts'
export { currentLearn, learnedOverDrives, learnSetupOf, unsafeBefore } from './current.ts'
export { converged, drivenWith } from './findings.ts'
export { CONVERGED_RMS_PCT, CONVERGED_TIME_PCT, PROVEN_SECONDS, SETTLED_FROM_S } from './limits.ts'
export { learnsItself, lookedBeside, pressureReadRunning } from './learning-findings.ts'
export {
  cellReadings,
  type CellReadings,
  judgedRows,
  logRow,
  type LogRow,
  type StretchFate,
  stretchFates,
  type Scatter,
  scatterOf,
  scatterOver,
  type ScatterOver,
} from './look-closer.ts'
export { mendConstant, type MendedConstant } from './mend-constant.ts'
export { type TestedChange, lastTest, type LastTest, reversalShown } from './one-change/index.ts'
export { needShapeDriven, unsoundCodes } from './pattern.ts'
export { applyColdSteps, applyLength, applySteps, judgeSteps, LEAST_STEPS, type StepLength, type StepsJudged } from './steps/index.ts'
export { applyWarmUp, judgeWarmUp, type WarmUpJudged } from './warm-up/index.ts'
export { settledNow } from './settled.ts'
export { secondsToSettle, settleTime } from './settle-time.ts'
export { averagingGapPct } from './grid-fit.ts'
export { LearnCell, LearnResult, type RunnerCell } from './result.ts'
export { logDoubtsSaid } from './other-car.ts'
export { heldNow, learnReading, type LearnSetup, learnSetup, suspectOf } from './setup.ts'
export { solveWithSetup, unloggedLoop } from './solve.ts'
export { learn } from './station.ts'
export { mendBase } from './uncorrected.ts'
export { joinLogs, latestTogether, logsTogether } from './together.ts'
export {
  dynoOnly,
  heldShares,
  judgeTrial,
  mapAdvanceDeg,
  mayTrial,
  takeTrial,
  type Trial,
  type TrialAt,
  trialGates,
  type TrialPoint,
  trialsOf,
} from './trial/index.ts'
export {
  closers,
  FELT_ON_S,
  feltKinds,
  type FeltKind,
  feltLead,
  feltSays,
  marksIn,
  type Moment,
  momentInLog,
  momentOf,
  openFelt,
} from './felt/index.ts'
