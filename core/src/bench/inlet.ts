import type { BenchCar } from './car.ts'
import { trueVe } from './ve-grid.ts'
import { CRITICAL_FLOW, R_GAS } from './physics.ts'

/**
 * The air path: plates, idle valve and leaks into one manifold, cylinders out of it. Isothermal filling and emptying (Heywood, section 14.3.2), with
 * a linearised implicit step, because an open plate makes the manifold faster than a step of 1 ms. The flows counted are the flows used, so mass
 * balances to rounding.
 */
export class Inlet {
  airKg = 0
  /** sums since the start, kg */
  inKg = 0
  outKg = 0
  /** air going into the cylinders now, kg/s */
  outKgS = 0
  mapKpa: number
  /** set at each tick of the unit: they change slowly against a step */
  chargeK = 293
  openShare = 0
  fixedAreaM2 = 0
  breathes = 1
  /** what a blower makes of the air before the throttle, kPa and K, and of the pressure after it, as a factor */
  beforeKpa: number
  beforeK: number
  afterTimes = 1
  /** as the engine breathes now: another grid with its cam a tooth out or its exhaust blocked */
  breathing: Pick<BenchCar, 've'>

  constructor(
    private readonly car: BenchCar,
    chargeK: number,
  ) {
    this.breathing = car
    this.beforeKpa = car.barometerKpa
    this.beforeK = car.ambientC + 273.15
    this.chargeK = chargeK
    this.mapKpa = car.barometerKpa
    this.airKg = (car.barometerKpa * 1000 * car.manifoldM3) / (R_GAS * chargeK)
    this.refresh()
  }

  /** Set with the blower, at each tick of the unit: flow through a choked square metre over its flow function. */
  private passesKgSM2 = 0
  refresh(): void {
    this.passesKgSM2 = (this.beforeKpa * 1000) / Math.sqrt(R_GAS * this.beforeK)
  }

  step(dt: number, rpm: number): void {
    const { car } = this
    const fill = (R_GAS * this.chargeK) / car.manifoldM3
    const mapPa = this.airKg * fill
    const backPa = this.beforeKpa * 1000 * this.afterTimes
    const ratio = mapPa / backPa
    const flow = (this.fixedAreaM2 + car.throttleAreaM2 * this.openShare) * this.passesKgSM2
    const pumpPerS = ((trueVe(this.breathing, rpm, mapPa / 1000) / 100) * this.breathes * car.displacementM3 * rpm) / (120 * car.manifoldM3)
    const inKgS = flow * CRITICAL_FLOW.at(ratio)
    const inSlope = (flow * CRITICAL_FLOW.slope(ratio) * fill) / backPa
    const change = (dt * (inKgS - pumpPerS * this.airKg)) / (1 + dt * (pumpPerS - inSlope))
    this.outKgS = pumpPerS * (this.airKg + change)
    this.airKg += change
    this.inKg += (inKgS + inSlope * change) * dt
    this.outKg += this.outKgS * dt
    this.mapKpa = (this.airKg * fill) / 1000
  }
}
