export { balanceOf, besideOf, type Balance, type BalanceLook } from './balance.ts'
export { boltTorque } from './bolt-torque.ts'
export { type BoltAt, boltOrder, boltsOf, jointTorque, threadsMm } from './bolts.ts'
export type { BonnetStack } from './bonnet.ts'
export { boxesFor, boxJudged } from './boxes.ts'
export { bonnetOf, sensorGasC, sensorLengthMm } from './car-sums.ts'
export { type BenchCard, benchCards, type FitupRoom } from './cards.ts'
export {
  type BoltJoint,
  type BoxId,
  boxIds,
  boxWords,
  type FitupChoices,
  type JointId,
  jointIds,
  jointWords,
  type Port,
  type PortKind,
  portKinds,
  type StackPart,
  stackParts,
} from './choices.ts'
export { type FitupEntryKind } from './entries.ts'
export { drains, sensorStretch } from './exhaust-sensor.ts'
export { drawingOf, fitupOf, hasPedalMotor, jointsFor, linkageOf, motorAir, pedalCurveOf } from './fitup-of.ts'
export { fitupGates } from './gates.ts'
export {
  airThrough,
  beyondShutDeg,
  type Drawing,
  type Linkage,
  linkagePose,
  type LinkagePose,
  measuredPlates,
  type PedalCurve,
  plateDegAt,
  remedies,
  remedyChoices,
  type Remedy,
} from './linkage.ts'
export { plateOpenArea } from './plate-open-area.ts'
export { fitup } from './station.ts'
export { judgeTracks, pedalMap, softStart, sweepFromCsv, tracksEntry, tracksSay, type TrackSweep, type TrackVerdict } from './tracks.ts'
export {
  type Consumer,
  consumersOf,
  openPorts,
  portsOf,
  type Reservoir,
  reservoirOf,
  vacuumMap,
  type VacuumMap,
  wantsReservoir,
} from './vacuum.ts'
