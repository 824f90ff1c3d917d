import { learnSetup, type LearnSetup, type UnsafePlace } from './setup.ts'
import type { TuneDocument } from '../tune/index.ts'
import type { Cause } from '../diagnose/index.ts'
import { type Context, latest, proved, readingsOf, type StoredReading, type TuneSummary, tuneInCar } from '../kernel/index.ts'

/** The latest solve, when it was made against the tune now in the car. */
export const currentLearn = (c: Context) => {
  const result = latest(c.readings, 'learn.result')
  const tune = tuneInCar(c.build)
  return result && tune && result.value.tuneId === tune.id ? result : null
}

/** The version that was made of the log that is current, while it waits to be put in the car. */
export function acceptedOf(c: Context): TuneSummary | null {
  const result = currentLearn(c)
  return result
    ? (c.build.tunes.findLast(
        (t) => t.origin === 'learned' && t.logId === result.value.logId && (t.status === 'draft' || t.status === 'ready'),
      ) ?? null)
    : null
}

/** Every solve against the tune now in the car, oldest first: what moved from drive to drive. */
export function learnedOverDrives(c: Context): StoredReading<'learn.result'>[] {
  const tune = tuneInCar(c.build)
  return tune ? readingsOf(c.readings, 'learn.result').filter((r) => r.value.tuneId === tune.id) : []
}
/** What the unit held after the drives before, at the cells of the tune in the car, %: a cell that this log visits once is held against it. */
const heldBefore = (c: Context, logId: string): (number | null)[] | undefined =>
  learnedOverDrives(c).findLast((r) => r.value.logId !== logId && r.value.held)?.value.held

/** Cells that read lean under high load in the solve before this log's, on whatever tune: they stay so until a log proves them. */
export const unsafeBefore = (c: Context, logId: string): readonly UnsafePlace[] =>
  readingsOf(c.readings, 'learn.result').findLast((r) => r.value.logId !== logId)?.value.unsafeAt ?? []

/** What was tested since the log was driven and found not to be it. */
function ruledOut(c: Context, logId: string): Cause[] {
  const log = c.build.logs.find((l) => l.id === logId)
  const since = (kind: 'learn.exhaust' | 'learn.meter') => {
    const proof = proved(c, kind)
    return proof !== null && log !== undefined && proof.takenAt >= log.createdAt
  }
  return [
    ...readingsOf(c.readings, 'learn.tested').flatMap((r) => (r.value.logId === logId && !r.value.found ? [r.value.cause] : [])),
    ...(since('learn.exhaust') ? (['exhaust-leak'] as const) : []),
    ...(since('learn.meter') ? (['sensor-offset', 'sensor-cold'] as const) : []),
  ]
}
/** The setup of a solve of one log of a build: with what the unit held after the drives before, and what has been tested since. */
export function learnSetupOf(c: Context, tune: TuneDocument | null, logId: string): LearnSetup {
  const before = heldBefore(c, logId)
  const setup = learnSetup(c.build, tune)
  const log = c.build.logs.find((l) => l.id === logId)
  // the bench's unit runs the very tune it is held against; of another only a read-back would tell
  const held = log?.source === 'bench' && log.tuneId && log.tuneId === tuneInCar(c.build)?.id ? tune : null
  const out = ruledOut(c, logId)
  return {
    ...setup,
    car: {
      ...setup.car,
      ...(held ? { held } : {}),
      ...(out.length ? { ruledOut: out } : {}),
      ...(log?.loopOpen ? { loopOpen: true } : {}),
      ...(readingsOf(c.readings, 'learn.same-car').some((r) => r.value.logId === logId) ? { saidMine: true } : {}),
    },
    ...(before ? { before } : {}),
  }
}
