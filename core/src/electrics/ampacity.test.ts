import { describe, expect, it } from 'vitest'
import { ampacityA } from './ampacity.ts'
import { fuseFor, isStandardFuse } from './fuse.ts'

describe('what a wire bears', () => {
  it.each([
    // the table itself, at 25 degC alone
    [1, 25, 1, 16.5],
    [35, 25, 1, 155],
    // sqrt((105 - 80) / 35) = 0.84515
    [1, 80, 1, 13.945],
    [1, 80, 4, 10.459],
    // colder than the table's air it bears no more
    [1, 0, 1, 16.5],
    // log-log between 1 (16.5) and 1.5 (21): 16.5 x 1.25^0.59477
    [1.25, 25, 1, 18.842],
    // end slope below 0.35: ln(11/7)/ln(0.5/0.35) = 1.2672; 7 x (0.25/0.35)^1.2672
    [0.25, 25, 1, 4.57],
  ])('%d mm2 in %d degC among %d loaded: %d A', (areaMm2, ambientC, loadedWires, amps) =>
    expect(ampacityA({ areaMm2, ambientC, loadedWires })).toBeCloseTo(amps, 2),
  )
  it.each([
    [1, 1],
    [2, 0.85],
    [3, 0.85],
    [4, 0.75],
    [7, 0.75],
    [8, 0.65],
    [15, 0.65],
    [16, 0.55],
  ])('among %d loaded wires it keeps %d of it', (loadedWires, share) =>
    expect(ampacityA({ areaMm2: 2, ambientC: 25, loadedWires }) / 25).toBeCloseTo(share, 9),
  )
  it('refuses what the table does not carry, with bound and unit', () => {
    expect(() => ampacityA({ areaMm2: 0.2, ambientC: 25 })).toThrow('must be 0.22 to 70 mm2')
    expect(() => ampacityA({ areaMm2: 71, ambientC: 25 })).toThrow('must be 0.22 to 70 mm2')
    expect(() => ampacityA({ areaMm2: 1, ambientC: 105 })).toThrow('must be under 105 degC')
    expect(ampacityA({ areaMm2: 1, ambientC: 104 })).toBeGreaterThan(0)
  })
})

describe('the fuse of a load', () => {
  it.each([
    [6, 0, 7.5],
    [6.1, 0, 10],
    // a motor of 6 A that starts with 30: 30 / 3.5 = 8.6
    [6, 30, 10],
    [6, 26, 7.5],
    [0.3, 0, 1],
    [40, 0, 50],
    [161, 0, null],
  ])('%d A steady, %d A at its start: %s A', (steady, surge, fuse) => expect(fuseFor(steady, surge)).toBe(fuse))
  it('knows what is made', () => expect([7.5, 8, 40, 45, 50].map(isStandardFuse)).toEqual([true, false, true, false, true]))
})
