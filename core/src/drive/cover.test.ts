import { expect, it } from 'vitest'
import { Random } from '../kernel/random.ts'
import { cover, type CoverPiece, coverSeconds, type CoverStep, type Travel } from './cover.ts'

/** The shortest way there is, by trying every amount of every piece in every order. */
function shortest(pieces: CoverPiece[], needs: number[], travel: Travel): number {
  let best = Infinity
  const amounts = pieces.map(() => 0)
  const inAnyOrder = (left: number[], steps: CoverStep[]): void => {
    if (left.length === 0) best = Math.min(best, coverSeconds(pieces, travel, steps))
    for (const piece of left)
      inAnyOrder(
        left.filter((p) => p !== piece),
        [...steps, { piece, portions: amounts[piece] }],
      )
  }
  const tryAll = (piece: number): void => {
    if (piece === pieces.length) {
      const got = needs.map((_, n) => pieces.reduce((sum, p, i) => sum + amounts[i] * (p.gives.find(([need]) => need === n)?.[1] ?? 0), 0))
      if (got.every((s, n) => s >= needs[n] - 1e-6))
        inAnyOrder(
          [...pieces.keys()].filter((p) => amounts[p] > 0),
          [],
        )
      return
    }
    for (amounts[piece] = 0; amounts[piece] <= pieces[piece].mostPortions; amounts[piece]++) tryAll(piece + 1)
    amounts[piece] = 0
  }
  tryAll(0)
  return best
}
function madeUp(seed: number) {
  const random = new Random(seed)
  const upTo = (most: number) => most * random.next()
  const needs = Array.from({ length: 2 + Math.floor(upTo(3)) }, () => 1 + upTo(4))
  const pieces = Array.from({ length: 4 + Math.floor(upTo(2)) }, (): CoverPiece => ({
    portionS: 1 + Math.round(upTo(6)),
    againS: upTo(1) < 0.5 ? 0 : Math.round(upTo(8)),
    mostPortions: 3,
    gives: needs.flatMap((_, n) => (upTo(1) < 0.6 ? [[n, 0.5 + upTo(3)] as const] : [])),
  }))
  const places = pieces.map(() => [upTo(20), upTo(20)])
  const travel: Travel = (from, to) => {
    const [x, y] = from === null ? [0, 0] : places[from]
    return 4 + Math.hypot(places[to][0] - x, places[to][1] - y)
  }
  return { needs, pieces, travel }
}
const gotOf = (pieces: readonly CoverPiece[], steps: readonly CoverStep[], n: number): number =>
  steps.reduce((sum, { piece, portions }) => sum + portions * (pieces[piece].gives.find(([need]) => need === n)?.[1] ?? 0), 0)

it('is never more than a fifth longer than the shortest way of all, and meets every need that can be met', () => {
  let compared = 0
  for (let seed = 1; seed <= 60; seed++) {
    const { needs, pieces, travel } = madeUp(seed)
    const best = shortest(pieces, needs, travel)
    if (best === Infinity) continue
    const steps = cover(pieces, needs, travel)
    needs.forEach((need, n) => expect(gotOf(pieces, steps, n), `seed ${seed}, need ${n}`).toBeGreaterThanOrEqual(need - 1e-6))
    expect(coverSeconds(pieces, travel, steps) / best, `seed ${seed}`).toBeLessThanOrEqual(1.2)
    compared++
  }
  expect(compared).toBeGreaterThan(40)
})
it('by hand: two needs that one piece serves in 6 s are not served by two pieces in 4 s each, with 5 s to each', () => {
  const pieces: CoverPiece[] = [
    { portionS: 4, againS: 0, mostPortions: 1, gives: [[0, 3]] },
    { portionS: 4, againS: 0, mostPortions: 1, gives: [[1, 3]] },
    {
      portionS: 6,
      againS: 0,
      mostPortions: 1,
      gives: [
        [0, 3],
        [1, 3],
      ],
    },
  ]
  const steps = cover(pieces, [3, 3], () => 5)
  expect(steps).toEqual([{ piece: 2, portions: 1 }])
  expect(coverSeconds(pieces, () => 5, steps)).toBe(11)
})
it('what each further portion takes besides is counted once less than there are portions: 3 x 2 + 2 x 4 + 5', () => {
  const pieces: CoverPiece[] = [{ portionS: 2, againS: 4, mostPortions: 5, gives: [[0, 1]] }]
  const steps = cover(pieces, [2.5], () => 5)
  expect(steps).toEqual([{ piece: 0, portions: 3 }])
  expect(coverSeconds(pieces, () => 5, steps)).toBe(19)
})
it('a need that nothing serves stays open, without a piece driven for it; nothing wanted, nothing driven', () => {
  const pieces: CoverPiece[] = [{ portionS: 1, againS: 0, mostPortions: 9, gives: [[0, 1]] }]
  expect(cover(pieces, [0, 5], () => 1)).toEqual([])
  expect(cover(pieces, [2, 5], () => 1)).toEqual([{ piece: 0, portions: 2 }])
})
it('the same question has the same answer', () => {
  const { needs, pieces, travel } = madeUp(7)
  expect(cover(pieces, needs, travel)).toEqual(cover(pieces, needs, travel))
})
