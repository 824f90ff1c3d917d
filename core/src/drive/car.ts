import { densityKgM3 } from '../air/index.ts'
import type { Dimension, Told } from '../kernel/index.ts'
import { resolveFacts, rollingCircumferenceM } from '../survey/index.ts'
import { roadLoad } from './road-load.ts'
import { roadSpeed } from './road-speed.ts'

/** The car around the engine, as a plan of driving needs it. */
export interface RoadCar {
  massKg: number
  /** first to top */
  gears: readonly number[]
  axle: number
  circumferenceM: number
  frontalM2: number
  dragCoefficient: number
  automatic: boolean
  airKgM3: number
}
/** A number that the plan rests on: told, or what was taken in its place. */
export interface PlanInput {
  label: string
  value: number
  dimension: Dimension | null
  assumed: boolean
}

/** A saloon of the time, two persons in it; used until the car's own figures are told. */
const USUAL_MASS_KG = 1250
const USUAL_FRONTAL_M2 = 2
const USUAL_DRAG = 0.45
/** Rolling resistance of old radial and bias-ply tyres on asphalt (Gillespie, section 4). */
const ROLLING = 0.014
const AIR_C = 20
/** Share of the engine's torque that reaches the wheels (Gillespie, section 2), and how far a converter slips under way. */
const MANUAL_EFFICIENCY = 0.93
const AUTOMATIC_EFFICIENCY = 0.88
const CONVERTER_SLIP = 0.05

/** Facts without which no gear and no road speed can be told. */
type GearingFact = 'gearing.gearRatios' | 'gearing.axleRatio' | 'gearing.tyreCircumferenceM'

/** The car as told, with what had to be assumed; or which facts are missing. */
export function roadCar(told: Told): { car: RoadCar; inputs: PlanInput[] } | { missing: GearingFact[] } {
  const { gearRatios, axleRatio, gearbox, massKg, frontalM2, dragCoefficient, ...tyre } = told.facts.gearing ?? {}
  const circumferenceM = rollingCircumferenceM(tyre)
  if (!gearRatios?.length || !axleRatio || circumferenceM === null)
    return {
      missing: [
        ...(gearRatios?.length ? [] : (['gearing.gearRatios'] as const)),
        ...(axleRatio ? [] : (['gearing.axleRatio'] as const)),
        ...(circumferenceM === null ? (['gearing.tyreCircumferenceM'] as const) : []),
      ],
    }
  const { barometerKpa } = resolveFacts(told)
  const car: RoadCar = {
    massKg: massKg ?? USUAL_MASS_KG,
    gears: [...gearRatios].sort((a, b) => b - a),
    axle: axleRatio,
    circumferenceM,
    frontalM2: frontalM2 ?? USUAL_FRONTAL_M2,
    dragCoefficient: dragCoefficient ?? USUAL_DRAG,
    automatic: gearbox === 'automatic',
    airKgM3: densityKgM3(barometerKpa, AIR_C),
  }
  const assumed = { assumed: true }
  return {
    car,
    inputs: [
      { label: 'Mass as driven', value: car.massKg, dimension: 'mass', assumed: massKg === undefined },
      { label: 'Frontal area', value: car.frontalM2, dimension: 'frontalArea', assumed: frontalM2 === undefined },
      { label: 'Drag coefficient', value: car.dragCoefficient, dimension: null, assumed: dragCoefficient === undefined },
      { label: 'Rolling resistance, share of weight', value: ROLLING, dimension: null, ...assumed },
      { label: 'Torque that reaches the wheels', value: 100 * efficiency(car), dimension: 'percent', ...assumed },
      ...(car.automatic ? [{ label: 'Converter slip', value: 100 * CONVERTER_SLIP, dimension: 'percent' as const, ...assumed }] : []),
    ],
  }
}
const efficiency = ({ automatic }: Pick<RoadCar, 'automatic'>): number => (automatic ? AUTOMATIC_EFFICIENCY : MANUAL_EFFICIENCY)
const slip = ({ automatic }: Pick<RoadCar, 'automatic'>): number => (automatic ? 1 + CONVERTER_SLIP : 1)

/** Road speed, km/h, at an engine speed in a gear (1 is first). */
export const speedKmhAt = (car: RoadCar, rpm: number, gear: number): number =>
  roadSpeed.run({
    rpm: rpm / slip(car),
    gearRatio: car.gears[gear - 1],
    axleRatio: car.axle,
    tyreCircumferenceM: car.circumferenceM,
  }).speedKmh
/** Engine speed, rpm, at a road speed in a gear. */
export const rpmAt = (car: RoadCar, speedKmh: number, gear: number): number => speedKmh / speedKmhAt(car, 1, gear)

/** Force that the road asks of the wheels at a steady speed, N. */
export const roadForceN = (car: RoadCar, speedKmh: number, gradePct: number): number =>
  roadLoad.run({
    massKg: car.massKg,
    speedKmh,
    gradePct,
    frontalM2: car.frontalM2,
    dragCoefficient: car.dragCoefficient,
    rollingCoefficient: ROLLING,
    densityKgM3: car.airKgM3,
  }).forceN
/** Newton at the wheels for each newton metre of the engine. */
export const wheelNPerNm = (car: RoadCar, gear: number): number =>
  (car.gears[gear - 1] * car.axle * efficiency(car) * 2 * Math.PI) / car.circumferenceM
/**
 * Mass that has to be moved, kg: the car's, and what wheels, driveline and engine add by having to be spun up.
 * Source: Gillespie, Fundamentals of Vehicle Dynamics, section 2 (mass factor 1 + 0.04 + 0.0025 N^2, N the whole reduction)
 */
export const movedKg = (car: RoadCar, gear: number): number => car.massKg * (1.04 + 0.0025 * (car.gears[gear - 1] * car.axle) ** 2)
