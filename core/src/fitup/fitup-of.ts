import { peakTorqueRpm, vePeakPct } from '../air/index.ts'
import type { JudgedContext } from '../kernel/index.ts'
import type { FitupChoices, JointId, PedalChoices } from './choices.ts'
import {
  airOver,
  type PedalPoint,
  type PedalFigures,
  pedalFigures,
  tipInAir,
  type Drawing,
  holeMm2,
  type Linkage,
  pedalCurve,
  wholeLinkage,
} from './linkage.ts'
import { pedalMap } from './tracks.ts'

export const fitupOf = (c: Pick<JudgedContext, 'build'>): FitupChoices => c.build.choices.fitup ?? {}
export const routeOf = ({ plan }: JudgedContext) => plan.route ?? 'throttle-body'
export const hasPedalMotor = ({ plan }: JudgedContext): boolean => plan.electronicThrottle === true
export const individual = (c: JudgedContext): boolean => routeOf(c) === 'individual-runner'
/** Findings are of a car that somebody fits up: one in which nothing of it was told is not judged by guesses. */
export const begun = ({ build }: JudgedContext): boolean =>
  build.choices.fitup !== undefined || build.readings.some((r) => r.kind.startsWith('fitup.'))

/** Joints of this job that are drawn down in order: what stands below first. */
export function jointsFor(c: JudgedContext): JointId[] {
  if (routeOf(c) !== 'throttle-body') return ['manifold', 'throttle']
  return fitupOf(c).joints?.adapter ? ['adapter', 'throttle'] : ['throttle']
}
/** A pedal is felt at a gentle cruise: so much of the speed of peak torque. */
const FELT_SHARE = 0.7
const IDLE_RPM = 800
const AIR_C = 20
/** The engine that draws through the plates of this car. */
export function drawingOf(c: JudgedContext): Drawing {
  const { camClass, redlineRpm, displacementCc, barometerKpa, idleMapKpa, cylinders } = c.resolved
  const ve = vePeakPct(camClass, routeOf(c))
  const engine = {
    displacementCc: displacementCc ?? 500 * (cylinders ?? 4),
    rpm: FELT_SHARE * peakTorqueRpm(camClass, redlineRpm),
    vePct: ve.torque,
    barometerKpa,
    airC: AIR_C,
  }
  // what passes beside the plates at idle: the hole that an idle of this cam draws through
  const idleMm2 = holeMm2({ ...engine, rpm: IDLE_RPM, vePct: (ve.idle[0] + ve.idle[1]) / 2 }, idleMapKpa)
  return { ...engine, idleMm2 }
}
export function linkageOf(c: JudgedContext): Linkage {
  const told = fitupOf(c).linkage
  const whole = wholeLinkage(told)
  const count = told?.plate?.count ?? (individual(c) ? (c.resolved.cylinders ?? whole.plate.count) : whole.plate.count)
  return { ...whole, plate: { ...whole.plate, count } }
}
export const pedalCurveOf = (c: JudgedContext) => pedalCurve(linkageOf(c), drawingOf(c))
/** Figures of a context, worked out once: several rules look at them. */
const figured = new WeakMap<JudgedContext, PedalFigures>()
export function pedalFiguresOf(c: JudgedContext): PedalFigures {
  const known = figured.get(c) ?? pedalFigures(linkageOf(c), drawingOf(c))
  figured.set(c, known)
  return known
}

/** Air over the pedal where a motor moves the plate along a curve: the plate goes from shut to square over its whole way. */
export function motorAir(c: JudgedContext, curve: NonNullable<PedalChoices['curve']>): { points: PedalPoint[]; tipInAir: number } {
  const plateOf = pedalMap({ curve })
  const { plate } = linkageOf(c)
  const one = { plate, second: null }
  const degOf = (pedal: number): number => plate.shutDeg + ((90 - plate.shutDeg) * plateOf(100 * pedal)) / 100
  const e = drawingOf(c)
  return { points: airOver(one, e, degOf), tipInAir: tipInAir(one, e, degOf) }
}
