import { describe, expect, it } from 'vitest'
import { excludedReasons, type Samples } from '../samples/index.ts'
import { axes, drive } from './drive.fixture.ts'
import { cellReadings, judgedRows, logRow, scatterOf, stretchFates } from './look-closer.ts'
import { solveWithSetup } from './solve.ts'
import type { LearnSetup } from './setup.ts'

const setup = { axes, barometerKpa: 101, coolantMinC: 72, target: null } as unknown as LearnSetup
const log = drive({ seed: 5, needPct: () => 4, noise: 0.006 })
const samples = judgedRows(log, setup)

describe('what a cell was solved from', () => {
  const solved = solveWithSetup(log, setup)
  const most = solved.cells.reduce((best, c) => (c.seconds > best.seconds ? c : best))
  const at = { i: most.i, j: most.j, by: 'pressure' as const }
  const read = cellReadings(log, samples, setup, at)!
  it('holds the seconds that the solve counts', () => expect(read.seconds).toBeCloseTo(most.seconds, 3))
  it('4 % are wanted everywhere and the sensor scatters by 0.6 %: so do the readings', () => {
    const mean = read.points.reduce((sum, p) => sum + p.errorPct, 0) / read.points.length
    expect(mean).toBeCloseTo(4, 0)
    expect(read.spreadPct).toBeGreaterThan(0.3)
    expect(read.spreadPct).toBeLessThan(1.5)
  })
  it('says lambda beside what was wanted, and no more points than can be drawn, in the order of time', () => {
    expect(Math.abs(read.lambda - read.target)).toBeLessThan(0.05)
    expect(read.points.length).toBeLessThanOrEqual(300)
    expect(read.points.every((p, k) => k === 0 || p.timeS > read.points[k - 1].timeS)).toBe(true)
  })
  it('nothing where nobody was', () => {
    const none = solved.cells.find((c) => c.seconds === 0)!
    expect(cellReadings(log, samples, setup, { i: none.i, j: none.j, by: 'pressure' })).toBeNull()
  })
})

it('each slice of the time is what most of its rows came to, every reason in its kind', () => {
  const fate = (reason?: (typeof excludedReasons)[number]) => (reason ? 1 + excludedReasons.indexOf(reason) : 0)
  const rows = [
    ...[fate(), fate(), fate('transient-map')],
    ...[fate('cold-engine'), fate('after-start'), fate()],
    ...[fate('transient-speed'), fate('transient-map'), fate('cold-engine')],
    ...[fate('fuel-cut'), fate('after-fuel-cut'), fate('gap')],
    ...[fate('battery'), fate('unreadable'), fate('off-grid')],
  ]
  const timeS = Float64Array.from({ length: rows.length }, (_, i) => 100 + i / 10)
  const samples = { fate: Uint8Array.from(rows) } as Samples
  expect(stretchFates(samples, timeS, 5)).toEqual(['used', 'cold', 'moving', 'cut', 'other'])
  // rows 3 to 5 alone, one to a slice; and a window longer than the log
  expect(stretchFates(samples, timeS, 3, 100.3, 100.5)).toEqual(['cold', 'cold', 'used'])
  expect(stretchFates(samples, timeS, 2, 100, 104)).toEqual(['other', null])
})

describe('the row next to a moment', () => {
  const rows = { timeS: Float64Array.from([50, 50.1, 50.4]), channels: { rpm: Float32Array.from([800, 900, 1000]) } }
  const judged = { fate: Uint8Array.from([0, 1 + excludedReasons.indexOf('fuel-cut'), 0]), error: Float32Array.from([0.03, 0.5, -0.02]) }
  it.each([
    [-3, 0, 800, 'used', 3],
    [0.06, 0.1, 900, 'cut', null],
    [0.24, 0.1, 900, 'cut', null],
    [0.26, 0.4, 1000, 'used', -2],
    [99, 0.4, 1000, 'used', -2],
  ] as const)('%f s from the beginning: that of %f s', (askedS, atS, rpm, fate, errorPct) => {
    const row = logRow(rows, judged, askedS)
    expect(row).toMatchObject({ atS: expect.closeTo(atS, 6), values: { rpm }, fate })
    if (errorPct === null) expect(row.errorPct).toBeNull()
    else expect(row.errorPct).toBeCloseTo(errorPct, 4)
  })
  it.each([
    [1, 1000],
    [-1, 800],
    [5, 1000],
    [-5, 800],
  ])('%i rows on from the second', (step, rpm) => expect(logRow(rows, judged, 0.1, step).values.rpm).toBe(rpm))
})

describe('row by row over one reading', () => {
  const fate = new Uint8Array(2400)
  const pulse = Float32Array.from(fate, (_, i) => 2 + (i % 100) / 25)
  const part = { timeS: new Float64Array(2400), channels: { pulseMs: pulse } }
  const read = (over: 'pulseMs' | 'rpm', left = fate) =>
    // dead time: what is wanted goes with 1 / pulse, 12 % at 2 ms and 4 % at 6 ms
    scatterOf(part, { fate: left, error: Float32Array.from(pulse, (ms) => 0.24 / ms) }, over)
  it('means of as many rows each, in the order of the reading, follow what is wanted', () => {
    const { means, points } = read('pulseMs')!
    expect(means).toHaveLength(12)
    expect(means.every((m, k) => k === 0 || m.x > means[k - 1].x)).toBe(true)
    expect(means[0].errorPct).toBeCloseTo(24 / 2.16, 0)
    expect(means[11].errorPct).toBeCloseTo(24 / 5.8, 0)
    expect(points.length).toBe(800)
  })
  it('only used rows count; without the reading, or without a used row, there is nothing', () => {
    const some = fate.map((_, i) => (i % 100 < 50 ? 1 : 0))
    expect(read('pulseMs', some)!.points.every((p) => p.x >= 4)).toBe(true)
    expect(read('rpm')).toBeNull()
    expect(
      read(
        'pulseMs',
        fate.map(() => 1),
      ),
    ).toBeNull()
  })
})
