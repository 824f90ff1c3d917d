import { blowerRiseK, type CamClass, KELVIN_AT_0_C } from '../air/index.ts'

/** What an assumed power follows from; what is missing is left out of the sum, and does not sharpen it. */
export interface PowerFrom {
  displacementCc: number
  camClass: CamClass
  compressionRatio?: number
  carburettors?: number
  boostKpa: number
  barometerKpa: number
  cooledBoost: boolean
  beltDriven: boolean
}

/** kW of a one-litre road engine of 1970 to 1982 with its stock cam, and how power grows with litres: a regression over 400 published figures. */
const ONE_LITRE_KW = 41
const LITRES_EXPONENT = 0.57
/** below the sizes that it was drawn through power goes with displacement: the curve would promise a motor cycle's engine */
const CURVE_FROM_LITRES = 1
/** rms of those figures about it, as a share */
const STOCK_SPREAD = 0.17
/** and what a changed cam or a blower adds to it, our own figure: the car is no longer one of the 400 */
const CHANGED_SPREAD = 0.14
/**
 * What a longer cam makes of it: indicated pressure by VE at peak power, less motored friction (Heywood, equation 13.6), times its speed, against
 * the stock one; both from the VE and speed table of the cam classes.
 */
const CAM_FACTOR: Record<CamClass, number> = { stock: 1, mild: 1.2, hot: 1.5, wild: 1.8 }
/** the middle of those engines: 8.5 to 1 and one carburettor */
const MIDDLE_RATIO = 8.5
const CARBURETTORS_FACTOR = 1.1
/** efficiency of the fuel-air cycle goes with 1 - r^-0.3 (Heywood, 5.4) */
const idealShare = (ratio: number): number => 1 - ratio ** -0.3
/** share of a normal spread below which 90 % lie, in standard deviations */
const NINETY_PCT = 1.2816
const OUTSIDE_K = 25 + KELVIN_AT_0_C
/** air that a blown engine takes for each kW, kg/s: 365 g/kWh at lambda 0.77 of petrol */
const AIR_PER_KW_KG_S = 0.00115
const CP_AIR_KJ_KGK = 1.005

/** Power that boost multiplies a base by: denser air behind the blower, less what a belt takes to turn it. */
function boostFactor({ boostKpa, barometerKpa, cooledBoost, beltDriven }: Omit<PowerFrom, 'displacementCc' | 'camClass'>): number {
  if (boostKpa <= 0) return 1
  const ratio = 1 + boostKpa / barometerKpa
  const { atBlowerK, atEngineK } = blowerRiseK(ratio, OUTSIDE_K, cooledBoost)
  const denser = (ratio * OUTSIDE_K) / (OUTSIDE_K + atEngineK)
  return denser * (1 - (beltDriven ? AIR_PER_KW_KG_S * CP_AIR_KJ_KGK * atBlowerK : 0))
}

/** Power of an engine nobody measured, kW, with the share of it that one in three engines of the kind misses it by. */
export function usualPower(from: PowerFrom): { kw: number; spread: number } {
  const { displacementCc, camClass, compressionRatio, carburettors = 1, boostKpa } = from
  const squeeze = compressionRatio === undefined ? 1 : idealShare(compressionRatio) / idealShare(MIDDLE_RATIO)
  const litres = displacementCc / 1000
  const kw =
    ONE_LITRE_KW *
    (litres < CURVE_FROM_LITRES ? litres : litres ** LITRES_EXPONENT) *
    CAM_FACTOR[camClass] *
    squeeze *
    (carburettors > 1 ? CARBURETTORS_FACTOR : 1) *
    boostFactor(from)
  const changed = (camClass === 'stock' ? 0 : 1) + (boostKpa > 0 ? 1 : 0)
  return { kw, spread: Math.hypot(STOCK_SPREAD, CHANGED_SPREAD * Math.sqrt(changed)) }
}

/** Power under which nine in ten engines of the kind stay, kW: what pump and injectors are sized for. */
export const upperPowerKw = (kw: number, spread: number): number => kw * (1 + NINETY_PCT * spread)
