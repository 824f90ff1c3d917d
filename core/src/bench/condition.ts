/** The bench car's condition: everything that a fault can spoil, each at its sound value. What hands do to the car is not here. */
export interface Condition {
  // what reaches the unit
  speedSignal: boolean
  holdsSupplyWhileCranking: boolean
  storesTunes: boolean
  coolantOffK: number
  intakeAirOffK: number
  mapHose: 'on' | 'off' | 'above-plates'
  /** a pinched hose follows so late, s; a leaking one reads so much of the way to the air outside */
  mapLagS: number
  mapLeakShare: number
  /** the air sensor stands in the heat: share of the way to the coolant that it is warmed while the stream is still */
  airSoakShare: number
  /** what a sensor goes on saying whatever is there, degC and kPa; null: it tells the truth */
  coolantStuckC: number | null
  mapStuckKpa: number | null
  /** added to the throttle sensor's own angle, % */
  throttleZeroPct: number
  /** of the unit's own learning: held where it is, lost with the key, one cell that holds a wrong value, % */
  learningFrozen: boolean
  learnedForgotten: boolean
  poisonedCellPct: number | null
  /** where the throttle sensor is worn through, %; null: nowhere */
  throttleDeadSpotPct: number | null
  // air
  /** the plate does not come back further than this once it was opened, % */
  plateSticksPct: number
  screwOpenTurns: number
  idleValveMoves: boolean
  /** times a sound valve's lag */
  idleValveSlow: number
  /** leak into the manifold, share of the warm idle's air */
  vacuumLeakShare: number
  /** air taken in, against what the papers say */
  breathesShare: number
  /** share of the way to the coolant that the charge is warmed beyond the sound car's */
  chargeHeatsMore: number
  /** air into one runner behind its port, share of the warm idle's air */
  runnerLeakShare: number
  /** the cam stands so much later than it should, crank degrees */
  camLateDeg: number
  /** boost that the wastegate lets through, times what it should hold */
  boostTimes: number
  // fuel
  pumpRuns: boolean
  pressureShare: number
  /** pressure lost by boiling in the hot line, share */
  vapourLossShare: number
  injectorsConnected: boolean
  /** flow of the injectors against what the plan says */
  injectorShare: number
  /** injectors open so much later than their sheet says, ms */
  deadTimeOffMs: number
  /** ethanol in the tank beyond what the tune counts on, share */
  ethanolShare: number
  /** fuel of the last cylinder against the others */
  lastCylinderShare: number
  /** water in what is injected, share */
  waterShare: number
  flooded: boolean
  /** vapour that the canister lets in now and then, share of the idle's fuel */
  purgeShare: number
  jointsDry: boolean
  /** times the pressure loss of a new filter; null: as the design says */
  cloggedTimes: number | null
  returnBoreMm: number | null
  pumpWireOhm: number
  regulatorHose: boolean
  // exhaust and its sensor
  /** air drawn in before the sensor at idle, share */
  exhaustLeakShare: number
  /** the sensor's heater works */
  sensorHeated: boolean
  /** times the sound sensor's lag */
  sensorLag: number
  sensorReadsShare: number
  /** how fast the reading runs away, share a minute; and the value at which it stands still, lambda */
  sensorDriftPerMin: number
  sensorStuckLambda: number | null
  /** times the sound exhaust's back-pressure */
  exhaustBlockedTimes: number
  // electrics and oil
  /** battery while cranking, V; null: sound */
  crankingV: number | null
  groundOhm: number
  // the loom
  /** in the feed that unit and pump share */
  feedOhm: number
  engineStrapOhm: number
  /** of the wire that wakes the unit: what stands in it, and whether it is live while cranking */
  keyedOhm: number
  keyedWhileCranking: boolean
  /** two wires of the unit's plug in each other's place: coolant and intake air */
  sensorPinsSwapped: boolean
  /** where a lead touches the body, ohm; null: nowhere. Its fuse goes with the first current. */
  chafedOhm: number | null
  /** the unit's plug is not latched: it lets go for a moment now and then */
  looseUnitPlug: boolean
  /** resistors of 120 ohm on the bus */
  busEnds: number
  parkedDrawA: number
  oilPressure: boolean
  /** plate with the pedal on the carpet stands so much short of its stop, deg */
  linkageShortDeg: number
  springOff: boolean
  /** hoses of booster and advance can on each other's ports; a port left open; the booster's valve */
  hosesSwapped: boolean
  portOpen: boolean
  checkValveHolds: boolean
  /** the bonnet comes lower than it was measured, mm; the exhaust sensor's seat was turned down, deg */
  bonnetLowMm: number
  sensorDroopDeg: number
  /** of an electronic throttle: scratching of a pedal's track, V rms; its second supply gone; the plate stuck */
  pedalNoiseV: number
  /** second track of the pedal bowed away from the first, % at the middle */
  tracksApartPct: number
  trackSupplyLost: boolean
  plateStuck: boolean
}
export const soundCondition: Readonly<Condition> = {
  speedSignal: true,
  holdsSupplyWhileCranking: true,
  storesTunes: true,
  coolantOffK: 0,
  intakeAirOffK: 0,
  mapHose: 'on',
  mapLagS: 0,
  mapLeakShare: 0,
  airSoakShare: 0,
  coolantStuckC: null,
  mapStuckKpa: null,
  throttleZeroPct: 0,
  learningFrozen: false,
  learnedForgotten: false,
  poisonedCellPct: null,
  throttleDeadSpotPct: null,
  plateSticksPct: 0,
  screwOpenTurns: 0,
  linkageShortDeg: 0,
  springOff: false,
  hosesSwapped: false,
  portOpen: false,
  checkValveHolds: true,
  bonnetLowMm: 0,
  sensorDroopDeg: 0,
  pedalNoiseV: 0,
  tracksApartPct: 0,
  trackSupplyLost: false,
  plateStuck: false,
  idleValveMoves: true,
  idleValveSlow: 1,
  vacuumLeakShare: 0,
  breathesShare: 1,
  chargeHeatsMore: 0,
  runnerLeakShare: 0,
  camLateDeg: 0,
  boostTimes: 1,
  pumpRuns: true,
  pressureShare: 1,
  vapourLossShare: 0,
  injectorsConnected: true,
  injectorShare: 1,
  deadTimeOffMs: 0,
  ethanolShare: 0,
  lastCylinderShare: 1,
  waterShare: 0,
  flooded: false,
  purgeShare: 0,
  jointsDry: true,
  cloggedTimes: null,
  returnBoreMm: null,
  pumpWireOhm: 0,
  regulatorHose: true,
  exhaustLeakShare: 0,
  sensorHeated: true,
  sensorLag: 1,
  sensorReadsShare: 1,
  sensorDriftPerMin: 0,
  sensorStuckLambda: null,
  exhaustBlockedTimes: 1,
  crankingV: null,
  groundOhm: 0,
  feedOhm: 0,
  engineStrapOhm: 0.0012,
  keyedOhm: 0,
  keyedWhileCranking: true,
  sensorPinsSwapped: false,
  chafedOhm: null,
  looseUnitPlug: false,
  busEnds: 2,
  parkedDrawA: 0,
  oilPressure: true,
}
