import { describe, expect, it } from 'vitest'
import { leastTimes, mostOf } from './least-size.ts'

/** 1.282 + 3.090 standard deviations apart: found in 90 % at 0.1 % false alarms. */
const APART = 4.372

describe('the least mark that a test of likelihood ratios finds', () => {
  const once = [[-1], [1], [-1], [1]]
  it('is 4.372 of what sound drives scatter by: here sqrt(4 / 3)', () => {
    expect(leastTimes([1], once)).toBeCloseTo(APART * Math.sqrt(4 / 3), 3)
    expect(leastTimes([2], once)).toBeCloseTo((APART * Math.sqrt(4 / 3)) / 2, 3)
    expect(leastTimes([-2], once)).toBeCloseTo((APART * Math.sqrt(4 / 3)) / 2, 3)
  })
  it('is no matter of what all sound drives show alike', () => {
    expect(
      leastTimes(
        [1],
        once.map(([v]) => [v + 7]),
      ),
    ).toBeCloseTo(APART * Math.sqrt(4 / 3), 3)
  })
  it('of a quiet bin beside one that scatters a hundred times as much is that of the quiet one', () => {
    const both = [
      [-1, 100],
      [1, 100],
      [-1, -100],
      [1, -100],
    ]
    // of four drives left out one by one the weights are unsure, which costs a quarter
    expect(leastTimes([1, 1], both) / leastTimes([1], once)).toBeLessThan(1.4)
    expect(leastTimes([0, 1], both) / leastTimes([1], once)).toBeGreaterThan(99)
  })
  it('a fault goes from nothing to the end of its own side', () => {
    expect(mostOf({ fault: 'injector-size', none: 100, clear: 85 })).toBe(80)
    expect(mostOf({ fault: 'injector-size', none: 100, clear: 118 })).toBe(150)
  })
})
