export { airPerCylinderG, chargeTemperatureC, dutyPct, openingsPerCycle, pulseMs, WARM_AIR_C, WARM_COOLANT_C } from './fuel-equation.ts'
export {
  bsfcGKwh,
  DEAD_TIME_14V_MS,
  DEAD_TIME_SLOPE_MS_PER_V,
  fuels,
  LINEAR_LIMIT_MS,
  MAX_DUTY_PCT,
  PRESSURE_TOLERANCE,
  PUMP_MARGIN_PCT,
} from './fuels.ts'
export { injectorFlowAtPressure } from './injector-flow-at-pressure.ts'
export { ccMinToMassGps, injectorSize } from './injector-size.ts'
