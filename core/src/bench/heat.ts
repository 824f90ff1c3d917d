import type { BenchCar } from './car.ts'

/** share of the fuel's heat that goes into the coolant */
const COOLANT_SHARE = 0.28
const CASE_W_K = 18
const THERMOSTAT_RANGE_K = 8
const RADIATOR_W_K_PER_L = 260
const BONNET_K = 12
const AIR_LAG_S = 60

/** Coolant as one lumped heat capacity behind a thermostat, and intake air warmed under the bonnet, less by a fast stream. */
export class Heat {
  intakeC: number
  constructor(
    private readonly car: BenchCar,
    public coolantC: number,
  ) {
    this.intakeC = car.ambientC
  }

  step(dt: number, fuelGps: number, airKgS: number, fanOn: boolean): void {
    const { car } = this
    const opened = Math.min(1, Math.max(0, (this.coolantC - car.thermostatC) / THERMOSTAT_RANGE_K))
    const lossWK = CASE_W_K + opened * RADIATOR_W_K_PER_L * car.displacementM3 * 1000 * (fanOn ? 0.5 : 0.28)
    const gainW = (fuelGps / 1000) * car.fuel.heatJKg * COOLANT_SHARE
    this.coolantC += ((gainW - lossWK * (this.coolantC - car.ambientC)) / car.heatCapacityJK) * dt
    const soak = Math.min(1, Math.max(0, (this.coolantC - car.ambientC) / 60))
    const warmAir = car.ambientC + BONNET_K * soak * (1 - Math.min(0.7, airKgS / 0.06))
    this.intakeC += ((warmAir - this.intakeC) * dt) / AIR_LAG_S
  }
}
