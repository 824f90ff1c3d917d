import { type Context, readingsOf, type StoredReading } from '../kernel/index.ts'
import type { Standing } from './answers.ts'

/** Answers that stand for a while only, each with the question it stands over and what must be so before it may go (handbook 10). */
export const temporaryAnswers = {
  'fixed-timing': { label: 'Timing fixed', question: null, until: 'the timing is proved with the light', needs: 'angle' },
  'low-limit': { label: 'Low rev limit', question: 'rev-limit', until: 'the timing is proved with the light', needs: 'rpm' },
  'learning-off': { label: 'Learning off', question: 'learning', until: 'it runs, idles and the sensor is believed', needs: null },
  'loop-off': { label: 'Closed loop off', question: 'closed-loop', until: 'it runs, idles and the sensor is believed', needs: null },
} as const
export type TemporaryId = keyof typeof temporaryAnswers
export const temporaryIds = Object.keys(temporaryAnswers) as [TemporaryId, ...TemporaryId[]]

/** Temporary answers that nobody has released yet, in the order they were given. */
export const unreleased = (c: Context): StoredReading<'unit.temporary'>[] =>
  temporaryIds
    .map((what) => readingsOf(c.readings, 'unit.temporary').findLast((r) => r.value.what === what))
    .filter((r): r is StoredReading<'unit.temporary'> => r?.value.stands === true)

/** What stands in the place of a computed answer until it is released. */
export function standingTemporary(c: Context): Standing {
  return new Map(
    unreleased(c).flatMap(({ value: { what, value } }): [string, number | string][] => {
      const { question } = temporaryAnswers[what]
      if (question === null) return []
      return [[question, what === 'low-limit' ? (value ?? 0) : 'off']]
    }),
  )
}
