import { type LearnCell, PROVEN_SECONDS } from '../learn/index.ts'

/** A cell that nobody has driven in yet proves in a little more than the least time: its share of a hold is never whole. */
const SPARE = 1.3
const UNDRIVEN_S = PROVEN_SECONDS * SPARE
/** A thin cell says itself how much more it wants; so much more is never driven for at once, s. */
const MOST_S = 15

/** Used seconds that a cell still wants, with some to spare; 0 where it is measured. */
export function needSeconds(seen: Pick<LearnCell, 'state' | 'missingSeconds'> | null): number {
  if (seen === null || seen.state === 'untouched' || seen.state === 'passed-through') return UNDRIVEN_S
  return seen.state === 'thin' ? Math.min(MOST_S, Math.max(1, SPARE * seen.missingSeconds)) : 0
}
