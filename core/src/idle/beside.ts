import { usualStepS } from '../logfile/index.ts'
import { CATCHES_PCT, COMES_DOWN_S, CORRECTION_SAID_PCT, HELD_PCT, RESTS_WITHIN_PCT } from './limits.ts'
import type { IdleMeasures } from './measure.ts'
import type { Log } from './runs.ts'

/** What the loop holds at a good idle is Learn's to put into the table. */
export const heldByLoop = ({ correctionMeanPct: correction }: Pick<IdleMeasures, 'correctionMeanPct'>): string[] =>
  correction !== null && Math.abs(correction) > CORRECTION_SAID_PCT
    ? [
        `The loop ${correction > 0 ? 'adds' : 'takes'} ${Math.abs(correction).toFixed(0)} % to hold the mixture: Learn puts that into the table.`,
      ]
    : []
/** openings of the throttle that tell whether it catches, and readings no further apart than this, s */
const OPENINGS = 4
const CATCH_STEP_S = 0.11
/** A throttle that leaves its rest in a jump, time after time, catches: at its linkage, its shaft, or the plate in its bore. */
export function catches({ timeS, channels: { throttlePct } }: Log): string[] {
  if (!throttlePct || usualStepS(timeS) > CATCH_STEP_S) return []
  const jumps: number[] = []
  let restedS = 0
  for (let i = 1; i < timeS.length; i++) {
    const step = throttlePct[i] - throttlePct[i - 1]
    const still = Math.abs(step) < RESTS_WITHIN_PCT / 2
    if (!still && step > 0 && restedS > COMES_DOWN_S && throttlePct[i - 1] <= HELD_PCT) jumps.push(step)
    restedS = still ? restedS + timeS[i] - timeS[i - 1] : 0
  }
  const large = jumps.filter((jump) => jump > CATCHES_PCT).length
  return jumps.length >= OPENINGS && large > jumps.length / 2
    ? [
        `${large} of ${jumps.length} times the throttle left its rest by more than ${CATCHES_PCT} % in one reading: it catches, or was kicked open each time. Open it slowly; if it still jumps, look at linkage, shaft and plate.`,
      ]
    : []
}
