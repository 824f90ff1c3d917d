import { KELVIN_AT_0_C, R_DRY_AIR_J_KGK, type Route } from '../air/index.ts'
import { alongCurve } from '../kernel/index.ts'
import { ccMinToMassGps } from './injector-size.ts'

/** What the injectors and the unit that opens them are, as a tune holds it. */
export interface InjectionParameters {
  injectors: number
  /** openings of each injector in one 720-degree cycle */
  injectionsPerCycle: number
  injectorCcMin: number
  fuelDensityKgL: number
  /** dead time by battery voltage: [V, ms] */
  deadTimeMs: readonly (readonly [number, number])[]
}

/** air and coolant of a warm engine, at which a tune is judged, degC */
export const WARM_AIR_C = 25
export const WARM_COOLANT_C = 85

/** Temperature of the charge between intake air and hot manifold: air + k (coolant - air), degC. */
export const chargeTemperatureC = (airC: number, coolantC: number, k: number): number => airC + k * (coolantC - airC)

/** Air drawn by one cylinder in one cycle, g: VE x MAP / (R T) x V (Heywood, section 2.10, VE referred to the manifold). */
export const airPerCylinderG = (vePct: number, mapKpa: number, chargeC: number, cylinderCc: number): number =>
  ((vePct / 100) * mapKpa * 1000 * (cylinderCc / 1e6) * 1000) / (R_DRY_AIR_J_KGK * (chargeC + KELVIN_AT_0_C))

/** Fuel one injector passes while open, g/ms. */
const injectorGPerMs = (p: Pick<InjectionParameters, 'injectorCcMin' | 'fuelDensityKgL'>): number =>
  ccMinToMassGps(p.injectorCcMin, p.fuelDensityKgL) / 1000

/** Opening time for a fuel mass per engine cycle (all cylinders), ms: shared over injectors and openings, dead time added once to each and never enriched. */
export function pulseMs(fuelPerCycleG: number, p: InjectionParameters, batteryV: number): number {
  return fuelPerCycleG / (p.injectors * p.injectionsPerCycle * injectorGPerMs(p)) + alongCurve(p.deadTimeMs, batteryV)
}

/** Fuel that a pulse delivers per engine cycle, g: the inverse of `pulseMs`, with the flow and dead time the injectors really have. */
export function fuelPerCycleG(pulse: number, p: InjectionParameters, batteryV: number, gPerMs = injectorGPerMs(p)): number {
  return Math.max(0, pulse - alongCurve(p.deadTimeMs, batteryV)) * gPerMs * p.injectors * p.injectionsPerCycle
}

/** Share of the time an injector is open, %. */
export const dutyPct = (pulse: number, rpm: number, injectionsPerCycle: number): number => (100 * pulse * injectionsPerCycle * rpm) / 120000

/** Openings of each injector in one cycle: a shared body serves every firing, an own port one. */
export const openingsPerCycle = (route: Route, cylinders: number, injectors: number): number =>
  route === 'throttle-body' ? Math.max(1, Math.round(cylinders / injectors)) : 1
