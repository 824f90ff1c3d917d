import { type LearnCell, PROVEN_SECONDS } from '../learn/index.ts'

/** A cell that nobody has driven in yet proves in a little more than the least time: its share of a hold is never whole. */
const SPARE = 1.3
const UNDRIVEN_S = PROVEN_SECONDS * SPARE
/** A thin cell says itself how much more it wants; so much more is never driven for at once, s. */
const MOST_S = 15
/** A unit that learns by itself takes up what is left while the cell is driven, s. */
const LEARNING_S = 2 * UNDRIVEN_S

type Seen = Pick<LearnCell, 'state' | 'missingSeconds' | 'settled'>

/** Whether a cell is done with: proven, or, where the unit learns by itself, settled. */
export const isDone = (seen: Seen): boolean => (seen.settled === undefined ? seen.state === 'proven' : seen.settled)

/**
 * Used seconds that a cell still wants, with some to spare; 0 where it is done with, or measured and waiting for a correction.
 * Where the unit corrects itself a measured cell is driven on until it has settled.
 */
export function needSeconds(seen: Seen | null): number {
  if (seen === null || seen.state === 'untouched' || seen.state === 'passed-through') return UNDRIVEN_S
  if (seen.state === 'thin') return Math.min(MOST_S, Math.max(1, SPARE * seen.missingSeconds))
  if (isDone(seen) || seen.settled === undefined) return 0
  return seen.state === 'proven' ? UNDRIVEN_S : LEARNING_S
}
