import type { BenchCar } from './car.ts'

const AT_REST_V = 12.65
const CHARGING_V = 13.9
const SOUND_CRANKING_V = 10.4
const LAG_S = 0.08
/** inner resistance of battery with its cables at rest, and of a running alternator, ohm */
const BATTERY_OHM = 0.02
const CHARGING_OHM = 0.01
const UNIT_A = 3
const PUMP_A = 6
const FAN_A = 12
/** what starter and coils send through the earth strap of engine and unit, A, cranking and running */
const STRAP_A = { cranking: 30, running: 6 }

/** Who takes current, and from what. */
export interface Consumers {
  keyOn: boolean
  cranking: boolean
  rpm: number
  pumpOn: boolean
  fanOn: boolean
  /** of a weak battery; null: a sound one */
  crankingV: number | null
  groundOhm: number
}

/** Battery, charging and what the consumers take; a bad earth lifts the unit's own zero. First-order, no state of charge. */
export class Electrics {
  batteryV = 12.6
  /** volts the unit's earth stands over the battery's */
  groundLiftV = 0
  /** current of what the key feeds, A */
  loadA = 0

  step(dt: number, s: Consumers, car: Pick<BenchCar, 'dynamo'>): void {
    this.loadA = (s.keyOn ? UNIT_A : 0) + (s.pumpOn ? PUMP_A : 0) + (s.fanOn ? FAN_A : 0)
    const charging = s.rpm > (car.dynamo ? 1100 : 450) && s.keyOn
    const target = s.cranking
      ? (s.crankingV ?? SOUND_CRANKING_V) - CHARGING_OHM * this.loadA
      : charging
        ? CHARGING_V - CHARGING_OHM * this.loadA
        : AT_REST_V - BATTERY_OHM * this.loadA
    this.batteryV += ((target - this.batteryV) * dt) / LAG_S
    const strapA = s.cranking ? STRAP_A.cranking : s.rpm > 50 ? STRAP_A.running : 0
    this.groundLiftV = s.keyOn ? s.groundOhm * (this.loadA + strapA) : 0
  }
}
