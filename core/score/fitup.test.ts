import { describe, expect, it } from 'vitest'
import { scoreBalance, scoreTracks } from './fitup.ts'

/** A fixed small sample of what `npm run score -- --only fitup` prints in full. */
describe('what two tracks show', () => {
  it.each(scoreTracks(12, 1).map((s) => [s.name, s] as const))('%s is told, and nothing of a sound car', (_, s) => {
    expect(s.found).toBeGreaterThanOrEqual(11)
    expect(s.falsely).toBe(0)
  })
})
it('throttles come to breathe alike in four turnings', () =>
  expect(scoreBalance(20, 1).filter((passes) => passes <= 4).length).toBeGreaterThanOrEqual(19))
