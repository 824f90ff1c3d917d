import { CONVERGED_RMS_PCT, CONVERGED_TIME_PCT, REMAINDER_UNSURE_PCT, SETTLED_FROM_S } from './limits.ts'
import { unsoundCodes } from './pattern.ts'
import type { LearnResult } from './result.ts'

/** What a solve says of a unit that learns by itself: that it has settled, or what keeps it from that. */
export function settledNow({ totals, cells, verdicts, sound }: LearnResult): { settled: boolean; because: string[] } {
  const { settledTimePct, remainderRmsPct, usedSeconds } = totals
  const unsound = verdicts.filter((v) => unsoundCodes.includes(v.code)).map((v) => v.code)
  const unsafe = cells.filter((c) => c.state === 'unsafe').length
  const because = [
    ...unsound,
    ...(sound === false ? ['diagnosis'] : []),
    ...(unsafe ? ['unsafe-lean'] : []),
    ...(usedSeconds < SETTLED_FROM_S ? ['short'] : []),
    ...((settledTimePct ?? 0) < CONVERGED_TIME_PCT ? ['time'] : []),
    ...((remainderRmsPct ?? Infinity) + REMAINDER_UNSURE_PCT > CONVERGED_RMS_PCT ? ['remainder'] : []),
  ]
  return { settled: because.length === 0, because }
}
