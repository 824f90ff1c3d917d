import { orificePsi } from '../air/index.ts'

/** Laws the bench is made of, each small enough to test alone. */
export const R_GAS = 287.05
/** The orifice's flow function on a table, because a power law in every step would take half of the bench's time. */
class OrificeFlow {
  private readonly table = new Float64Array(2049)
  constructor() {
    for (let i = 0; i < this.table.length; i++) this.table[i] = orificePsi(i / (this.table.length - 1))
  }
  at(ratio: number): number {
    if (ratio >= 1) return 0
    const x = (ratio < 0 ? 0 : ratio) * 2048
    const i = x | 0
    return this.table[i] + (this.table[i + 1] - this.table[i]) * (x - i)
  }
  /** d psi / d ratio; zero while choked */
  slope(ratio: number): number {
    if (ratio >= 1) return -this.table[2047] * 2048
    const i = ((ratio < 0 ? 0 : ratio) * 2048) | 0
    return (this.table[i + 1] - this.table[i]) * 2048
  }
}
export const CRITICAL_FLOW = new OrificeFlow()

/**
 * Friction mean effective pressure without pumping, kPa: Heywood, equation 13.6 (total motored friction of four-cylinder engines), less the pumping
 * part, and the mixed lubrication of a crank that hardly turns (section 13.3, the Stribeck diagram; its size is an engineering fit).
 */
export function fmepKpa(rpm: number): number {
  const thousands = rpm / 1000
  return 75 + 15 * thousands + 5 * thousands * thousands + 90 * Math.exp(-rpm / 180)
}

/** Advance of best torque, crank degrees BTDC: a thinner charge and a faster crank both need an earlier spark. An engineering fit, not a law. */
export function bestAdvanceDeg(rpm: number, mapKpa: number, barometerKpa: number): number {
  const speed = 16 + 14 * Math.min(1, rpm / 3200)
  return speed + 16 * Math.max(0, 1 - mapKpa / barometerKpa)
}

/** Torque left when the spark is away from best, as a share; about quadratic (handbook 03: 2.5e-4 per degree squared). */
export const sparkEfficiency = (advanceDeg: number, bestDeg: number): number => Math.max(0.2, 1 - 2.5e-4 * (advanceDeg - bestDeg) ** 2)

/** Share of the cycles that burn at a mixture: all between lambda 0.68 and 1.3, none beyond 0.45 and 1.65. */
export function burnShare(lambda: number): number {
  if (!(lambda > 0)) return 0
  if (lambda < 0.68) return lambda < 0.45 ? 0 : (lambda - 0.45) / 0.23
  if (lambda > 1.3) return lambda > 1.65 ? 0 : (1.65 - lambda) / 0.35
  return 1
}

export interface CycleInput {
  airG: number
  fuelG: number
  stoichAfr: number
  heatJKg: number
  /** share of the burnt fuel's heat that becomes work at best timing, from `thermalShare` */
  thermalShare: number
  advanceDeg: number
  bestAdvanceDeg: number
}

/**
 * Share of the heat that becomes indicated work at best timing: 0.8 of the ideal efficiency at gamma 1.3, less what a slow engine loses to its
 * walls (up to 30 %, fading over 1,500 rpm: an engineering fit). Source: Heywood, section 5.4 (fuel-air cycle), section 12.4 (heat transfer and speed).
 */
export const thermalShare = (compressionRatio: number, rpm: number): number => idealShare(compressionRatio) * wallShare(rpm)
/** What compression alone leaves of the heat, and what the walls leave of that at a speed. */
export const idealShare = (compressionRatio: number): number => 0.8 * (1 - compressionRatio ** -0.3)
export const wallShare = (rpm: number): number => 1 - 0.3 * Math.exp(-rpm / 1500)

/**
 * Work on the pistons in one engine cycle, J: the fuel that finds air, times its heat, times the thermal share, times spark efficiency. Never
 * more than the heat in the fuel. Source: Heywood, section 5.4 (fuel-air cycle against ideal), section 9.3 (spark timing).
 */
export function indicatedWorkJ(c: CycleInput): number {
  if (c.fuelG <= 0 || c.airG <= 0) return 0
  const lambda = c.airG / (c.fuelG * c.stoichAfr)
  const share = burnShare(lambda)
  if (share === 0) return 0
  const burnt = (lambda >= 1 ? c.fuelG : (c.airG / c.stoichAfr) * (1 - 0.15 * (1 / lambda - 1))) * share
  return (burnt / 1000) * c.heatJKg * c.thermalShare * sparkEfficiency(c.advanceDeg, c.bestAdvanceDeg)
}

const CONVERTER_NM_PER_L = 9
const STALL_RATIO = 2
const COUPLED_AT = 0.88

/**
 * Hydrodynamic torque converter: what it takes from the engine and gives to the gearbox, Nm. It takes K (n/1000)^2, fading as the turbine catches up,
 * and multiplies by 2 at rest, falling in a straight line to 1 at a speed ratio of 0.88. Source: Wong, Theory of Ground Vehicles, section 3.3.2.
 */
export function converterNm(rpm: number, turbineRpm: number, displacementM3: number): { takesNm: number; givesNm: number } {
  const ratio = rpm > 1 ? Math.max(0, turbineRpm / rpm) : 0
  const takesNm = CONVERTER_NM_PER_L * displacementM3 * 1000 * (rpm / 1000) ** 2 * Math.max(-1, 1 - ratio ** 8)
  return { takesNm, givesNm: takesNm * Math.max(1, STALL_RATIO - ((STALL_RATIO - 1) * ratio) / COUPLED_AT) }
}
