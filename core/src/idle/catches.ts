import { type LogData, usualStepS } from '../logfile/index.ts'
import { CATCHES_PCT, CATCH_KICK_SHARE, CATCH_MOST_PCT, CATCH_OPENINGS, COMES_DOWN_S, HELD_PCT, RESTS_WITHIN_PCT } from './limits.ts'

/** readings no further apart than this tell a jump from a foot, s; and what it does for so long after it counts, s */
const CATCH_STEP_S = 0.11
const AFTER_S = 1
/** a foot that goes on, or goes back, moves by so much, % */
const GOES_ON_PCT = 0.5

/** How the throttle left its rest over a log: by the foot, in a jump that a slow foot did not make, or kicked open, which tells nothing. */
export interface LeftRest {
  smooth: number
  jumped: number
  kicked: number
  /** of those that jumped: by how much on the mean, % */
  jumpPct: number
}
/** @returns null where the log has no throttle, or too few readings a second */
function leftRest({ timeS, channels: { throttlePct } }: Pick<LogData, 'timeS' | 'channels'>): LeftRest | null {
  if (!throttlePct || usualStepS(timeS) > CATCH_STEP_S) return null
  const found: LeftRest = { smooth: 0, jumped: 0, kicked: 0, jumpPct: 0 }
  let sum = 0
  let restedS = 0
  for (let i = 1; i < timeS.length; i++) {
    const step = throttlePct[i] - throttlePct[i - 1]
    const still = Math.abs(step) < RESTS_WITHIN_PCT / 2
    if (!still && step > 0 && restedS > COMES_DOWN_S && throttlePct[i - 1] <= HELD_PCT) {
      const [most, moved] = after(timeS, throttlePct, i)
      if (step <= CATCHES_PCT) found.smooth++
      else if (step > CATCH_MOST_PCT || most > CATCH_KICK_SHARE * step || moved < GOES_ON_PCT) found.kicked++
      else {
        found.jumped++
        sum += step
      }
    }
    restedS = still ? restedS + timeS[i] - timeS[i - 1] : 0
  }
  return { ...found, jumpPct: found.jumped ? sum / found.jumped : 0 }
}
/** The largest opening from one reading to the next in the second after a row, and how far it went from there, %. */
function after(timeS: Float64Array, throttlePct: ArrayLike<number>, row: number): [number, number] {
  let [most, moved] = [0, 0]
  for (let k = row + 1; k < timeS.length && timeS[k] - timeS[row] <= AFTER_S; k++) {
    most = Math.max(most, throttlePct[k] - throttlePct[k - 1])
    moved = Math.max(moved, Math.abs(throttlePct[k] - throttlePct[row]))
  }
  return [most, moved]
}

/** A throttle that leaves its rest in a jump under a slow foot, time after time, catches: at its linkage, its shaft, or the plate in its bore. */
export function catches(log: Pick<LogData, 'timeS' | 'channels'>): LeftRest | null {
  const left = leftRest(log)
  const slow = left ? left.smooth + left.jumped : 0
  return left && slow >= CATCH_OPENINGS && left.jumped > slow / 2 ? left : null
}
export const catchesSaid = ({ smooth, jumped, jumpPct }: LeftRest): string =>
  `${jumped} of ${smooth + jumped} times the throttle left its rest in a jump, by ${jumpPct.toFixed(1)} % on the mean, under a foot that opened slowly: it catches. Look at linkage, shaft and plate.`
