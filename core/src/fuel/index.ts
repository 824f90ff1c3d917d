export { unanswered } from './asks.ts'
export { bleedDown } from './bleed-down.ts'
export { deliveries } from './delivery.ts'
export { pumpChart, type PumpChart } from './chart.ts'
export {
  boreTable,
  FuelChoices,
  FuelElement,
  FuelLayout,
  genericLiftPumps,
  hasSump,
  layoutChanges,
  lineChanges,
  type SectionId,
  startingCircuit,
} from './circuit.ts'
export {
  circuitDefaults,
  designOf,
  type FuelDesign,
  fuelDesign,
  lostToPumpV,
  missingForCircuit,
  outletGaugeKpa,
  type WhatIf,
} from './design.ts'
export { returnFloor } from './flow-findings.ts'
export type { Fluid } from './fluid.ts'
export { fuelGates } from './gates.ts'
export { elementLabel, type Joint, jointsOf, jointWays, leakState } from './joints.ts'
export { onFuelling } from './proof-basis.ts'
export { lineDrop } from './line-drop.ts'
export { pressureChecks, provedPressure } from './pressure-check.ts'
export { rechecksDue } from './proof-findings.ts'
export { pumpDemand } from './pump-demand.ts'
export { genericPumps, pumpOf, PumpSpec, statesCurrent, withUsualCurrent } from './pump.ts'
export {
  type Branch,
  type CircuitSolution,
  elementFlow,
  FuelState,
  type FuelStateId,
  fuelStates,
  SolvableCircuit,
  solveCircuit,
} from './solve.ts'
export { fuel } from './station.ts'
export { surgeReserve } from './surge-reserve.ts'
