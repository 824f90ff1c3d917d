import type { BenchCar } from './car.ts'

/** share of the fuel's heat that goes into the coolant */
const COOLANT_SHARE = 0.28
const CASE_W_K = 18
const THERMOSTAT_RANGE_K = 8
const RADIATOR_W_K_PER_L = 260
/** what a moving car's own wind adds to it, W/K for each litre and m/s */
const WIND_W_K_PER_L = 16
const BONNET_K = 12
const AIR_LAG_S = 60

/** Coolant as one lumped heat capacity behind a thermostat, and intake air warmed under the bonnet, less by a fast stream. */
export class Heat {
  intakeC: number
  /** how fast the car moves, m/s: nothing on a stand */
  windMS = 0
  constructor(
    private readonly car: BenchCar,
    public coolantC: number,
  ) {
    this.intakeC = car.ambientC
  }

  step(dt: number, fuelGps: number, airKgS: number, fanOn: boolean): void {
    const { car } = this
    const opened = Math.min(1, Math.max(0, (this.coolantC - car.thermostatC) / THERMOSTAT_RANGE_K))
    const radiatorWK = RADIATOR_W_K_PER_L * (fanOn ? 0.5 : 0.28) + WIND_W_K_PER_L * this.windMS
    const lossWK = CASE_W_K + opened * radiatorWK * car.displacementM3 * 1000
    const gainW = (fuelGps / 1000) * car.fuel.heatJKg * COOLANT_SHARE
    this.coolantC += ((gainW - lossWK * (this.coolantC - car.ambientC)) / car.heatCapacityJK) * dt
    const soak = Math.min(1, Math.max(0, (this.coolantC - car.ambientC) / 60))
    const warmAir = car.ambientC + BONNET_K * soak * (1 - Math.min(0.7, airKgS / 0.06))
    this.intakeC += ((warmAir - this.intakeC) * dt) / AIR_LAG_S
  }
}
