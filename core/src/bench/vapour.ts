/** Petrol as it is sold in summer: Reid vapour pressure, kPa at 37.8 degC, and heat of evaporation over the gas constant, K. */
const REID = { kpa: 60, atK: 310.95, slopeK: 3150 }

/**
 * Vapour pressure of petrol, kPa.
 * @source Clausius and Clapeyron with a constant heat of evaporation, anchored at the Reid pressure (ASTM D323); within 5 % of the nomogram of API 2517 to 70 degC
 */
export const vapourKpa = (fuelC: number, reidKpa = REID.kpa): number =>
  reidKpa * Math.exp(REID.slopeK * (1 / REID.atK - 1 / (fuelC + 273.15)))

/** pressure before the pump, under the barometer, kPa; and the heat that a badly laid line takes from the engine, as a share of what the coolant stands over the air */
const SUCTION_KPA = 8
const LINE_HEAT_SHARE = 0.55
/** vapour pressure so far over the line's takes all of what can be lost, kPa */
const ALL_LOST_KPA = 20

/** How much of what vapour can take of the pump's delivery it takes now, 0 to 1: nothing while the fuel before the pump does not boil. */
export function boiling(coolantC: number, ambientC: number, barometerKpa: number): number {
  const lineC = ambientC + LINE_HEAT_SHARE * Math.max(0, coolantC - ambientC)
  return Math.min(1, Math.max(0, (vapourKpa(lineC) - (barometerKpa - SUCTION_KPA)) / ALL_LOST_KPA))
}
