import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { demoBuild } from '../bench/demo-build.fixture.ts'
import { mergePatch } from '../kernel/patch.ts'
import type { Facts } from '../survey/facts.ts'
import { computeBaseTune } from './base-tune.ts'
import { checkTune, sparkCeiling } from './checks.ts'
import { largestStep, smoothBlock } from './grid-edit.ts'
import type { TuneDocument } from './tune.ts'

const b = demoBuild('1-lowland.json')
const base = computeBaseTune(b.facts, b.choices)
const copy = () => JSON.parse(JSON.stringify(base)) as TuneDocument
const cell = (tune: TuneDocument, i: number, j: number) => j * tune.axes.rpm.length + i
const codes = (tune: TuneDocument, facts: Facts = b.facts) => checkTune(tune, { facts }).map((p) => p.code)
const withFacts = (patch: object) => mergePatch(b.facts, patch) as Facts

describe('a second pair of eyes on a tune', () => {
  it('has nothing against the base tune', () => expect(codes(base)).toEqual([]))
  it.each<[string, (t: TuneDocument) => void]>([
    ['ve-rough-load', (t) => (t.tables.ve[cell(t, 4, 5)] += 20)],
    ['spark-rises-with-load', (t) => (t.tables.spark[cell(t, 6, 9)] = t.tables.spark[cell(t, 6, 8)] + 1)],
    ['dead-time-missing', (t) => (t.parameters.deadTimeMs = t.parameters.deadTimeMs.map(([v]) => [v, 0]))],
    ['map-sensor-small', (t) => (t.parameters.mapKpaPerV = 20)],
    ['throttle-ends', (t) => (t.parameters.throttleOpenV = 1.2)],
  ])('%s', (code, spoil) => {
    const tune = copy()
    spoil(tune)
    expect(codes(tune)).toContain(code)
    const problem = checkTune(tune, b).find((p) => p.code === code)!
    expect(problem.because).toMatch(/\d/)
    expect(problem.remedy.length).toBeGreaterThan(10)
  })
  it('a catalyst wants lambda 1 in cruise, and only a catalyst', () => {
    const lean = copy()
    lean.tables.lambdaTarget = lean.tables.lambdaTarget.map((v) => (v === 1 ? 1.03 : v))
    expect(codes(lean)).not.toContain('catalyst-cruise')
    expect(codes(lean, withFacts({ exhaust: { catalyst: true } }))).toContain('catalyst-cruise')
    expect(codes(base, withFacts({ exhaust: { catalyst: true } }))).not.toContain('catalyst-cruise')
  })
})

describe('nitrous', () => {
  it('starts with a cautious retard that is there, and a tune without one is a stop', () => {
    const facts = withFacts({ induction: { nitrous: true } })
    const made = computeBaseTune(facts, b.choices)
    expect(made.parameters.nitrousRetardDeg).toBe(8)
    expect(codes(made, facts)).not.toContain('nitrous-retard')
    expect(checkTune(base, { facts }).find((p) => p.code === 'nitrous-retard')).toMatchObject({ severity: 'stop' })
    expect(base.parameters.nitrousRetardDeg).toBe(0)
  })
})

describe('a boosted engine', () => {
  const boosted = withFacts({ induction: { kind: 'blow-through', boostKpa: 60 } })
  const tune = computeBaseTune(boosted, b.choices)
  const n = tune.axes.rpm.length
  it('its axis and its sensor reach over the boost', () => {
    expect(tune.axes.mapKpa.at(-1)!).toBeGreaterThan(99 + 60)
    expect(codes(tune, boosted)).not.toContain('map-sensor-small')
    expect(codes(base, boosted)).toContain('map-sensor-small')
  })
  it('0.2 degrees less where nothing cools the boost, 0.15 behind an intercooler, and 0.001 lambda richer, for each kPa over the air', () => {
    const [a, z] = [tune.axes.mapKpa.length - 3, tune.axes.mapKpa.length - 1]
    const i = 8
    const kpa = tune.axes.mapKpa[z] - tune.axes.mapKpa[a]
    expect(tune.tables.spark[a * n + i] - tune.tables.spark[z * n + i]).toBeCloseTo(0.2 * kpa, 0)
    const cooled = computeBaseTune(withFacts({ induction: { kind: 'blow-through', boostKpa: 60, intercooler: true } }), b.choices)
    expect(cooled.tables.spark[a * n + i] - cooled.tables.spark[z * n + i]).toBeCloseTo(0.15 * kpa, 0)
    expect(tune.tables.lambdaTarget[a * n + i] - tune.tables.lambdaTarget[z * n + i]).toBeCloseTo(0.001 * kpa, 2)
    expect(Math.min(...tune.tables.lambdaTarget)).toBeGreaterThanOrEqual(0.76)
  })
})

describe('smoothing spark', () => {
  const all = { i0: 0, j0: 0, i1: base.axes.rpm.length - 1, j1: base.axes.mapKpa.length - 1 }
  const ceiling = sparkCeiling(b, base.axes, base.parameters.barometerKpa)
  it('never raises a cell over the guard, however rough the table, and leaves the corners', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 55, noNaN: true }), { minLength: base.tables.spark.length, maxLength: base.tables.spark.length }),
        (cells) => {
          const smooth = smoothBlock(base.axes, cells, all, ceiling)
          smooth.forEach((value, cell) => expect(value).toBeLessThanOrEqual(Math.max(cells[cell], ceiling(cell)) + 1e-9))
          for (const corner of [0, base.axes.rpm.length - 1, cells.length - 1]) expect(smooth[corner]).toBe(cells[corner])
        },
      ),
      { numRuns: 30 },
    )
  })
  it('the largest step is told with its cell and falls with each pass', () => {
    const rough = base.tables.spark.map((v, cell) => (cell === 40 ? v + 12 : v))
    const first = largestStep(base.axes, rough)
    const n = base.axes.rpm.length
    expect([first.j * n + first.i, first.j * n + first.i - 1, (first.j - 1) * n + first.i]).toContain(40)
    expect(largestStep(base.axes, smoothBlock(base.axes, rough, all)).step).toBeLessThan(first.step)
    expect(
      largestStep(
        base.axes,
        base.tables.spark.map(() => 20),
      ),
    ).toMatchObject({ step: 0 })
  })
})
