import { peakTorqueRpm, vePeakPct } from '../air/index.ts'
import type { JudgedContext } from '../kernel/index.ts'
import type { FitupChoices, JointId } from './choices.ts'
import { type Drawing, type Linkage, pedalCurve, wholeLinkage } from './linkage.ts'

export const fitupOf = (c: Pick<JudgedContext, 'build'>): FitupChoices => c.build.choices.fitup ?? {}
export const routeOf = ({ plan }: JudgedContext) => plan.route ?? 'throttle-body'
export const hasPedalMotor = ({ plan }: JudgedContext): boolean => plan.electronicThrottle === true
export const individual = (c: JudgedContext): boolean => routeOf(c) === 'individual-runner'
/** Findings are of a car that somebody fits up: one in which nothing of it was told is not judged by guesses. */
export const begun = ({ build }: JudgedContext): boolean =>
  build.choices.fitup !== undefined || build.readings.some((r) => r.kind.startsWith('fitup.'))

/** Joints of this job that are drawn down in order. */
export const jointsFor = (c: JudgedContext): JointId[] => [
  'throttle',
  ...(routeOf(c) === 'throttle-body' && c.facts.place?.flange !== undefined && fitupOf(c).joints?.adapter ? (['adapter'] as const) : []),
  ...(routeOf(c) === 'throttle-body' ? [] : (['manifold'] as const)),
]
export const jointWords: Record<JointId, string> = { throttle: 'throttle flange', adapter: 'adapter', manifold: 'manifold' }

/** A pedal is felt at a gentle cruise: so much of the speed of peak torque. */
const FELT_SHARE = 0.7
const IDLE_SHARE = 0.06
/** The engine that draws through the plates of this car. */
export function drawingOf(c: JudgedContext): Drawing {
  const { camClass, redlineRpm, displacementCc, barometerKpa, cylinders } = c.resolved
  const rpm = FELT_SHARE * peakTorqueRpm(camClass, redlineRpm)
  const vePct = vePeakPct(camClass, routeOf(c)).torque
  const whole = displacementCc ?? 500 * (cylinders ?? 4)
  // beside the plates passes what an idle takes: a small share of the opening that full load has
  const { boreMm, count } = linkageOf(c).plate
  return {
    displacementCc: whole,
    rpm,
    vePct,
    barometerKpa,
    airC: 20,
    idleMm2: (IDLE_SHARE * count * Math.PI * boreMm ** 2) / 4 / Math.sqrt(count * 4),
  }
}
export function linkageOf(c: JudgedContext): Linkage {
  const told = fitupOf(c).linkage
  const whole = wholeLinkage(told)
  const count = told?.plate?.count ?? (individual(c) ? (c.resolved.cylinders ?? whole.plate.count) : whole.plate.count)
  return { ...whole, plate: { ...whole.plate, count } }
}
export const pedalCurveOf = (c: JudgedContext) => pedalCurve(linkageOf(c), drawingOf(c))
