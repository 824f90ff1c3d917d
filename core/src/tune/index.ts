export { Axes, bilinear, checkAxis, lowerIndex, nearestIndex, place } from './axes.ts'
export { computeBaseTune, tuneAxes } from './base-tune.ts'
export { checkTune, pulseAsked, sparkCeiling, tuneDemand } from './checks.ts'
export { runnerFromCsv, runnerToCsv, tableFromCsv, tableToCsv } from './csv.ts'
export { type FigureKey, type TuneFigures, tuneFigures } from './figures.ts'
export { learnedOnBench, problemFinding } from './findings.ts'
export { addBlock, type Block, interpolateBlock, largestStep, scaleBlock, setBlock, settle, smoothBlock } from './grid-edit.ts'
export { lambdaCalculation } from './lambda.ts'
export { PROVISIONAL_LIMIT_RPM } from './limits.ts'
export {
  checkParameter,
  isOwnWork,
  type ParameterGroup,
  parameterGroups,
  type ParameterKey,
  parameterSpecs,
  takeParts,
  tuneDifferences,
  tunePartLabel,
  steadyMixtureParts,
} from './parameters.ts'
export { type AxisName, axisSpecs, parseAxis, resample } from './resample.ts'
export { checkRunner, runnerShare, RunnerTable } from './runner.ts'
export { SENSOR_MAX_V, SENSOR_MIN_V, SensorSet, usualSensors } from './sensors.ts'
export { tune } from './station.ts'
export { type TakingStep, takingSteps, takingWords } from './taking-words.ts'
export { nextTaking, provisionalLimit, takingRules, tuneTaking } from './taking.ts'
export { fuelBasis, knownAt, type KnownFuel, type KnownTable, KnownTraces, knownNow, UNKNOWN_PCT } from './known.ts'
export { accelColdShare, type TableName, tableNames, tableSpecs, TuneDocument, TuneParameters, withTable } from './tune.ts'
