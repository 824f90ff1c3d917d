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
/** where in its idle band a cam of the class starts: a quiet one near the top, a wild one, which floods more easily than it starves, near the bottom */
const IDLE_IN_BAND: Record<CamClass, number> = { stock: 0.85, mild: 0.85, hot: 0.5, wild: 0.15 }
/** past its power peak an inlet passes hardly more air in a second: VE falls as nearly the inverse of speed (Taylor, section 6: choking inlet) */
const PAST_POWER = 1.25
/** Share of the peak that is left at cranking-like speed with the throttle open: long cams give back charge there. */
const LOW_SPEED_SHARE: Record<CamClass, number> = { stock: 0.98, mild: 0.92, hot: 0.82, wild: 0.76 }

/** and at a little over half of the speed of peak torque */
const HALF_WAY_SHARE: Record<CamClass, number> = { stock: 0.99, mild: 0.965, hot: 0.9, wild: 0.92 }

export const peakTorqueRpm = (cam: CamClass, redlineRpm: number): number => SPEEDS[cam].torque * redlineRpm
export const peakPowerRpm = (cam: CamClass, redlineRpm: number): number => SPEEDS[cam].power * redlineRpm
export function vePeakPct(cam: CamClass, route: Route): { torque: number; power: number; idle: [number, number] } {
  const base = VE_BY_CAM[cam]
  const gain = ROUTE_GAIN[route]
  return { torque: base.torque + gain, power: base.power + gain, idle: [base.idle[0], base.idle[1]] }
}

/** burnt gas never takes more than this leaves, and the straight line comes to it without a corner */
const LEAST_SHARE = 0.28
const eased = (share: number): number => (share >= 2 * LEAST_SHARE ? share : LEAST_SHARE + Math.max(0, share) ** 2 / (4 * LEAST_SHARE))

export interface VeModelInput {
  cam: CamClass
  route: Route
  redlineRpm: number
  barometerKpa: number
  idleRpm: number
  idleMapKpa: number
  compressionRatio: number
  /** VE at full power by the papers, %; left out: the cam class's */
  fullPowerVePct?: number
}

/**
 * Volumetric efficiency, %, referred to manifold pressure and charge temperature: peak x speed shape x load shape.
 * The speed shape is a monotone cubic through low speed, peak torque, peak power and the redline. The load shape falls in a straight line with
 * manifold pressure, because the burnt gas left in the clearance takes a growing share of the cylinder (Heywood, section 6.2); it is anchored at
 * idle to the cam's idle band and flattens towards peak torque, where the valves are open too short for residuals to spread.
 */
export function veModel(input: VeModelInput): (rpm: number, mapKpa: number) => number {
  const { cam, route, redlineRpm, barometerKpa, idleRpm, idleMapKpa, compressionRatio } = input
  const usual = vePeakPct(cam, route)
  // papers move the open-throttle curve as a whole; its shape stays the class's
  const scale = input.fullPowerVePct === undefined ? 1 : input.fullPowerVePct / usual.power
  const ve = { torque: usual.torque * scale, power: usual.power * scale, idle: usual.idle }
  const torqueRpm = peakTorqueRpm(cam, redlineRpm)
  const powerRpm = peakPowerRpm(cam, redlineRpm)
  // what runners of their own add comes with speed: a fifth of it is there where the engine turns slowly
  const low = ve.torque * (1 - (0.8 * ROUTE_GAIN[route]) / usual.torque)
  const open = monotoneCubic(
    [400, torqueRpm * 0.55, torqueRpm, powerRpm, redlineRpm],
    [low * LOW_SPEED_SHARE[cam], low * HALF_WAY_SHARE[cam], ve.torque, ve.power, ve.power * (powerRpm / redlineRpm) ** PAST_POWER],
  )
  const anchorPct = ve.idle[0] + IDLE_IN_BAND[cam] * (ve.idle[1] - ve.idle[0])
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
    return open(rpm) * eased(1 - loss * Math.max(0, 1 - mapKpa / barometerKpa))
  }
}
