import { type LearnResult, settledNow } from '../learn/index.ts'
import { needSeconds } from './need.ts'

/** A first log of a unit that learns by itself comes after so long, and none is asked for sooner or later than this, min. */
const FIRST_MIN = 10
const LEAST_MIN = 5
const MOST_MIN = 20
/** Of the driving so much shall be settled by then: what the station wants, and some to spare. */
const SETTLED_SHARE = 0.85

/**
 * Ordinary driving that a unit which learns by itself still wants before its next log, min. It learns where it is driven, and what is driven most counts
 * most: no lead from cell to cell is quicker. Each cell wants the seconds of its law of learning, at the rate at which the last log came by it.
 * @param result what the log showed; null: there is none yet
 * @param drivenS how long that log is, s
 * @returns null where the unit does not learn by itself, or has settled
 * @source first-order lag, `secondsToSettle`
 */
export function ordinaryMinutes(result: LearnResult | null, drivenS: number): number | null {
  if (!result) return FIRST_MIN
  if (result.totals.settledTimePct == null || settledNow(result).settled) return null
  const cells = result.cells
    .filter((c) => c.seconds > 0)
    .map((cell) => ({ seconds: cell.seconds, minutes: cell.settled ? 0 : (needSeconds(cell) * drivenS) / cell.seconds / 60 }))
    .toSorted((a, b) => a.minutes - b.minutes)
  const wantedS = SETTLED_SHARE * cells.reduce((sum, c) => sum + c.seconds, 0)
  let gotS = 0
  const last = cells.find((c) => (gotS += c.seconds) >= wantedS)
  return Math.round(Math.min(MOST_MIN, Math.max(LEAST_MIN, last?.minutes ?? FIRST_MIN)))
}

/** Where it does not learn, or holds too much of what its base lacks, driving on changes nothing or too little: Learn says what does. */
export const baseComesFirst = (result: Pick<LearnResult, 'verdicts'> | null): boolean =>
  result?.verdicts.some((v) => v.code === 'not-learned-here' || v.code === 'answer-to-mend') ?? false
