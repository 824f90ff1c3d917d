import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { blocksOf, rowFrom, thinned } from './thin.ts'

const even = (n: number, stepS = 1) => Float64Array.from({ length: n }, (_, i) => i * stepS)
const pairs = (out: Float32Array) => Array.from({ length: out.length / 2 }, (_, k) => [out[2 * k], out[2 * k + 1]])

describe('a long log thinned to what can be drawn', () => {
  it('by hand: six rows in two columns, one of them not read', () =>
    expect(pairs(thinned(even(6), blocksOf(Float32Array.from([3, 1, NaN, 7, 5, 6])), 0, 5, 2))).toEqual([
      [1, 3],
      [5, 7],
    ]))
  it('a spike of one row in ten hours at 20 a second is seen, in its column and no other', () => {
    const values = new Float32Array(720_000).fill(10)
    values[431_234] = 99
    const out = pairs(thinned(even(720_000, 0.05), blocksOf(values), 0, 36_000, 900))
    // 431,234 rows of 0.05 s are 21,561.7 s; a column is 40 s
    expect(out.flatMap(([, high], k) => (high === 99 ? [k] : []))).toEqual([539])
    expect(out.every(([low]) => low === 10)).toBe(true)
  })
  it('closer than the rows it draws the line between them', () => {
    const out = pairs(thinned(even(3), blocksOf(Float32Array.from([0, 10, 20])), 0.2, 0.8, 3))
    // middles of the columns: 0.3, 0.5 and 0.7 s
    expect(out.map(([low]) => low)).toEqual([3, 5, 7].map((v) => expect.closeTo(v, 4)))
  })
  it.each([
    [2, true],
    [2.01, false],
  ])('rows %f s apart: a line between them %s', (apartS, line) => {
    const out = thinned(Float64Array.from([0, apartS]), blocksOf(Float32Array.from([4, 4])), 0.5, 1.5, 2)
    expect(out[0] === 4).toBe(line)
  })
  it('before the first row and after the last there is nothing', () => {
    const blocks = blocksOf(Float32Array.from([1, 2]))
    expect(thinned(even(2), blocks, -5, -1, 3).every(Number.isNaN)).toBe(true)
    expect(thinned(even(2), blocks, 3, 9, 3).every(Number.isNaN)).toBe(true)
  })
  it('loses no peak and makes none: over any window the columns hold the least and the most of its rows', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.float({ min: -50, max: 50, noNaN: true }), fc.constant(NaN)), { minLength: 40, maxLength: 900 }),
        fc.integer({ min: 1, max: 30 }),
        fc.tuple(fc.nat(899), fc.nat(899)),
        (list, columns, [a, b]) => {
          const values = Float32Array.from(list)
          const [from, to] = [Math.min(a, b) % list.length, Math.max(a, b) % list.length].toSorted((x, y) => x - y)
          fc.pre(to - from >= columns)
          const out = pairs(thinned(even(list.length), blocksOf(values), from, to, columns)).filter(([low]) => !Number.isNaN(low))
          const inside = [...values.subarray(from, to + 1)].filter((v) => !Number.isNaN(v))
          expect(Math.min(...out.map(([low]) => low))).toBe(Math.min(...inside))
          expect(Math.max(...out.map(([, high]) => high))).toBe(Math.max(...inside))
        },
      ),
    )
  })
})

it('the least and the most of all, none where nothing was read', () => {
  expect(blocksOf(Float32Array.from({ length: 500 }, (_, i) => (i === 321 ? -4 : i % 7)))).toMatchObject({ low: -4, high: 6 })
  expect(blocksOf(new Float32Array(40).fill(NaN))).toMatchObject({ low: Infinity, high: -Infinity })
})

it.each([
  [-1, 0],
  [0, 0],
  [0.5, 1],
  [2, 2],
  [2.1, 3],
])('the first row at or after %f s is row %i of three', (atS, row) => expect(rowFrom(even(3), atS)).toBe(row))
