import type { BenchCar } from './car.ts'
import { R_GAS } from './physics.ts'

/** mean gas temperature between port and sensor, K */
const EXHAUST_K = 750
const RING = 4096
/** crank degrees from spark to open port, as a time: 600 degrees are 100 / rpm seconds */
const SPARK_TO_PORT = 100
export const SENSOR_WARM_S = 18
const OFF_SCALE_LAMBDA = 2.2
const LOW_SCALE_LAMBDA = 0.6
/** gas flow at which a leaking joint draws in half of what it does at rest, kg/s */
const LEAK_FLOW_KG_S = 0.006
/** an unheated tip is half warm at this gas flow, follows it in so many seconds, and reads so much too lean when stone cold */
const TIP_FLOW_KG_S = 0.012
const TIP_S = 25
const COLD_READS_LEAN = 0.25

/** From the port to the number: transport delay, dilution by a leaking joint, first-order lag, heater. What goes by is fuel-air equivalence ratio. */
export class MixtureSensor {
  private readonly ring = new Float32Array(RING)
  private phi = 0
  private heatedS = 0
  private index = 0
  /** set at each tick of the unit: share of outside air at no flow, times the lag of a new one, reading over the truth as a share */
  leakShare = 0
  slow = 1
  reads = 1
  /** its heater works; without it only hot gas keeps the tip warm */
  heated = true
  /** how warm the tip is: 1 where it tells the truth */
  private tip = 1
  /** lambda it goes on telling whatever passes; null: it follows */
  stuckAt: number | null = null

  constructor(private readonly car: BenchCar) {}

  step(dt: number, portPhi: number, rpm: number, airOutKgS: number): void {
    this.index = (this.index + 1) & (RING - 1)
    this.ring[this.index] = portPhi
    const volumeM3S = Math.max(1e-5, (airOutKgS * R_GAS * EXHAUST_K) / (this.car.barometerKpa * 1000))
    const delaySteps = Math.min(RING - 2, Math.round(((rpm > 60 ? SPARK_TO_PORT / rpm : 1) + this.car.pipeM3 / volumeM3S) / dt))
    let arriving = this.ring[(this.index - delaySteps) & (RING - 1)]
    // between pulses a leaking joint draws air in; the pulses of more gas leave less of it
    if (this.leakShare > 0) arriving *= 1 - this.leakShare / (1 + airOutKgS / LEAK_FLOW_KG_S)
    this.phi += ((arriving - this.phi) * dt) / (this.car.sensorLagS * this.slow)
  }

  heat(dt: number, on: boolean, airOutKgS: number): void {
    const warm = this.heated ? 1 : airOutKgS / (airOutKgS + TIP_FLOW_KG_S)
    this.tip += ((warm - this.tip) * dt) / TIP_S
    this.heatedS = on ? Math.min(SENSOR_WARM_S + 10, this.heatedS + dt) : Math.max(0, this.heatedS - dt)
  }

  /** lambda as the sensor tells it; null until it is hot */
  get lambda(): number | null {
    if (this.heatedS < SENSOR_WARM_S) return null
    if (this.stuckAt !== null) return this.stuckAt
    return this.phi < 1 / OFF_SCALE_LAMBDA
      ? OFF_SCALE_LAMBDA
      : Math.max(LOW_SCALE_LAMBDA, (this.reads * (1 + COLD_READS_LEAN * (1 - this.tip))) / this.phi)
  }
}
