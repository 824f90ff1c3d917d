import type { Route } from '../air/index.ts'
import type { JudgedContext } from '../kernel/index.ts'
import { boosted } from '../survey/index.ts'
import type { RouteVariant } from './route-reasons.ts'
import { HIGH_COMPRESSION } from './limits.ts'

/** What a conversion is done for. */
export const aimIds = ['drivability', 'coldStart', 'economy', 'power', 'distribution', 'spark'] as const
type AimId = (typeof aimIds)[number]
const aimTitles: Record<AimId, string> = {
  drivability: 'Drivability',
  coldStart: 'Cold start',
  economy: 'Economy',
  power: 'Power',
  distribution: 'Even mixture',
  spark: 'Timing by speed and load',
}
/** How near a route comes to an aim: 0 far to 3 as near as any. */
type Nearness = 0 | 1 | 2 | 3
/** Hours of work that one step of nearness counts for at a weight of one: our own measure, shown beside the sum. Timing is dear to add later. */
const STEP_HOURS: Record<AimId, number> = { drivability: 2, coldStart: 2, economy: 2, power: 2, distribution: 2, spark: 3 }
/** Power a litre from which the mixture of single cylinders is no longer forgiven, kW: near the limit of heat and knock. */
const STRESSED_KW_PER_LITRE = 50

/** An engine near its knock or heat limit, for which uneven mixture and a fixed advance cost most (handbook 01). */
export function stressed(c: Pick<JudgedContext, 'facts' | 'resolved'>): boolean {
  const { compressionRatio, powerKw, displacementCc } = c.resolved
  const perLitre = powerKw !== null && displacementCc ? powerKw / (displacementCc / 1000) : 0
  return compressionRatio >= HIGH_COMPRESSION || boosted(c) || perLitre >= STRESSED_KW_PER_LITRE
}

/** A body stands close over the ports of an engine of so many cylinders. */
const SHORT_RUNNERS = 3

type Use = NonNullable<NonNullable<JudgedContext['facts']['place']>['use']>
/** What an owner wants of a car by its use, until they say: 0 nothing to 3 most. */
const USE_WEIGHTS: Record<Use, Record<AimId, Nearness>> = {
  road: { drivability: 2, coldStart: 2, economy: 1, power: 1, distribution: 1, spark: 1 },
  'off-road': { drivability: 3, coldStart: 2, economy: 0, power: 1, distribution: 1, spark: 1 },
  track: { drivability: 1, coldStart: 0, economy: 0, power: 3, distribution: 2, spark: 2 },
  strip: { drivability: 0, coldStart: 0, economy: 0, power: 3, distribution: 3, spark: 3 },
  boat: { drivability: 2, coldStart: 2, economy: 1, power: 1, distribution: 1, spark: 1 },
}
/** The weight of each aim: the person's, else by the use of the car and by how near its limit the engine runs. */
function aimWeights(c: JudgedContext): Record<AimId, { weight: number; own: boolean }> {
  const byUse = USE_WEIGHTS[c.facts.place?.use ?? 'road']
  const more = stressed(c) ? 2 : 0
  const usual = (id: AimId): number => Math.min(3, byUse[id] + (id === 'distribution' || id === 'spark' ? more : 0))
  return Object.fromEntries(
    aimIds.map((id) => [id, { weight: c.plan.aims?.[id] ?? usual(id), own: c.plan.aims?.[id] !== undefined }]),
  ) as Record<AimId, { weight: number; own: boolean }>
}

const ROAD: Record<Route, { drivability: Nearness; coldStart: Nearness; economy: Nearness; power: Nearness }> = {
  'throttle-body': { drivability: 2, coldStart: 1, economy: 1, power: 1 },
  'multi-port': { drivability: 3, coldStart: 3, economy: 3, power: 2 },
  'individual-runner': { drivability: 2, coldStart: 2, economy: 2, power: 3 },
}

/** How near a route comes to each aim on this engine: by its wetted walls, its runners, its ports, and its spark. */
function nearness(c: JudgedContext, { route, timingControl }: RouteVariant): Record<AimId, Nearness> {
  const { cylinders, camClass } = c.resolved
  const longCam = camClass === 'hot' || camClass === 'wild'
  const road = { ...ROAD[route] }
  // a body right on one or two ports wets hardly more than a jet in each
  if (route === 'throttle-body' && cylinders !== null && cylinders <= 2) Object.assign(road, { coldStart: 2, economy: 2, drivability: 3 })
  // a long cam's pulses want runners of their own, and spill mixture back through a shared one
  if (longCam && route === 'individual-runner') road.drivability = 3
  if (longCam && route === 'throttle-body') road.power = 0
  const shared = c.facts.engine?.siamesedInlets === true
  const distribution: Nearness =
    cylinders === 1
      ? 3
      : route !== 'throttle-body'
        ? shared
          ? 1
          : 3
        : stressed(c) || (cylinders ?? 4) > 8
          ? 0
          : (cylinders ?? 4) <= SHORT_RUNNERS
            ? 2
            : 1
  const spark: Nearness = timingControl ? 3 : stressed(c) || longCam ? 0 : 2
  return { ...road, distribution, spark }
}

export interface AimSum {
  id: AimId
  title: string
  weight: number
  own: boolean
  nearness: number
  /** hours that falling short of it counts for */
  hours: number
}
/** What a route falls short of, in hours, aim by aim: weight x steps missing x the hours of a step. */
export function aimSums(c: JudgedContext, v: RouteVariant): AimSum[] {
  const weights = aimWeights(c)
  const near = nearness(c, v)
  return aimIds.map((id) => ({
    id,
    title: aimTitles[id],
    ...weights[id],
    nearness: near[id],
    hours: weights[id].weight * (3 - near[id]) * STEP_HOURS[id],
  }))
}
