import { expect, it } from 'vitest'
import { type GridSamples, meansAround } from './grid-fit.ts'

/** Rows at one place of a grid of 2 x 2 cells, each a tenth of a second. */
const at = (n: number, u: number, v: number): GridSamples =>
  ({
    n,
    at: new Int32Array(n),
    u: new Float64Array(n).fill(u),
    v: new Float64Array(n).fill(v),
    y: new Float64Array(n),
    stepS: new Float64Array(n).fill(0.1),
    row: Int32Array.from({ length: n }, (_, k) => k),
    share: new Float64Array(n).fill(1),
  }) as unknown as GridSamples
const fit = (n: number, more: object = {}) => ({
  residuals: new Float64Array(n),
  weights: new Float64Array(n).fill(1),
  sigma: 2,
  factor: 1,
  ...more,
})

it('around a cell it is the mean of the readings there, by their share of it', () => {
  const values = Float64Array.from({ length: 400 }, (_, k) => (k % 2 ? 1 : 3))
  const { mean, errorPct } = meansAround(at(400, 0.25, 0), values, fit(400), 2, 4)
  expect(mean[0]).toBeCloseTo(2, 9)
  expect(mean[1]).toBeCloseTo(2, 9)
  // 400 rows with a share of 3/4 count as 300, with 1/4 as 100: 2 / sqrt(300), 2 / sqrt(100)
  expect(errorPct[0]).toBeCloseTo(0.1155, 4)
  expect(errorPct[1]).toBeCloseTo(0.2, 9)
  expect(mean[2]).toBeNaN()
})
it('four rows that carry the news of one tell half as well; a reading without weight tells nothing', () => {
  expect(meansAround(at(400, 0, 0), new Float64Array(400), fit(400, { factor: 4 }), 2, 4).errorPct[0]).toBeCloseTo(0.2, 9)
  const weights = Float64Array.from({ length: 400 }, (_, k) => Number(k < 100))
  const { mean, errorPct } = meansAround(
    at(400, 0, 0),
    Float64Array.from({ length: 400 }, (_, k) => (k < 100 ? 5 : 90)),
    fit(400, { weights }),
    2,
    4,
  )
  expect(mean[0]).toBeCloseTo(5, 9)
  expect(errorPct[0]).toBeCloseTo(0.2, 9)
})
it('what one stretch differs from the next by counts beside the noise, and falls with the stretches', () => {
  // 3 % over and under by turns of 3 s, ten of them: 3 / sqrt(10), where the rows alone would know it to 0.03 %
  const swing = (n: number) => ({ residuals: Float64Array.from({ length: n }, (_, k) => (Math.floor(k / 30) % 2 ? 3 : -3)) })
  const error = (n: number) => meansAround(at(n, 0, 0), new Float64Array(n), fit(n, { ...swing(n), sigma: 0.6 }), 2, 4).errorPct[0]
  expect(error(300)).toBeCloseTo(0.949, 2)
  expect(error(300) / error(1200)).toBeCloseTo(2, 2)
})
