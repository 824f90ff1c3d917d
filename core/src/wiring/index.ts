export { type Point, wheelbaseMm, wiringOf } from './car-plan.ts'
export { placeIds } from './places.ts'
export {
  type Gauge,
  type InputAction,
  inputActionWords,
  relayRing,
  type OutputChannel,
  type OutputCondition,
  type Sender,
  type WiringChoices,
} from './choices.ts'
export { keyedWire, wiringGates } from './gates.ts'
export { type Harness, harnessOf, type Wire } from './harness.ts'
export { keyedVerdict, relayInstead } from './keyed.ts'
export {
  gaugeMarks,
  gaugeProblem,
  outputChannels,
  outputOver,
  outputProblem,
  outputSentence,
  outputSweep,
  senderCurve,
  senderProblem,
} from './more.ts'
export { billOf, circuitsFromCsv, circuitsToCsv, connectorsOf, drawingScale, fuseCard, labelsOf, plugsOf } from './out.ts'
export { wiring } from './station.ts'
export { harnessTree } from './tree.ts'
export { supplyOf } from './supply.ts'
