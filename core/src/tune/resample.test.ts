import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { demoBuild } from '../bench/demo-build.fixture.ts'
import { bilinear } from './axes.ts'
import { computeBaseTune } from './base-tune.ts'
import { parseAxis, resample } from './resample.ts'
import { TuneDocument } from './tune.ts'

const b = demoBuild('1-lowland.json')
const tune = computeBaseTune(b.facts, b.choices)
const finer = (axis: number[]) => axis.flatMap((v, i) => (i && axis.length < 13 ? [(axis[i - 1] + v) / 2, v] : [v]))

describe('other axes', () => {
  it('the same axes give the same tables', () => expect(resample(tune, tune.axes).tables).toEqual(tune.tables))
  it('breakpoints that stay keep their cells exactly, those between lie between', () => {
    const axes = { rpm: tune.axes.rpm, mapKpa: finer(tune.axes.mapKpa) }
    const made = resample(tune, axes)
    const n = axes.rpm.length
    tune.axes.mapKpa.forEach((map, j) => {
      const row = axes.mapKpa.indexOf(map)
      expect(made.tables.spark.slice(row * n, row * n + n)).toEqual(tune.tables.spark.slice(j * n, j * n + n))
    })
    expect(TuneDocument.safeParse(made).success).toBe(true)
  })
  it('read at any point the shape is the same within the resolution of the cells, on axes that hold the old ones', () => {
    const made = resample(tune, { rpm: tune.axes.rpm, mapKpa: finer(tune.axes.mapKpa) })
    fc.assert(
      fc.property(fc.double({ min: 500, max: 5200, noNaN: true }), fc.double({ min: 25, max: 101, noNaN: true }), (rpm, map) => {
        const [was, is] = [bilinear(tune.axes, tune.tables.ve, rpm, map), bilinear(made.axes, made.tables.ve, rpm, map)]
        expect(Math.abs(was - is)).toBeLessThan(0.11)
      }),
    )
  })
  it('past the ends the last cells are held', () => {
    const axes = { rpm: [...tune.axes.rpm, 6000, 7000], mapKpa: tune.axes.mapKpa }
    const { ve } = resample(tune, axes).tables
    const n = axes.rpm.length
    expect(ve[n - 1]).toBe(ve[n - 3])
  })
  it('says in its provenance that it was brought there', () =>
    expect(resample(tune, { ...tune.axes, mapKpa: finer(tune.axes.mapKpa) }).provenance.ve).toMatch(/brought to 13 × \d+ axes$/))
  it.each<[string, string, RegExp]>([
    ['too few', '500 1000 2000', /3 breakpoints; 8 to 24/],
    ['not rising', '500 1000 1500 1400 2000 2500 3000 4000', /1400\) is not above/],
    ['no number', '500 1000 many 2000 2500 3000 4000 5000', /"many" is not a number of rpm/],
  ])('refuses an axis that is %s, by name', (_, text, words) => expect(() => parseAxis('rpm', text)).toThrow(words))
  it('takes blanks, commas and semicolons', () =>
    expect(parseAxis('mapKpa', '20, 30;40 50  60,70 80 101')).toEqual([20, 30, 40, 50, 60, 70, 80, 101]))
})
