import { describe, expect, it } from 'vitest'
import { Random } from '../kernel/random.ts'
import { balanceOf, type BalanceLook, besideOf, screwGain } from './balance.ts'

/** Throttles made by hand: own screw 0.4 of the mean a turn, 0.1 to the neighbour on the shaft, -0.03 to all. */
function air(start: readonly number[], turns: readonly number[], noise = 0, random = new Random(1)): number[] {
  const all = turns.reduce((s, t) => s + t, 0)
  return start.map((s, i) => {
    const other = besideOf(i, start.length)
    return 5 * (s + 0.4 * turns[i] + 0.1 * (other === null ? 0 : turns[other]) - 0.03 * all + noise * random.normal())
  })
}

describe('throttles alike', () => {
  it('sit in pairs on their shafts; the last of an odd number stands alone', () =>
    expect([0, 1, 2, 3, 4].map((i) => besideOf(i, 5))).toEqual([1, 0, 3, 2, null]))
  it.each([
    // 5 % of the mean is even
    [[1.049, 0.951, 1, 1], true],
    [[1.052, 0.948, 1, 1], false],
  ])('%o', (flowsKgH, even) => expect(balanceOf([{ flowsKgH, turned: [0, 0, 0, 0] }])!.even).toBe(even))
  it('even ones are left alone; one that gives less is turned out', () => {
    expect(balanceOf([{ flowsKgH: [5, 5, 5, 5], turned: [] }])!.turns).toEqual([0, 0, 0, 0])
    const { turns } = balanceOf([{ flowsKgH: [4, 5, 5.5, 5.5], turned: [] }])!
    expect(turns[0]).toBeGreaterThan(0)
    expect(turns[2]).toBeLessThan(0)
    // what all have in common is left: no engine's idle is turned up by it
    expect(Math.abs(turns.reduce((s, t) => s + t, 0))).toBeLessThan(0.13)
  })
  it('screws are learned from what they did', () => {
    const start = [0.9, 1.1, 1, 1]
    const turned = [0.5, -0.25, 0, 0]
    const gain = screwGain([
      { flowsKgH: air(start, [0, 0, 0, 0]), turned: [0, 0, 0, 0] },
      { flowsKgH: air(start, turned), turned },
    ])
    expect(gain.looks).toBe(1)
    expect(gain.own).toBeCloseTo(0.4, 1)
  })
  it('no screw goes more than three quarters of a turn at once', () =>
    expect(Math.max(...balanceOf([{ flowsKgH: [1, 9, 5, 5], turned: [] }])!.turns.map(Math.abs))).toBeLessThanOrEqual(0.75))
  it('comes to even in four passes, whatever the start', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const random = new Random(seed)
      const n = [4, 6, 3][seed % 3]
      const start = Array.from({ length: n }, () => 0.75 + 0.5 * random.next())
      const turns = start.map(() => 0)
      const looks: BalanceLook[] = [{ flowsKgH: air(start, turns, 0.008, random), turned: turns.map(() => 0) }]
      let passes = 0
      while (!balanceOf(looks)!.even && passes < 4) {
        const next = balanceOf(looks)!.turns
        next.forEach((t, i) => (turns[i] += t))
        looks.push({ flowsKgH: air(start, turns, 0.008, random), turned: next })
        passes++
      }
      expect(balanceOf(looks)!.even, `seed ${seed}`).toBe(true)
    }
  })
  it('nothing is said of one throttle, or of none that breathes', () => {
    expect(balanceOf([])).toBeNull()
    expect(balanceOf([{ flowsKgH: [0, 0], turned: [] }])).toBeNull()
  })
})
