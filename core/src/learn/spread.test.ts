import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { demoBuild } from '../bench/demo-build.fixture.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { pulseAsked } from '../tune/checks.ts'
import { applyCorrection } from './apply-correction.ts'
import type { LearnCell, LearnResult } from './result.ts'
import { type Cell, spreadCorrection } from './spread.ts'

const rpm = [800, 1200, 1600, 2000, 2400, 2800, 3200, 3600]
const load = [25, 35, 45, 55, 65, 75, 85, 95]
const nr = rpm.length
const high = (j: number) => load[j] >= 75
const unseen: Cell = { state: 'untouched', correctionPct: null, standardErrorPct: null, seconds: 0 }
const seen = (correctionPct: number, state: Cell['state'] = 'needs-correction'): Cell => ({
  state,
  correctionPct,
  standardErrorPct: 0.4,
  seconds: 5,
})
/** the middle of the map driven, all else not */
const middle = (of: (c: number) => Cell): Cell[] =>
  Array.from({ length: nr * load.length }, (_, c) => {
    const [i, j] = [c % nr, Math.floor(c / nr)]
    return i >= 1 && i <= 5 && j >= 1 && j <= 5 ? of(c) : unseen
  })
const spread = (cells: Cell[]) => spreadCorrection(cells, rpm, load, high).correction

describe('what is carried to cells that nobody drove', () => {
  it('+8 % everywhere it was driven is nearly that everywhere', () => {
    const out = spread(middle(() => seen(8)))
    expect(Math.min(...out)).toBeGreaterThan(5)
    expect(Math.max(...out)).toBeLessThan(8.5)
  })
  it('-8 % leans the low load that nobody drove, and no high load', () => {
    const out = spread(middle(() => seen(-8)))
    expect(out[0]).toBeLessThan(-4)
    for (let c = 0; c < out.length; c++)
      if (high(Math.floor(c / nr)) && middle(() => seen(-8))[c].state === 'untouched') expect(out[c]).toBeGreaterThanOrEqual(0)
  })
  it('a row on each side of the limit: 74.9 kPa may be leaned, 75 may not', () => {
    const cells = middle(() => seen(-8))
    const at = (kpa: number) =>
      spreadCorrection(cells, rpm, [25, 35, 45, 55, 60, 65, kpa, 95], (j) => [25, 35, 45, 55, 60, 65, kpa, 95][j] >= 75).correction[
        6 * nr + 3
      ]
    expect(at(74.9)).toBeLessThan(0)
    expect(at(75)).toBeGreaterThanOrEqual(0)
  })
  it('one speed tells nothing of another', () => {
    const out = spread(Array.from({ length: nr * load.length }, (_, c) => (c % nr === 0 ? seen(8) : unseen)))
    expect(Math.abs(out[nr - 1])).toBeLessThan(1)
  })
})

describe('an unsafe cell', () => {
  it('gets what it wants and 3 % more; its neighbours are at most 8 % leaner than it', () => {
    const c = 5 * nr + 3
    const out = spread(middle((k) => (k === c ? seen(6, 'unsafe') : seen(-10))))
    expect(out[c]).toBeCloseTo(9, 9)
    for (const k of [c - 1, c + 1, c - nr, c + nr]) expect(out[k]).toBeCloseTo(1, 9)
  })
  it('that reads rich by now gets the margin, never less fuel', () =>
    expect(spread(middle(() => seen(-8, 'unsafe')))[3 * nr + 3]).toBeCloseTo(3, 9))
  it('is never given more than a pass allows', () => expect(spread(middle(() => seen(30, 'unsafe')))[3 * nr + 3]).toBe(10))
})

it('no neighbours are more than 8 % apart on the lean side, whatever was measured', () =>
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: -20, max: 20 }), { minLength: 64, maxLength: 64 }),
      fc.integer({ min: 0, max: 7 }),
      (pct, every) => {
        const out = spread(pct.map((v, c) => (c % 8 < every ? seen(v) : unseen)))
        out.forEach((v, c) => {
          if (c % nr) expect(Math.abs(v - out[c - 1])).toBeLessThanOrEqual(8 + 1e-9)
          if (c >= nr) expect(Math.abs(v - out[c - nr])).toBeLessThanOrEqual(8 + 1e-9)
        })
      },
    ),
    { numRuns: 40 },
  ))

describe('a cell that was only touched', () => {
  const thin = (standardErrorPct: number, seconds: number): Cell => ({ state: 'thin', correctionPct: 9, standardErrorPct, seconds })
  const at = 6 + 3 * nr
  const one = (cell: Cell) => {
    const cells = middle(() => seen(0, 'proven'))
    cells[at] = cell
    return spread(cells)[at]
  }
  it('takes of its own reading what is known of it: 25 parts of 25 + 4 at 2 % and three seconds, by hand', () => {
    // its neighbours are at 0 on one side and carry it themselves on the others
    expect(one(thin(2, 3))).toBeGreaterThan((9 * 25) / 29 - 0.05)
    expect(one(thin(2, 3))).toBeLessThan(9)
  })
  it('less where it is known worse, less where hardly any time was spent, nothing without a reading', () => {
    expect(one(thin(6, 3))).toBeLessThan(one(thin(2, 3)) - 2)
    expect(one(thin(2, 0.1))).toBeLessThan(one(thin(2, 3)) - 2)
    expect(Math.abs(one(unseen))).toBeLessThan(0.2)
  })
  it('under high load it is never leaned by a touch', () => {
    const cells = middle(() => seen(0, 'proven'))
    cells[3 + 7 * nr] = { state: 'thin', correctionPct: -9, standardErrorPct: 1, seconds: 2.5 }
    expect(spread(cells)[3 + 7 * nr]).toBeGreaterThanOrEqual(0)
  })
})

describe('after a pass', () => {
  const b = demoBuild('3-staffetta.json')
  const tune = computeBaseTune(b.facts, b.choices)
  const { axes, parameters } = tune
  const cells = (of: (c: number) => Cell): LearnCell[] =>
    tune.tables.ve.map((_, c) => ({
      i: c % axes.rpm.length,
      j: Math.floor(c / axes.rpm.length),
      missingSeconds: 0,
      ...of(c),
    })) as never
  const pulse = (t: typeof tune, c: number) => {
    const at = { rpm: axes.rpm[c % axes.rpm.length], mapKpa: axes.mapKpa[Math.floor(c / axes.rpm.length)], throttlePct: 0 }
    const { openMs, deadMs } = pulseAsked(t, { ...at, intakeAirC: 30, coolantC: 90, batteryV: 13.8, lambda: 1 })
    return openMs + deadMs
  }
  const learned = (of: (c: number) => Cell, mends: LearnResult['mends'] = []) =>
    applyCorrection(tune, { rpm: axes.rpm, mapKpa: axes.mapKpa, cells: cells(of), mends }, 'test').tune
  it('unseen full load is never leaner, whatever the cells and the constants were', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.boolean(), fc.integer({ min: -15, max: 15 })), {
          minLength: tune.tables.ve.length,
          maxLength: tune.tables.ve.length,
        }),
        fc.double({ min: -15, max: 15, noNaN: true }),
        fc.double({ min: -0.3, max: 0.3, noNaN: true }),
        (drawn, flow, dead) => {
          const of = (c: number) => (drawn[c][0] ? seen(drawn[c][1]) : unseen)
          const next = learned(of, [
            { cause: 'injector-flow', size: flow },
            { cause: 'dead-time', size: dead },
          ])
          tune.tables.ve.forEach((_, c) => {
            const kpa = axes.mapKpa[Math.floor(c / axes.rpm.length)]
            if (!drawn[c][0] && kpa >= 0.75 * parameters.barometerKpa)
              expect(pulse(next, c)).toBeGreaterThanOrEqual(pulse(tune, c) * 0.9985)
          })
        },
      ),
      { numRuns: 30 },
    ))
  it('a flow mended by -10 % makes what was driven leaner by that, and what nobody drove at full load not at all', () => {
    const top = tune.tables.ve.length - 1
    const next = learned((c) => (Math.floor(c / axes.rpm.length) < 5 ? seen(0, 'proven') : unseen), [{ cause: 'injector-flow', size: -10 }])
    // cc / 0.9: pulses are open for 0.9 of the time
    const dead = pulseAsked(tune, { rpm: 2000, mapKpa: 50, throttlePct: 0, intakeAirC: 30, coolantC: 90, batteryV: 13.8, lambda: 1 }).deadMs
    expect((pulse(next, 4 * axes.rpm.length + 3) - dead) / (pulse(tune, 4 * axes.rpm.length + 3) - dead)).toBeCloseTo(0.9, 2)
    expect(pulse(next, top) / pulse(tune, top)).toBeCloseTo(1, 2)
  })
})
