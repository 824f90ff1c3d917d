import { describe, expect, it } from 'vitest'
import { scoreKeyed, scoreWiring } from './wiring.ts'

/** A fixed small sample of what `npm run score -- --only wiring` prints in full. */
describe('what a meter finds in the loom', () => {
  it.each(scoreWiring(12, 1).map((s) => [s.name, s] as const))('%s is found, and nothing on a sound car', (_, s) => {
    expect(s.found).toBeGreaterThanOrEqual(11)
    expect(s.falsely).toBe(0)
  })
  it.each(scoreKeyed(12, 1).map((s) => [s.name, s.right] as const))('%s is told for what it is', (_, right) =>
    expect(right).toBeGreaterThanOrEqual(11),
  )
})
