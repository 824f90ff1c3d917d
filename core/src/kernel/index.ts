export { type AttachedFile, MAX_BUILD_FILES, MAX_FILE_BYTES, MAX_THUMB_BYTES } from './attached-file.ts'
export {
  type BuildData,
  type LogSummary,
  type StoredProblem,
  type Told,
  tuneInCar,
  TuneStatus,
  madeFrom,
  type TuneSummary,
  type Unreadable,
} from './build.ts'
export { type Calculation, defineCalculation } from './calculation.ts'
export { type Caution, type CautionId, cautions } from './cautions.ts'
export type { Context, JudgedContext } from './context.ts'
export { alongCurve, bentTo, smooth } from './curve.ts'
export {
  checkEntryField,
  choiceField,
  entry,
  type EntryField,
  type EntryKind,
  type EntrySpec,
  type EntryValues,
  latest,
  sinceLast,
  quantityField,
  readingsOf,
  spaced,
  type StoredReading,
  textField,
  tick,
  yesNoField,
} from './entry.ts'
export {
  type Basis,
  type Before,
  counting,
  type Proof,
  proved,
  type Source,
  sources,
  type Standing,
  type Standings,
  standingsOf,
  VerdictFrom,
  whyFallen,
} from './evidence.ts'
export { CoreError, type CoreErrorCode, coreErrors } from './errors.ts'
export {
  type FactGroup,
  type FactInput,
  type FactOption,
  type FactSpec,
  factsSchema,
  mark,
  number,
  numbers,
  oneOf,
  own,
  type PathIn,
  whole,
  words,
  yesNo,
} from './fact.ts'
export { at, type DerivedNumber, finding, Finding, SayingSchema, Severity, StationState, Where } from './finding.ts'
export { monotoneCubic } from './monotone-cubic.ts'
export { type Change, changesBetween, mergePatch, mergePatches, patchFor, valueAt, patchBetween } from './patch.ts'
export { Random, seedOf } from './random.ts'
export { rootBetween } from './root.ts'
export {
  airM3Min,
  amps,
  asSaying,
  cc,
  degC,
  degCApart,
  gramsPerSecond,
  kmh,
  kPa,
  kW,
  lambda,
  litres,
  litresPerHour,
  metres,
  metresPerSecond,
  mm,
  mm2,
  ohms,
  type Said,
  say,
  sayAll,
  type Saying,
  volts,
  wordsOf,
} from './say.ts'
export { inputWords, shown } from './shown.ts'
export { type Contributes, type Gate, type Requirement, type Rule, type Station, station, type Stop } from './station.ts'
export type { ChoiceTable, EntryTable } from './told.ts'
export {
  type Dimension,
  dimensions,
  displayUnit,
  formatQuantity,
  parseQuantity,
  toDisplay,
  toMetric,
  type Unit,
  type UnitPreferences,
} from './units.ts'
export { factorSpd, solveFactored, solveSpd, whitened } from './cholesky.ts'
export { huberWeights, weightedLine } from './weighted-line.ts'
export { zodErrors } from './wording.ts'
