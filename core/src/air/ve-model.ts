import { monotoneCubic } from '../kernel/index.ts'
import type { CamClass, Route } from './breathing.ts'

/** VE at peak torque, at peak power, and the idle band, %, by cam class; referred to manifold pressure and charge temperature (handbook 05). */
const VE_BY_CAM: Record<CamClass, { torque: number; power: number; idle: [number, number] }> = {
  stock: { torque: 80, power: 72, idle: [45, 55] },
  mild: { torque: 83, power: 78, idle: [42, 52] },
  hot: { torque: 88, power: 85, idle: [38, 48] },
  wild: { torque: 93, power: 92, idle: [30, 42] },
}
const ROUTE_GAIN: Record<Route, number> = { 'throttle-body': 0, 'multi-port': 3, 'individual-runner': 6 }
/** Speed of peak torque and peak power as share of the redline (handbook 05). */
const SPEEDS: Record<CamClass, { torque: number; power: number }> = {
  stock: { torque: 0.48, power: 0.82 },
  mild: { torque: 0.54, power: 0.86 },
  hot: { torque: 0.62, power: 0.9 },
  wild: { torque: 0.68, power: 0.93 },
}
/** Share of the peak that is left at cranking-like speed with the throttle open: long cams give back charge there. */
const LOW_SPEED_SHARE: Record<CamClass, number> = { stock: 0.84, mild: 0.78, hot: 0.7, wild: 0.6 }

export const peakTorqueRpm = (cam: CamClass, redlineRpm: number): number => SPEEDS[cam].torque * redlineRpm
export const peakPowerRpm = (cam: CamClass, redlineRpm: number): number => SPEEDS[cam].power * redlineRpm
export function vePeakPct(cam: CamClass, route: Route): { torque: number; power: number; idle: [number, number] } {
  const base = VE_BY_CAM[cam]
  const gain = ROUTE_GAIN[route]
  return { torque: base.torque + gain, power: base.power + gain, idle: [base.idle[0], base.idle[1]] }
}

export interface VeModelInput {
  cam: CamClass
  route: Route
  redlineRpm: number
  barometerKpa: number
  idleRpm: number
  idleMapKpa: number
  compressionRatio: number
}

/**
 * Volumetric efficiency, %, referred to manifold pressure and charge temperature: peak x speed shape x load shape.
 * The speed shape is a monotone cubic through low speed, peak torque, peak power and the redline. The load shape falls in a straight line with
 * manifold pressure, because the burnt gas left in the clearance takes a growing share of the cylinder (Heywood, section 6.2); it is anchored at
 * idle to the cam's idle band and flattens towards peak torque, where the valves are open too short for residuals to spread.
 */
export function veModel(input: VeModelInput): (rpm: number, mapKpa: number) => number {
  const { cam, route, redlineRpm, barometerKpa, idleRpm, idleMapKpa, compressionRatio } = input
  const ve = vePeakPct(cam, route)
  const torqueRpm = peakTorqueRpm(cam, redlineRpm)
  const powerRpm = peakPowerRpm(cam, redlineRpm)
  const open = monotoneCubic(
    [400, torqueRpm * 0.55, torqueRpm, powerRpm, redlineRpm],
    [ve.torque * LOW_SPEED_SHARE[cam], ve.torque * 0.95, ve.torque, ve.power, ve.power * 0.93],
  )
  const anchorPct = (ve.idle[0] + ve.idle[1]) / 2
  const anchorLoss = (1 - anchorPct / open(idleRpm)) / Math.max(0.15, 1 - idleMapKpa / barometerKpa)
  // at speed only the clearance volume's residuals count: about 1/(r - 1) of the pressure ratio lost
  const speedLoss = 1.1 / (compressionRatio - 1)
  const towardsTorque = (rpm: number) => {
    const t = Math.min(1, Math.max(0, (rpm - 0.4 * idleRpm) / (0.75 * torqueRpm - 0.4 * idleRpm)))
    return t * t * (3 - 2 * t)
  }
  const atIdle = towardsTorque(idleRpm)
  const lowLoss = (anchorLoss - speedLoss * atIdle) / (1 - atIdle)
  return (rpm, mapKpa) => {
    const loss = lowLoss + (speedLoss - lowLoss) * towardsTorque(rpm)
    return open(rpm) * Math.max(0.2, 1 - loss * Math.max(0, 1 - mapKpa / barometerKpa))
  }
}
