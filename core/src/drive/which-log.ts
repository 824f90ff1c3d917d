import { type Context, tuneInCar } from '../kernel/index.ts'
import { drivenWith, logDoubtsSaid, logsTogether } from '../learn/index.ts'

/**
 * The log that a plan of the next drive starts from: the newest of this car, with those that are solved with it.
 * @param rehearsed whether the bench's logs count as well: of the car they say nothing
 * @returns null before there is one; `counts`: driven on the tune now in the car, so that what it proved stands
 */
export function logForPlan(c: Context, rehearsed: boolean): { logIds: string[]; counts: boolean } | null {
  const newest = c.build.logs
    .filter((l) => (rehearsed || l.source !== 'bench') && logDoubtsSaid(c, l).length === 0)
    .reduce<(typeof c.build.logs)[number] | null>((best, l) => (!best || l.createdAt >= best.createdAt ? l : best), null)
  if (!newest) return null
  const tune = tuneInCar(c.build)
  const counts = tune !== null && (newest.tuneId ? newest.tuneId === tune.id : drivenWith(newest, tune))
  return { logIds: logsTogether(c, newest.id), counts }
}
