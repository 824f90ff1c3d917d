import type { Frame } from '../start/index.ts'
import { HARDLY_S, type DrivePlan, type PlannedLeg } from './plan.ts'

/** What a leg would still give that is missing: seconds over all cells that want some. */
export function legStillGives(plan: Pick<DrivePlan, 'cells'>, leg: Pick<PlannedLeg, 'gives'>, gotS: readonly number[]): number {
  let sum = 0
  for (const [cell, s] of leg.gives) {
    const left = plan.cells[cell].needS - gotS[cell]
    if (plan.cells[cell].where === 'road' && left > HARDLY_S) sum += Math.min(left, s)
  }
  return sum
}
/** A leg is worth driving while it still gives so much, s. */
const WORTH_S = 0.6

/** The leg to drive next: the first from `from` on that still gives what is missing; null when none does. */
export function nextLeg(plan: Pick<DrivePlan, 'cells' | 'legs'>, gotS: readonly number[], from: number): number | null {
  const found = plan.legs.findIndex((leg, i) => i >= from && legStillGives(plan, leg, gotS) >= WORTH_S)
  return found < 0 ? null : found
}
/** Share of the wanted seconds that have been driven, 0 to 1. */
export function planDone(plan: Pick<DrivePlan, 'cells'>, gotS: readonly number[]): number {
  let wanted = 0
  let got = 0
  plan.cells.forEach(({ where, needS }, c) => {
    if (where !== 'road') return
    wanted += needS
    got += Math.min(needS, gotS[c])
  })
  return wanted > 0 ? got / wanted : 1
}

/** Over this an engine is taken to drive the car, rpm: standing it idles, and no stream tells road speed. */
const UNDER_WAY_RPM = 1200
/** Whether the car is taken to be moving. */
export const underWay = (frame: Pick<Frame, 'rpm'> | null): boolean => (frame?.rpm ?? 0) > UNDER_WAY_RPM
