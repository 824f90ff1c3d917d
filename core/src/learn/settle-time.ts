import { SETTLED_TO_PCT } from './limits.ts'
import type { LearnCell } from './result.ts'

/** A unit that takes up a share 1/T of what is left each second leaves r exp(-t/T) after t seconds in a cell (first-order lag). */
const USUAL_SETTLE_S = 30

/** Steady seconds in a cell until so much left has become what a trim finds. @source first-order lag: t = T ln(r / r_end) */
export const secondsToSettle = (leftPct: number, settleS = USUAL_SETTLE_S): number =>
  Math.max(0, settleS * Math.log(Math.abs(leftPct) / SETTLED_TO_PCT))

/**
 * Steady seconds still to be driven in a cell until a unit that learns by itself has taken up all but what a trim finds.
 * @param settleS time in which it takes up 63 % of what is left, s
 * @returns seconds in that cell, and minutes of driving like that of the log; null where the cell was not driven
 * @source first-order lag: t = T ln(r / r_end)
 */
export function settleTime(
  cell: Pick<LearnCell, 'correctionPct' | 'leftPct' | 'seconds'>,
  usedSeconds: number,
  drivenS: number,
  settleS = USUAL_SETTLE_S,
): { secondsHere: number; minutesLikeThis: number } | null {
  if (cell.correctionPct === null || cell.seconds <= 0 || usedSeconds <= 0) return null
  const secondsHere = secondsToSettle(cell.leftPct ?? cell.correctionPct, settleS)
  return { secondsHere, minutesLikeThis: (secondsHere * drivenS) / cell.seconds / 60 }
}
