import { describe, expect, it } from 'vitest'
import { orificePsi, plateShare } from '../air/orifice.ts'
import { benchCarFor } from '../bench/car.ts'
import { demoBuild } from '../bench/demo-build.fixture.ts'
import { seedOf } from '../kernel/random.ts'
import { Bench } from '../bench/rig.ts'
import { idleTargetRpm } from '../survey/idle-target.ts'
import { resolveFacts } from '../survey/resolve.ts'
import { bilinear } from './axes.ts'
import { computeBaseTune } from './base-tune.ts'
import { runnerFromCsv, runnerToCsv } from './csv.ts'
import { takeParts, tuneDifferences } from './parameters.ts'
import { resample } from './resample.ts'
import { runnerShare, RunnerTable } from './runner.ts'
import { TuneDocument } from './tune.ts'

const b = demoBuild('3-staffetta.json')
// plates as large as full power wants: the loads below are for those
const choices = { ...b.choices, fitup: undefined, plan: { ...b.choices.plan, route: 'individual-runner' as const } }
const tune = computeBaseTune(b.facts, choices)
const runner = tune.runner!
const { rpm } = tune.axes
const at = (speed: number, pct: number) => bilinear({ rpm, mapKpa: runner.throttlePct }, runner.ve, speed, pct)

describe('plates', () => {
  it('are shut at nothing, open at all, and half open in area at two thirds of the travel', () => {
    expect([plateShare(0), plateShare(100)].map((v) => Number(v.toFixed(12)))).toEqual([0, 1])
    expect(plateShare((2 / 3) * 100)).toBeCloseTo(0.5, 9)
  })
  it('pass nothing without a difference of pressure and the choked value below the critical ratio', () => {
    expect(orificePsi(1)).toBe(0)
    expect(orificePsi(0.3)).toBeCloseTo(0.6847, 3)
  })
})

describe('a throttle to each runner', () => {
  it('only that route has the table, with where it came from', () => {
    expect(computeBaseTune(b.facts, b.choices).runner).toBeUndefined()
    expect(tune.provenance.runner).toMatch(/plates pass what the engine takes/)
    expect(runner.ve).toHaveLength(rpm.length * runner.throttlePct.length)
  })
  it('more throttle never takes less air; a small opening chokes a fast engine', () => {
    rpm.forEach((_, i) => {
      for (let j = 1; j < runner.throttlePct.length; j++)
        expect(runner.ve[j * rpm.length + i]).toBeGreaterThanOrEqual(runner.ve[(j - 1) * rpm.length + i] - 0.11)
    })
    expect(at(5000, 7)).toBeLessThan(0.6 * at(1500, 7))
  })
  it('wide open it agrees with the table over manifold pressure, at a little less than the barometer', () => {
    const { barometerKpa } = tune.parameters
    for (const speed of [1500, 3000, 4500]) {
      const byMap = bilinear(tune.axes, tune.tables.ve, speed, barometerKpa)
      expect(at(speed, 100) / byMap).toBeGreaterThan(0.9)
      expect(at(speed, 100) / byMap).toBeLessThan(1.02)
    }
  })
  it('goes by plates that were measured: a larger bore gives more at a small opening, and no other air wide open', () => {
    const bored = (boreMm: number) =>
      computeBaseTune(b.facts, { ...choices, fitup: { linkage: { plate: { boreMm, count: 4, shutDeg: 6 } } } }).runner!
    const [small, large] = [bored(36), bored(48)]
    const cell = (r: typeof small, throttlePct: number, rpmAt: number) =>
      r.ve[r.throttlePct.indexOf(throttlePct) * rpm.length + rpm.indexOf(rpmAt)]
    const fast = rpm.find((v) => v >= 3000)!
    // areas go with the square of the bore: 1.78 times; at 7 % of a fast engine both choke, but for the idle's own hole
    expect(cell(large, 7, fast) / cell(small, 7, fast)).toBeGreaterThan(1.35)
    expect(cell(large, 7, fast) / cell(small, 7, fast)).toBeLessThan(1.79)
    expect(cell(large, 100, fast) / cell(small, 100, fast)).toBeLessThan(1.03)
  })
  it('counts from one throttle to another, straight between', () =>
    expect([0, 3, 7.5, 12, 50].map((pct) => runnerShare(runner, pct))).toEqual([0, 0, 0.5, 1, 1]))
  it('starts the bench engine, idles it, and fuels a held throttle as the plan wants, within what a base tune can know', () => {
    const car = benchCarFor(b.facts, choices, seedOf(b.id))
    const bench = new Bench(car, tune, { coolantC: 85 })
    bench.keyOn = true
    bench.run(3)
    bench.starter = true
    for (let t = 0; t < 8 && bench.rpm < 420; t += 0.05) bench.run(0.05)
    bench.starter = false
    bench.run(60)
    expect(Math.abs(bench.rpm - idleTargetRpm(resolveFacts(b)))).toBeLessThan(120)
    bench.unit.tune = { ...tune, parameters: { ...tune.parameters, loopAuthorityPct: 0 } }
    for (const [pct, loadNm] of [
      [12, 12],
      [25, 45],
    ]) {
      bench.throttlePct = pct
      bench.loadNm = loadNm
      bench.run(12)
      expect(bench.rpm).toBeGreaterThan(900)
      const { lambda, lambdaTarget } = bench.frame()
      expect(Math.abs(lambda! / lambdaTarget - 1)).toBeLessThan(0.2)
    }
  })
  it('goes along in differences, in parts taken and onto another speed axis', () => {
    const plain = computeBaseTune(b.facts, b.choices)
    expect(tuneDifferences(plain, tune).map((d) => d.id)).toContain('runner')
    expect(takeParts(plain, tune, ['runner']).runner).toEqual(runner)
    expect(takeParts(tune, plain, ['runner']).runner).toBeUndefined()
    const finer = resample(tune, { ...tune.axes, rpm: [...rpm.slice(0, -1), rpm.at(-1)! - 100, rpm.at(-1)!] })
    expect(TuneDocument.safeParse(finer).success).toBe(true)
    expect(TuneDocument.parse(JSON.parse(JSON.stringify(tune)))).toEqual(tune)
  })
  it.each<[string, object, RegExp]>([
    ['cells that do not fit', { ve: runner.ve.slice(1) }, /cells; the axes ask for/],
    ['a blend that ends before it begins', { blendToPct: 2 }, /over 3 %/],
    ['an axis that falls', { throttlePct: [...runner.throttlePct].reverse() }, /not above/],
  ])('refuses %s', (_, change, words) =>
    expect(
      TuneDocument.safeParse({ ...tune, runner: { ...runner, ...change } })
        .error!.issues.map((i) => i.message)
        .join(),
    ).toMatch(words),
  )
  it('comes back exactly from its CSV, also with another throttle axis, and says which speeds do not fit', () => {
    const csv = runnerToCsv(runner, rpm)
    expect(csv.split('\n')[0]).toContain('throttlePct down')
    expect(runnerFromCsv(csv, runner, rpm)).toEqual(runner)
    const lines = csv.trim().split('\n')
    const fewer = runnerFromCsv([...lines.slice(0, 5), ...lines.slice(6)].join('\n'), runner, rpm)
    expect(fewer.throttlePct).toHaveLength(runner.throttlePct.length - 1)
    expect(() => runnerFromCsv(csv, runner, rpm.slice(1))).toThrow(/its speeds are .* rpm; the tune has/)
    expect(() => runnerFromCsv(csv.replace(/^7,/m, 'seven,'), runner, rpm)).toThrow(/column 1 \(throttle\) holds "seven"/)
  })
  it('is checked by a schema of its own', () => expect(RunnerTable.safeParse(runner).success).toBe(true))
})
