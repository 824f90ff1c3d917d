import { KELVIN_AT_0_C } from '../air/index.ts'
import { CoreError } from '../kernel/index.ts'
import { SENSOR_SPARE_KPA } from './limits.ts'
import type { TuneParameters } from './tune.ts'

/** Resistance of a temperature sensor at three temperatures: [degC, ohm], falling. */
export type ThermistorPoints = [number, number][]
/** Coefficients of 1/T = a + b ln R + c (ln R)^3, T in K, R in ohm. */
export interface SteinhartHart {
  a: number
  b: number
  c: number
}

/**
 * The curve of a temperature sensor through three measured points.
 * @param points [degC, ohm], resistance falling as temperature rises
 * @throws CoreError INVALID_INPUT unless there are three points, temperatures rising and resistances falling
 * @source Steinhart and Hart, Deep-Sea Research 15 (1968), 497: three equations in a, b, c
 */
export function steinhartHart(points: ThermistorPoints): SteinhartHart {
  const sorted = [...points].sort((p, q) => p[0] - q[0])
  if (sorted.length !== 3) throw new CoreError('TABLE_INVALID', 'sensor curve', `has ${sorted.length} points; it wants three`)
  for (let i = 1; i < 3; i++)
    if (!(sorted[i][0] > sorted[i - 1][0] && sorted[i][1] < sorted[i - 1][1] && sorted[i][1] > 0))
      throw new CoreError(
        'TABLE_INVALID',
        'sensor curve',
        'resistance must fall as temperature rises, in ohm, at three temperatures in degC',
      )
  const l = sorted.map(([, ohm]) => Math.log(ohm))
  const y = sorted.map(([degC]) => 1 / (degC + KELVIN_AT_0_C))
  const g2 = (y[1] - y[0]) / (l[1] - l[0])
  const g3 = (y[2] - y[0]) / (l[2] - l[0])
  const c = (g3 - g2) / (l[2] - l[1]) / (l[0] + l[1] + l[2])
  const b = g2 - c * (l[0] * l[0] + l[0] * l[1] + l[1] * l[1])
  return { a: y[0] - l[0] * (b + c * l[0] * l[0]), b, c }
}

/** Temperature of a sensor, degC, at a resistance, ohm. */
export function thermistorC({ a, b, c }: SteinhartHart, ohm: number): number {
  const l = Math.log(ohm)
  return 1 / (a + b * l + c * l * l * l) - KELVIN_AT_0_C
}

/** Resistance of a sensor, ohm, at a temperature: the inverse, by the cubic's real root (straight line where c is nothing). */
export function thermistorOhm({ a, b, c }: SteinhartHart, degC: number): number {
  const x = a - 1 / (degC + KELVIN_AT_0_C)
  if (Math.abs(c) < 1e-14) return Math.exp(-x / b)
  const p = b / c
  const q = x / c
  const root = Math.sqrt(p ** 3 / 27 + q ** 2 / 4)
  return Math.exp(Math.cbrt(root - q / 2) - Math.cbrt(root + q / 2))
}

export const sensorParameterKeys = [
  'mapAtZeroVKpa',
  'mapKpaPerV',
  'coolantSensorOhm',
  'airSensorOhm',
  'throttleShutV',
  'throttleOpenV',
  'lambdaAtZeroV',
  'lambdaPerV',
] as const satisfies (keyof TuneParameters)[]
export type SensorParameters = Pick<TuneParameters, (typeof sensorParameterKeys)[number]>

const SHUT_V = 0.5
const OPEN_V = 4.5
/** Volts past which an input only tells that the sensor has reached its end. */
export const SENSOR_MIN_V = 0.2
export const SENSOR_MAX_V = 4.8
/** Kind of a common resistance sensor, 2.5 kohm at 20 degC. Take the curve of the sensor at hand from its sheet, or measure three points. */
export const USUAL_THERMISTOR: ThermistorPoints = [
  [0, 5800],
  [20, 2500],
  [80, 320],
]
const USUAL_MAP_KPA = { low: 10, natural: 110 }

/** Sensors as they usually come, for a highest manifold pressure to be read. Every value is to be replaced by the sheet of the sensor at hand. */
export function usualSensors(highestKpa: number): SensorParameters {
  // pressure sensors come in steps; the next one over what is needed
  const top = [USUAL_MAP_KPA.natural, 160, 210, 260, 310, 400].find((kpa) => kpa >= highestKpa + SENSOR_SPARE_KPA) ?? 400
  const perV = (top - USUAL_MAP_KPA.low) / (OPEN_V - SHUT_V)
  return {
    mapAtZeroVKpa: USUAL_MAP_KPA.low - perV * SHUT_V,
    mapKpaPerV: perV,
    coolantSensorOhm: USUAL_THERMISTOR,
    airSensorOhm: USUAL_THERMISTOR,
    throttleShutV: SHUT_V,
    throttleOpenV: OPEN_V,
    lambdaAtZeroV: 0.5,
    lambdaPerV: 0.4,
  }
}
/** Highest manifold pressure a sensor tells, kPa. */
export const mapTopKpa = (p: Pick<SensorParameters, 'mapAtZeroVKpa' | 'mapKpaPerV'>): number => p.mapAtZeroVKpa + p.mapKpaPerV * OPEN_V

const inRange = (volts: number): number => Math.min(SENSOR_MAX_V, Math.max(SENSOR_MIN_V, volts))

/** Volts and ohms to numbers and back, by the sensor values of a tune. */
export class SensorSet {
  private readonly coolant: SteinhartHart
  private readonly air: SteinhartHart
  constructor(private readonly p: SensorParameters) {
    this.coolant = steinhartHart(p.coolantSensorOhm as ThermistorPoints)
    this.air = steinhartHart(p.airSensorOhm as ThermistorPoints)
  }
  mapKpa = (volts: number): number => this.p.mapAtZeroVKpa + this.p.mapKpaPerV * inRange(volts)
  mapV = (kpa: number): number => inRange((kpa - this.p.mapAtZeroVKpa) / this.p.mapKpaPerV)
  throttlePct = (volts: number): number => (100 * (volts - this.p.throttleShutV)) / (this.p.throttleOpenV - this.p.throttleShutV)
  throttleV = (pct: number): number => this.p.throttleShutV + (pct / 100) * (this.p.throttleOpenV - this.p.throttleShutV)
  lambda = (volts: number): number => this.p.lambdaAtZeroV + this.p.lambdaPerV * volts
  lambdaV = (lambda: number): number => (lambda - this.p.lambdaAtZeroV) / this.p.lambdaPerV
  coolantC = (ohm: number): number => thermistorC(this.coolant, ohm)
  coolantOhm = (degC: number): number => thermistorOhm(this.coolant, degC)
  airC = (ohm: number): number => thermistorC(this.air, ohm)
  airOhm = (degC: number): number => thermistorOhm(this.air, degC)
}
