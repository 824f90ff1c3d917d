import { FUEL_HEAT_J_KGK } from './fluid.ts'

/** What still air takes from a skin, W/(m2 K): free convection and radiation together. Source: Incropera, sections 9.6 and 12: 5 to 10. */
const SKIN_W_M2K = 8
/** Skin of a compact vessel, m2: that of a cube of its volume. */
const skinM2 = (litres: number): number => 6 * (litres / 1000) ** (2 / 3)

export interface WarmedTank {
  heatW: number
  capacityL: number
  fuelKg: number
}

/** What the returning fuel warms a tank by in a time, K, with what its skin gives to still air: first order, towards heat / (h A). */
export function tankRiseK({ heatW, capacityL, fuelKg }: WarmedTank, seconds: number): number {
  const lossWPerK = SKIN_W_M2K * skinM2(capacityL)
  return (heatW / lossWPerK) * (1 - Math.exp((-seconds * lossWPerK) / (fuelKg * FUEL_HEAT_J_KGK)))
}

/** Seconds until a tank has warmed by so much, s; null when its skin keeps it cooler for good. */
export function secondsToRise({ heatW, capacityL, fuelKg }: WarmedTank, riseK: number): number | null {
  if (riseK <= 0) return 0
  const lossWPerK = SKIN_W_M2K * skinM2(capacityL)
  const share = (riseK * lossWPerK) / heatW
  return share >= 1 ? null : (-Math.log(1 - share) * fuelKg * FUEL_HEAT_J_KGK) / lossWPerK
}

/** How much warmer than the tank a sump stands, K: pump and bay heat it, what the lift pump brings and sends back carries that away. */
export function sumpRiseK(from: { heatW: number; throughKgS: number; sumpL: number; bayC: number; tankC: number }): number {
  const bayWPerK = SKIN_W_M2K * skinM2(from.sumpL)
  return (from.heatW + bayWPerK * (from.bayC - from.tankC)) / (from.throughKgS * FUEL_HEAT_J_KGK + bayWPerK)
}
