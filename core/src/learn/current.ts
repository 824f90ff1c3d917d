import { learnSetup, type LearnSetup } from './setup.ts'
import type { TuneDocument } from '../tune/index.ts'
import { type Context, latest, readingsOf, type StoredReading, tuneInCar } from '../kernel/index.ts'

/** The latest solve, when it was made against the tune now in the car. */
export const currentLearn = (c: Context) => {
  const result = latest(c.readings, 'learn.result')
  const tune = tuneInCar(c.build)
  return result && tune && result.value.tuneId === tune.id ? result : null
}

/** Every solve against the tune now in the car, oldest first: what moved from drive to drive. */
export function learnedOverDrives(c: Context): StoredReading<'learn.result'>[] {
  const tune = tuneInCar(c.build)
  return tune ? readingsOf(c.readings, 'learn.result').filter((r) => r.value.tuneId === tune.id) : []
}
/** What the unit held after the drives before, at the cells of the tune in the car, %: a cell that this log visits once is held against it. */
const heldBefore = (c: Context, logId: string): (number | null)[] | undefined =>
  learnedOverDrives(c).findLast((r) => r.value.logId !== logId && r.value.held)?.value.held

/** The setup of a solve of one log of a build: with what the unit held after the drives before. */
export function learnSetupOf(c: Context, tune: TuneDocument | null, logId: string): LearnSetup {
  const before = heldBefore(c, logId)
  return { ...learnSetup(c.build, tune), ...(before ? { before } : {}) }
}
