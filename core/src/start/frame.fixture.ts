import type { Frame } from './frame.ts'

/** A frame of a sound car with the key on and the engine still, changed as a test wants. */
export const madeFrame = (more: Partial<Frame> = {}): Frame => ({
  timeS: 0,
  state: 'key-on',
  rpm: 0,
  mapKpa: 99,
  throttlePct: 0,
  lambda: 2.2,
  lambdaTarget: 1,
  coolantC: 20,
  intakeAirC: 20,
  batteryV: 12.6,
  correctionPct: 0,
  learnedPct: 0,
  enrichmentPct: 0,
  pulseMs: 0,
  advanceDegBtdc: 10,
  idleValvePct: 30,
  fuelCut: 0,
  pumpOn: false,
  fuelPressureKpa: 0,
  oilPressureKpa: 0,
  faultFlags: [],
  ...more,
})
