import { place } from '../tune/index.ts'
import { movedKg, roadForceN, type RoadCar, rpmAt, wheelNPerNm } from './car.ts'
import type { LoadScale } from './load.ts'
import type { TorqueMap } from './torque.ts'

/** Seconds spent at the four cells around a point, by bilinear share; the corners that get anything. */
export function shareOut(
  scale: Pick<LoadScale, 'rpm' | 'axis'>,
  rpm: number,
  load: number,
  seconds: number,
  put: (cell: number, seconds: number) => void,
): void {
  const x = place(scale.rpm, rpm)
  const y = place(scale.axis, load)
  const at = y.index * scale.rpm.length + x.index
  const corner = (cell: number, share: number) => share > 0 && put(cell, seconds * share)
  corner(at, (1 - x.fraction) * (1 - y.fraction))
  corner(at + 1, x.fraction * (1 - y.fraction))
  corner(at + scale.rpm.length, (1 - x.fraction) * y.fraction)
  corner(at + scale.rpm.length + 1, x.fraction * y.fraction)
}

/** How a car of the road is used: shares of the time standing, in town, on country roads, on fast ones. */
const STANDING_SHARE = 0.08
const SPEEDS: readonly [kmh: number, share: number][] = [
  [25, 0.08],
  [35, 0.12],
  [45, 0.14],
  [55, 0.14],
  [70, 0.16],
  [80, 0.16],
  [95, 0.12],
  [110, 0.08],
]
const GRADES: readonly [pct: number, share: number][] = [
  [-2.5, 0.2],
  [0, 0.55],
  [2.5, 0.2],
  [5, 0.05],
]
const ACCELERATIONS: readonly [mS2: number, share: number][] = [
  [-0.3, 0.15],
  [0, 0.55],
  [0.3, 0.18],
  [0.7, 0.12],
]
/** Most people drive in the highest gear that pulls, some in the one below; a gear pulls from this share of the redline. */
const GEARS: readonly [below: number, share: number][] = [
  [0, 0.7],
  [1, 0.3],
]
const PULLS_FROM = 0.28
/** A log of this length says as much of how the car is used as all of the above, s. */
const OWN_USE_S = 1200

export interface UseOf {
  car: RoadCar
  torque: TorqueMap
  scale: LoadScale
  redlineRpm: number
  idle: { rpm: number; load: number }
  topKmh: number
  /** seconds driven at each cell in the log at hand */
  drivenS?: readonly number[]
}

/**
 * Share of the driving that each cell will see, adding up to 1: standing, town, road and fast road with climbs and gentle acceleration, each
 * led through road load and the engine's torque to speed and load; the log at hand says how this very car is driven.
 */
export function expectedUse({ car, torque, scale, redlineRpm, idle, topKmh, drivenS }: UseOf): number[] {
  const use = new Array<number>(scale.rpm.length * scale.axis.length).fill(0)
  const add = (rpm: number, load: number, share: number) => shareOut(scale, rpm, load, share, (cell, s) => (use[cell] += s))
  add(idle.rpm, idle.load, STANDING_SHARE)
  for (const [kmh, speedShare] of SPEEDS) {
    if (kmh > topKmh) continue
    const highest = car.gears.findLastIndex((_, g) => g === 0 || rpmAt(car, kmh, g + 1) >= PULLS_FROM * redlineRpm) + 1
    for (const [below, gearShare] of GEARS) {
      const gear = Math.max(1, highest - below)
      const rpm = rpmAt(car, kmh, gear)
      for (const [grade, gradeShare] of GRADES)
        for (const [mS2, share] of ACCELERATIONS) {
          const wanted = (roadForceN(car, kmh, grade) + movedKg(car, gear) * mS2) / wheelNPerNm(car, gear)
          // pushed by the road with the foot off, the fuel is cut
          if (wanted <= 0) continue
          add(rpm, torque.loadFor(rpm, wanted) ?? torque.fullLoad, speedShare * gearShare * gradeShare * share)
        }
    }
  }
  const total = use.reduce((a, b) => a + b, 0)
  const driven = (drivenS ?? []).reduce((a, b) => a + b, 0)
  const own = driven / (driven + OWN_USE_S)
  return use.map((u, c) => (1 - own) * (u / total) + (driven > 0 ? (own * drivenS![c]) / driven : 0))
}
