import { compressorRiseK } from '../air/index.ts'

/** What blows the bench engine: driven by its exhaust or by a belt, before or after the throttle. */
export interface Blower {
  drive: 'exhaust' | 'belt'
  place: 'blow-through' | 'draw-through'
  /** what wastegate or belt ratio hold at full power, kPa over the barometer */
  fullKpa: number
  intercooled: boolean
}

/** a turbine gives full boost from this share of full power's flow, and follows within so long at full flow, s */
const TURBINE_FROM_SHARE = 0.55
const TURBINE_LAG_S = 0.35
/** a belt-driven blower with fixed displacement has most of its boost by this share of the speed of full power */
const BELT_SHARE = 0.28
const EFFICIENCY = { exhaust: 0.7, belt: 0.58 } as const
const INTERCOOLER_EFFECT = 0.62
/** J/kg K; and what a belt and its bearings pass on */
const CP_AIR = 1005
const BELT_EFFICIENCY = 0.92
/** fuel that evaporates in a compressor takes a part of the rise */
const WET_RISE = 0.75

/** a turbine dams the exhaust by about as much as it blows */
const TURBINE_DAMS = 1.05
/** What a blower's turbine adds to the exhaust pressure at a boost, kPa; a belt adds nothing. */
export const turbineKpa = (blower: Blower | null, overKpa: number): number =>
  blower?.drive === 'exhaust' ? TURBINE_DAMS * Math.max(0, overKpa) : 0

/**
 * Pressure and heat of the blower. A turbine's boost grows with the square of the flow up to its wastegate and lags it in first order, slower with little
 * flow; a belt's follows crank speed at once. Source: Heywood, sections 6.8 (compressor work and efficiency) and 6.8.4 (turbine and wastegate).
 */
export class Boost {
  overKpa = 0
  /** a wastegate that stays shut lets pressure go on rising, as a factor of what it should hold */
  gateShare = 1

  constructor(
    readonly blower: Blower | null,
    private readonly barometerKpa: number,
    private readonly fullKgS: number,
    private readonly fullRpm: number,
  ) {}

  step(dt: number, airKgS: number, rpm: number): void {
    const { blower } = this
    if (!blower) return
    const limit = blower.fullKpa * this.gateShare
    if (blower.drive === 'belt') {
      this.overKpa = (limit * (1 - Math.exp(-rpm / (BELT_SHARE * this.fullRpm)))) / (1 - Math.exp(-1 / BELT_SHARE))
      return
    }
    const flow = airKgS / this.fullKgS
    const offered = Math.min(limit, blower.fullKpa * (flow / TURBINE_FROM_SHARE) ** 2)
    this.overKpa += ((offered - this.overKpa) * dt) / (TURBINE_LAG_S * (1 + 0.6 / Math.max(0.15, flow)))
  }

  /** Air before the throttle, kPa; and what stands after the throttle is so many times what left it. */
  get beforeKpa(): number {
    return this.barometerKpa + (this.blower?.place === 'blow-through' ? this.overKpa : 0)
  }
  get afterTimes(): number {
    return this.blower?.place === 'draw-through' ? 1 + this.overKpa / this.barometerKpa : 1
  }
  /** What a belt takes from the crank to compress an air flow, W. */
  beltW(airKgS: number, airK: number): number {
    const { blower } = this
    if (blower?.drive !== 'belt' || this.overKpa <= 0) return 0
    return (airKgS * CP_AIR * compressorRiseK(1 + this.overKpa / this.barometerKpa, airK, EFFICIENCY.belt)) / BELT_EFFICIENCY
  }
  /** What compression heats the intake air by, K. */
  riseK(airK: number): number {
    const { blower } = this
    if (!blower || this.overKpa <= 0) return 0
    const rise = compressorRiseK(1 + this.overKpa / this.barometerKpa, airK, EFFICIENCY[blower.drive])
    return rise * (blower.intercooled ? 1 - INTERCOOLER_EFFECT : 1) * (blower.place === 'draw-through' ? WET_RISE : 1)
  }
}
