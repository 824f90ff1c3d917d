import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { peakPowerRpm, vePeakPct } from '../air/ve-model.ts'
import { fuelPerCycleG, pulseMs } from '../injection/fuel-equation.ts'
import type { Choices } from '../judge/judgement.ts'
import { alongCurve } from '../kernel/curve.ts'
import { monotoneCubic } from '../kernel/monotone-cubic.ts'
import { applyCorrection } from '../learn/apply-correction.ts'
import { MAX_CHANGE_PCT } from '../learn/limits.ts'
import type { LearnCell, LearnResult } from '../learn/result.ts'
import { guardDeg } from '../spark/planned-advance.ts'
import type { Facts } from '../survey/facts.ts'
import { idleTargetRpm } from '../survey/idle-target.ts'
import { resolveFacts } from '../survey/resolve.ts'
import { bilinear } from './axes.ts'
import { computeBaseTune } from './base-tune.ts'
import { checkTune, tuneDemand } from './checks.ts'
import { tableFromCsv, tableToCsv } from './csv.ts'
import { addBlock, interpolateBlock, scaleBlock, setBlock, settle, smoothBlock } from './grid-edit.ts'
import { tableNames, tableSpecs, TuneDocument, withTable } from './tune.ts'

const demo = (file: string) =>
  JSON.parse(readFileSync(join(import.meta.dirname, '../../../demo/cars', file), 'utf8')) as { facts: Facts; choices: Choices }
const cars = ['1-lowland.json', '2-rampart.json', '3-staffetta.json'].map((name) => [name, demo(name)] as const)
const { facts, choices } = cars[0][1]
const tune = computeBaseTune(facts, choices)
const at = (t: TuneDocument, table: 've' | 'lambdaTarget' | 'spark', rpm: number, map: number) =>
  bilinear(t.axes, t.tables[table], rpm, map)

describe.each(cars)('base tune of %s', (_name, car) => {
  const t = computeBaseTune(car.facts, car.choices)
  const r = resolveFacts(car)
  it('is a valid document that passes its own checks', () => {
    expect(TuneDocument.safeParse(t).success).toBe(true)
    expect(checkTune(t, car).filter((p) => p.severity !== 'note')).toEqual([])
  })
  it('has full load at lambda 0.86-0.88 and cruise at 1.00', () => {
    for (const rpm of t.axes.rpm) expect(at(t, 'lambdaTarget', rpm, r.barometerKpa)).toBeGreaterThanOrEqual(0.86)
    for (const rpm of t.axes.rpm) expect(at(t, 'lambdaTarget', rpm, r.barometerKpa)).toBeLessThanOrEqual(0.88)
    expect(at(t, 'lambdaTarget', 2400, 0.5 * r.barometerKpa)).toBeCloseTo(1, 2)
  })
  it('keeps every spark cell under the guard, and no row rises with load above 60 kPa', () => {
    t.axes.mapKpa.forEach((map, j) =>
      t.axes.rpm.forEach((rpm, i) => {
        const c = j * t.axes.rpm.length + i
        expect(t.tables.spark[c]).toBeLessThanOrEqual(guardDeg(r, rpm, map, r.barometerKpa) + 0.05)
        if (map > 60 && j + 1 < t.axes.mapKpa.length)
          expect(t.tables.spark[c + t.axes.rpm.length]).toBeLessThanOrEqual(t.tables.spark[c] + 0.05)
      }),
    )
  })
  it('has the torque over power of its cam class, and its idle band', () => {
    const peak = vePeakPct(r.camClass, car.choices.plan!.route!)
    const atPower = at(t, 've', peakPowerRpm(r.camClass, r.redlineRpm), r.barometerKpa)
    expect(Math.max(...t.tables.ve) / atPower).toBeGreaterThan(peak.torque / peak.power - 0.03)
    expect(Math.max(...t.tables.ve) / atPower).toBeLessThan(peak.torque / peak.power + 0.03)
    const idle = at(t, 've', idleTargetRpm(r), r.idleMapKpa)
    expect(idle).toBeGreaterThan(peak.idle[0] - 3)
    expect(idle).toBeLessThan(peak.idle[1] + 3)
  })
  it('says where each table came from', () => tableNames.forEach((name) => expect(t.provenance[name]).toContain('computed')))
})

describe('sums of a tune', () => {
  it('pulse and fuel are inverse to each other, and dead time is never enriched', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.001, max: 2, noNaN: true }), fc.double({ min: 9, max: 15, noNaN: true }), (fuel, volts) => {
        const p = tune.parameters
        const dead = alongCurve(p.deadTimeMs, volts)
        const once = pulseMs(fuel, p, volts)
        return (
          Math.abs(fuelPerCycleG(once, p, volts) - fuel) < 1e-9 && Math.abs(pulseMs(2 * fuel, p, volts) - dead - 2 * (once - dead)) < 1e-9
        )
      }),
    )
  })
  it('warm idle by hand: 3,180 cc, VE 48 %, 47 kPa, 318 K, lambda 0.97 -> 0.79 g air, 55 mg fuel a cycle', () => {
    // air = 0.48 x 47000 x 3.18e-3 / (287.05 x 316) = 0.791 g; fuel = 0.791 / (14.7 x 0.97) = 0.0555 g
    const flat = withTable(
      tune,
      've',
      tune.tables.ve.map(() => 48),
      'test',
    )
    expect(tuneDemand(flat, 750, 47).fuelPerCycleG).toBeCloseTo(0.0555, 3)
  })
  it('finds a lean full load, too much spark, a rev limit over the engine’s, and long duty', () => {
    const broken = (change: (t: TuneDocument) => void) => {
      const copy = structuredClone(tune)
      change(copy)
      return checkTune(copy, { facts }).map((p) => p.code)
    }
    expect(broken((t) => (t.tables.lambdaTarget = t.tables.lambdaTarget.map(() => 1)))).toContain('lean-full-load')
    expect(broken((t) => (t.tables.spark = t.tables.spark.map((v) => v + 12)))).toContain('spark-over-guard')
    expect(broken((t) => (t.parameters.revLimitRpm = 7000))).toContain('rev-limit')
    expect(broken((t) => (t.parameters.injectorCcMin = 200))).toContain('duty')
    expect(broken((t) => (t.tables.ve[30] += 40))).toContain('ve-rough')
    expect(broken((t) => (t.parameters.fanOffC = 100))).toContain('fan')
  })
  it('asks for what it cannot assume', () => {
    expect(() => computeBaseTune({}, choices)).toThrow(expect.objectContaining({ code: 'FACT_MISSING', field: 'number of cylinders' }))
    expect(() => computeBaseTune(facts, {})).toThrow(expect.objectContaining({ code: 'FACT_MISSING', field: 'number of injectors' }))
  })
  it('a monotone cubic goes through its points and never leaves their range', () => {
    const f = monotoneCubic([0, 1, 2, 4], [0, 5, 5.1, 2])
    expect([0, 1, 2, 4].map(f)).toEqual([0, 5, 5.1, 2])
    for (let x = 0; x <= 4; x += 0.05) expect(f(x)).toBeGreaterThanOrEqual(0)
    for (let x = 0; x <= 4; x += 0.05) expect(f(x)).toBeLessThanOrEqual(5.1 + 1e-9)
  })
})

describe('tables as CSV', () => {
  it('come back exactly, whatever the cells', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...tableNames),
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: tune.tables.ve.length, maxLength: tune.tables.ve.length }),
        (name, shares) => {
          const { min, max } = tableSpecs[name]
          const cells = shares.map((s) => min + (max - min) * s)
          const back = tableFromCsv(tableToCsv({ ...tune, tables: { ...tune.tables, [name]: cells } }, name), name)
          return back.cells.every((v, k) => Object.is(v, cells[k])) && back.axes.rpm.join() === tune.axes.rpm.join()
        },
      ),
      { numRuns: 25 },
    )
  })
  it('from a spreadsheet with semicolons and decimal commas', () => {
    const text = tableToCsv(tune, 've').replaceAll(',', ';').replaceAll('.', ',')
    expect(tableFromCsv(text, 've').cells).toEqual(tune.tables.ve)
  })
  it.each([
    ['', 'rows'],
    ['ve,600,900\n30,50\n40,50,60', 'row 2 has 1 cells'],
    ['ve,600,900\n30,50,x\n40,50,60', 'row 2, column 3'],
    ['ve,600,900\n30,50,900\n40,50,60', 'must be 5 to 200'],
  ])('%j is refused with %s', (text, words) => expect(() => tableFromCsv(text, 've')).toThrow(words))
})

describe('editing a block', () => {
  const axes = { rpm: [0, 100, 300], mapKpa: [20, 40, 80] }
  const cells = [0, 1, 2, 3, 4, 5, 6, 7, 8]
  const all = { i0: 2, j0: 2, i1: 0, j1: 0 }
  it('sets, adds and scales only what is in it', () => {
    expect(setBlock(axes, cells, { i0: 1, j0: 0, i1: 2, j1: 0 }, 9)).toEqual([0, 9, 9, 3, 4, 5, 6, 7, 8])
    expect(addBlock(axes, cells, { i0: 0, j0: 1, i1: 0, j1: 1 }, 1)[3]).toBe(4)
    expect(scaleBlock(axes, cells, all, 10)[8]).toBeCloseTo(8.8, 9)
  })
  it('fills a plane through its corners exactly, by the real spacing', () => {
    const plane = axes.mapKpa.flatMap((m) => axes.rpm.map((r) => r / 10 + m))
    const holed = plane.map((v, k) => (k === 4 ? 999 : v))
    expect(interpolateBlock(axes, holed, all)).toEqual(plane)
  })
  it('smoothing leaves a flat table flat and halves a spike', () => {
    expect(
      smoothBlock(
        axes,
        cells.map(() => 5),
        all,
      ),
    ).toEqual(cells.map(() => 5))
    expect(smoothBlock(axes, [0, 0, 0, 0, 8, 0, 0, 0, 0], all)[4]).toBe(4)
  })
  it('settles to bounds and resolution', () => expect(settle([1.26, -5, 500], { min: 0, max: 200, decimals: 1 })).toEqual([1.3, 0, 200]))
})

describe('accepting a correction', () => {
  const learn = (state: (c: number) => LearnCell['state'], pct: (c: number) => number): LearnResult => ({
    rpm: tune.axes.rpm,
    mapKpa: tune.axes.mapKpa,
    cells: tune.tables.ve.map((_, c) => ({
      i: c % tune.axes.rpm.length,
      j: Math.floor(c / tune.axes.rpm.length),
      rpm: 0,
      mapKpa: 0,
      correctionPct: state(c) === 'untouched' ? null : pct(c),
      standardErrorPct: 0.2,
      seconds: 10,
      missingSeconds: 0,
      nearestMeanPct: null,
      state: state(c),
    })),
    totals: { samples: 1, used: 1, usedSeconds: 1, excluded: {}, provenTimePct: 0, errorRmsPct: 0, noisePct: 1, autocorrelationFactor: 1 },
    delay: { lagS: 0.1, cycles: 1, pipe: 6000, events: 0, fitted: false },
    verdicts: [],
    sound: true,
    diagnosis: [],
  })
  it('puts each solid cell’s correction in, capped, and leaves the old tune as it was', () => {
    const before = [...tune.tables.ve]
    const { tune: next } = applyCorrection(
      tune,
      learn(
        () => 'needs-correction',
        (c) => (c % 2 ? 5 : 30),
      ),
      'test',
    )
    next.tables.ve.forEach((v, c) => expect(v / before[c]).toBeCloseTo(1 + (c % 2 ? 5 : MAX_CHANGE_PCT) / 100, 2))
    expect(tune.tables.ve).toEqual(before)
    expect(next.provenance.ve).toBe('test')
  })
  it('fades into cells nobody drove, and leaves far ones alone', () => {
    const nr = tune.axes.rpm.length
    const { tune: next } = applyCorrection(
      tune,
      learn(
        (c) => (c % nr === 0 ? 'needs-correction' : 'untouched'),
        () => 8,
      ),
      'test',
    )
    const gain = (i: number) => next.tables.ve[5 * nr + i] / tune.tables.ve[5 * nr + i] - 1
    expect(gain(0)).toBeCloseTo(0.08, 2)
    expect(gain(1)).toBeGreaterThan(0.01)
    expect(gain(1)).toBeLessThan(0.08)
    // how the need leans with speed is not known from one speed
    expect(Math.abs(gain(nr - 1))).toBeLessThan(0.01)
  })
  it('never takes fuel from an unsafe cell', () => {
    const { tune: next } = applyCorrection(
      tune,
      learn(
        () => 'unsafe',
        () => -8,
      ),
      'test',
    )
    next.tables.ve.forEach((v, c) => expect(v).toBeGreaterThanOrEqual(tune.tables.ve[c]))
  })
})
