import { type LearnCell, PROVEN_SECONDS, secondsToSettle } from '../learn/index.ts'

/** A cell that nobody has driven in yet proves in a little more than the least time: its share of a hold is never whole. */
const SPARE = 1.3
const UNDRIVEN_S = PROVEN_SECONDS * SPARE
/** A thin cell says itself how much more it wants; so much more is never driven for at once, s. */
const MOST_S = 15
/** A unit that learns by itself takes up what is left while the cell is driven; so much is held for that at once, s. */
const MOST_LEARNING_S = 20

type Seen = Pick<LearnCell, 'state' | 'missingSeconds' | 'settled'> & Partial<Pick<LearnCell, 'leftPct'>>

/** Whether a cell is done with: proven, or, where the unit learns by itself, settled. */
export const isDone = (seen: Seen): boolean => (seen.settled === undefined ? seen.state === 'proven' : seen.settled)

/**
 * Used seconds that a cell still wants, with some to spare; 0 where it is done with, or measured and waiting for a correction.
 * Where the unit corrects itself a measured cell is driven on until it has settled, and for as long as it has something left to learn.
 */
export function needSeconds(seen: Seen | null): number {
  if (seen === null || seen.state === 'untouched' || seen.state === 'passed-through') return UNDRIVEN_S
  if (seen.state === 'thin') return Math.min(MOST_S, Math.max(1, SPARE * seen.missingSeconds))
  if (seen.settled === undefined) return 0
  const learningS = Math.min(MOST_LEARNING_S, secondsToSettle(seen.leftPct ?? 0))
  return seen.settled ? learningS : Math.max(UNDRIVEN_S, learningS)
}
