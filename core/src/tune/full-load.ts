import { blowerRiseK, KELVIN_AT_0_C, peakPowerRpm } from '../air/index.ts'
import { airPerCylinderG, bsfcGKwh, chargeTemperatureC, fuels, POWER_LAMBDA, WARM_AIR_C, WARM_COOLANT_C } from '../injection/index.ts'
import { boostKpaOf, type Facts, type ResolvedFacts } from '../survey/index.ts'

/** What the papers say of full load: the state in which full power is made, and the air it takes there. */
export interface FullLoad {
  rpm: number
  mapKpa: number
  /** what stands before the throttle there, kPa */
  ratedKpa: number
  /** of the intake air behind a blower, degC */
  airC: number
  fuelGps: number
  /** VE that gives this air, referred to manifold pressure and charge temperature, %; null while no power is known */
  vePct: number | null
  /** share by which the tune is richer than its papers at full load, because an engine is not its papers */
  margin: number
}

/** air at which power is rated, kPa: papers speak of it whatever the height the car stands at */
const RATED_KPA = 100
/** depression of an open throttle at full power, kPa */
const OPEN_DROP_KPA = 3
/** Full-load margin for an engine whose power was told, and for one whose power had to be assumed; figures of blown engines hold one already. */
const MARGIN = { told: 0.07, assumed: 0.13, boosted: 0 }
/** What the usual specific consumption stands for: compression ratio, mechanical efficiency and mixture at full power. */
const USUAL = {
  natural: { ratio: 9, mechanical: 0.76, lambda: POWER_LAMBDA.natural },
  boosted: { ratio: 8, mechanical: 0.77, lambda: POWER_LAMBDA.boosted },
}
/** What compression leaves of the heat (Heywood, 5.4: ideal cycle with gamma 1.3). */
const idealShare = (compressionRatio: number): number => 1 - compressionRatio ** -0.3
/** the engines behind that equation turned no faster */
const FRICTION_TO_RPM = 6000
/** Share of the pistons' work that reaches the flywheel: motored friction of Heywood, equation 13.6, against the mean pressure the papers speak of. */
function mechanicalShare(powerKw: number, displacementCc: number, rpm: number): number {
  const brakeKpa = (powerKw * 120e6) / (displacementCc * rpm)
  const n = Math.min(FRICTION_TO_RPM, rpm) / 1000
  return brakeKpa / (brakeKpa + 97 + 15 * n + 5 * n * n)
}

/**
 * Full load from the power the papers give: fuel from specific consumption, brought to the compression ratio by the ideal cycle's efficiency and to the
 * engine's speed by its friction, and air from that at the mixture such figures stand for.
 */
export function fullLoad(facts: Facts, r: ResolvedFacts, chargeHeatShare: number): FullLoad {
  const boostKpa = boostKpaOf(facts)
  const rpm = peakPowerRpm(r.camClass, r.redlineRpm)
  const mapKpa = RATED_KPA - OPEN_DROP_KPA + boostKpa
  const airC = WARM_AIR_C + blowerRiseK((RATED_KPA + boostKpa) / RATED_KPA, WARM_AIR_C + KELVIN_AT_0_C, r.cooledBoost).atEngineK
  const usual = boostKpa > 0 ? USUAL.boosted : USUAL.natural
  const powerKw = r.powerKw ?? 0
  const ideal = idealShare(usual.ratio) / idealShare(r.compressionRatio)
  const mechanical = powerKw > 0 ? usual.mechanical / mechanicalShare(powerKw, r.displacementCc ?? 1, rpm) : 1
  const fuelGps = (powerKw * bsfcGKwh(r.fuelKind, boostKpa > 0) * ideal * mechanical) / 3600
  const airG = (fuelGps * 120 * fuels[r.fuelKind].stoichAfr * usual.lambda) / rpm
  const full = airPerCylinderG(100, mapKpa, chargeTemperatureC(airC, WARM_COOLANT_C, chargeHeatShare), r.displacementCc ?? 1)
  return {
    rpm,
    mapKpa,
    ratedKpa: RATED_KPA + boostKpa,
    airC,
    fuelGps,
    vePct: r.powerKw === null || r.displacementCc === null ? null : (100 * airG) / full,
    margin: r.powerSpread > 0 ? MARGIN.assumed : boostKpa > 0 ? MARGIN.boosted : MARGIN.told,
  }
}
