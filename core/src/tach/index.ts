export { TachChoices } from './choices.ts'
export { tachEntries } from './entries.ts'
export { drivenTach, rpmOfFrequency } from './driven.ts'
export { tachFrequency } from './frequency.ts'
export { speedoPulsesPerKm } from './speedometer.ts'
export {
  adapterOf,
  fitTach,
  needleOf,
  needleStep,
  selfTestRpm,
  sourcePulsesPerRev,
  tachPulsesDegOf,
  tachRatio,
  tachReadings,
  tachRules,
  USUAL_NEEDLE_S,
} from './tachometer.ts'
