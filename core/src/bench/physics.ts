import { orificePsi } from '../air/index.ts'
import { monotoneCubic } from '../kernel/index.ts'

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
 * Friction mean effective pressure without pumping, kPa: Chen and Flynn (SAE 650733), A + B p_max + C u + D u^2 with mean piston speed u in m/s and
 * peak pressure, with constants of engines with pushrods and plain rings; and the mixed lubrication of a crank that hardly turns (Heywood,
 * section 13.3, the Stribeck diagram; its size is an engineering fit).
 */
export function fmepKpa(rpm: number, strokeM: number, mapKpa: number): number {
  const pistonMS = (2 * strokeM * rpm) / 60
  return 48 + 0.5 * PEAK_BAR_PER_KPA * mapKpa + 9 * pistonMS + 0.09 * pistonMS * pistonMS + 90 * Math.exp(-rpm / 180)
}
/** peak cylinder pressure for each kPa in the manifold, bar */
const PEAK_BAR_PER_KPA = 0.45

/** Advance of best torque, crank degrees BTDC: a thinner charge and a faster crank both need an earlier spark. An engineering fit, not a law. */
export function bestAdvanceDeg(rpm: number, mapKpa: number, barometerKpa: number): number {
  const speed = 16 + 14 * Math.min(1, rpm / 3200)
  return speed + 16 * Math.max(0, 1 - mapKpa / barometerKpa)
}

/** Torque left when the spark is away from best, as a share; about quadratic (handbook 03: 2.5e-4 per degree squared). */
export const sparkEfficiency = (advanceDeg: number, bestDeg: number): number => Math.max(0.2, 1 - 2.5e-4 * (advanceDeg - bestDeg) ** 2)

/**
 * Share of the cycles that burn: all between lambda 0.62 and a lean limit of 1.35, none beyond 0.42 and 0.3 past that limit. Burnt gas left in the
 * charge draws the lean limit in (Heywood, section 9.4.3: about 0.2 of lambda between 10 and 30 % of residual).
 */
export function burnShare(lambda: number, residual = 0.08): number {
  if (!(lambda > 0)) return 0
  if (lambda < 0.62) return lambda < 0.42 ? 0 : (lambda - 0.42) / 0.2
  const leanest = 1.35 - Math.max(0, residual - 0.1)
  return lambda <= leanest ? 1 : Math.max(0, 1 - (lambda - leanest) / 0.3)
}

/** Torque of a given air charge over lambda, against lambda 1: most near 0.88, and most from the fuel (times lambda) near 1.05 (Heywood, section 15.3 and fig. 9-28). */
const TORQUE_OVER_LAMBDA: readonly (readonly [number, number])[] = [
  [0.4, 0.6],
  [0.6, 0.87],
  [0.7, 0.96],
  [0.8, 1.025],
  [0.88, 1.045],
  [0.95, 1.03],
  [1, 1],
  [1.05, 0.966],
  [1.1, 0.917],
  [1.2, 0.817],
  [1.35, 0.68],
  [1.6, 0.48],
  [2, 0.2],
]
const LAMBDA_STEPS = 200
const torqueCurve = (() => {
  const of = monotoneCubic(
    TORQUE_OVER_LAMBDA.map(([lambda]) => lambda),
    TORQUE_OVER_LAMBDA.map(([, torque]) => torque),
  )
  return Float64Array.from({ length: LAMBDA_STEPS + 1 }, (_, i) => of(0.4 + (1.6 * i) / LAMBDA_STEPS))
})()
export function torqueAtLambda(lambda: number): number {
  const x = Math.min(LAMBDA_STEPS - 0.001, Math.max(0, ((lambda - 0.4) * LAMBDA_STEPS) / 1.6))
  const i = x | 0
  return torqueCurve[i] + (torqueCurve[i + 1] - torqueCurve[i]) * (x - i)
}

export interface CycleInput {
  airG: number
  fuelG: number
  stoichAfr: number
  heatJKg: number
  /** share of the heat that becomes work at best timing and lambda 1, from `thermalShare` */
  thermalShare: number
  advanceDeg: number
  bestAdvanceDeg: number
}

/**
 * Share of the heat that becomes indicated work at best timing: 0.84 of the ideal efficiency at gamma 1.3, less what a slow engine loses to its
 * walls (up to 30 %, fading over 1,500 rpm: an engineering fit). Source: Heywood, section 5.4 (fuel-air cycle), section 12.4 (heat transfer and speed).
 */
export const thermalShare = (compressionRatio: number, rpm: number): number => idealShare(compressionRatio) * wallShare(rpm)
/** What compression alone leaves of the heat, and what the walls leave of that at a speed. */
export const idealShare = (compressionRatio: number): number => 0.84 * (1 - compressionRatio ** -0.3)
export const wallShare = (rpm: number): number => 1 - 0.3 * Math.exp(-rpm / 1500)

/**
 * Work on the pistons in one engine cycle that burns, J: the heat its air can set free, times the thermal share, times what mixture and spark make of
 * it. Never more than the heat in the fuel. Source: Heywood, section 5.4 (fuel-air cycle against ideal), sections 9.3 and 15.3 (spark, mixture).
 */
export function indicatedWorkJ(c: CycleInput): number {
  if (c.fuelG <= 0 || c.airG <= 0) return 0
  const lambda = c.airG / (c.fuelG * c.stoichAfr)
  const airHeatJ = (c.airG / c.stoichAfr / 1000) * c.heatJKg
  return airHeatJ * torqueAtLambda(lambda) * c.thermalShare * sparkEfficiency(c.advanceDeg, c.bestAdvanceDeg)
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
