import { describe, expect, it } from 'vitest'
import { computeBaseTune } from '../tune/base-tune.ts'
import { demoBuild } from './demo-build.fixture.ts'
import { benchDyno, type DynoPlan, dynoSummary, kwOf } from './dyno.ts'

const six = demoBuild('1-lowland.json')
const tune = computeBaseTune(six.facts, six.choices)

describe('the dynamometer', () => {
  it('100 Nm at 3,000 rpm are 31.4 kW', () => expect(kwOf(100, 3000)).toBeCloseTo(31.416, 3))
  it('a steady run holds its speeds; full throttle gives the torque of the air that goes in, and the power the survey speaks of', () => {
    const { rows } = benchDyno(six, tune, { mode: 'steady', throttlePct: 100, rpm: [1800, 2600, 3600, 4300], secondsEach: 6 })
    expect(rows.map((r) => Math.round(r.rpm / 100) * 100)).toEqual([1800, 2600, 3600, 4300])
    const litres = six.facts.engine!.displacementCc! / 1000
    for (const row of rows) {
      // 45 to 110 Nm a litre are what naturally aspirated engines of this kind give
      expect(row.torqueNm / litres).toBeGreaterThan(45)
      expect(row.torqueNm / litres).toBeLessThan(110)
      expect(row.lambda!).toBeLessThan(0.95)
      expect(row.powerKw).toBeCloseTo(kwOf(row.torqueNm, row.rpm), 6)
    }
  })
  it('a sweep tells the same torque as steady steps once the flywheel is counted in', () => {
    const sweep = benchDyno(six, tune, { mode: 'sweep', throttlePct: 100, fromRpm: 1600, toRpm: 3800, rpmPerS: 150 }).rows
    const steady = benchDyno(six, tune, { mode: 'steady', throttlePct: 100, rpm: [2600], secondsEach: 6 }).rows[0]
    const near = sweep.filter((r) => Math.abs(r.rpm - 2600) < 120)
    const mean = near.reduce((a, r) => a + r.torqueNm, 0) / near.length
    expect(near.length).toBeGreaterThan(3)
    expect(mean / steady.torqueNm).toBeGreaterThan(0.96)
    expect(mean / steady.torqueNm).toBeLessThan(1.04)
  })
  it('more spark than the charge bears knocks; the base tune does not', () => {
    const plan: DynoPlan = { mode: 'steady', throttlePct: 100, rpm: [1300], secondsEach: 6 }
    const early = { ...tune, tables: { ...tune.tables, spark: tune.tables.spark.map((v) => Math.min(60, v + 24)) } }
    expect(benchDyno(six, tune, plan).rows[0].knocks).toBe(0)
    expect(benchDyno(six, early, plan).rows[0].knocks).toBeGreaterThan(10)
  })
  it('its summary names the best, the leanest and where it knocked', () => {
    const row = (rpm: number, torqueNm: number, more: object = {}) => ({
      rpm,
      torqueNm,
      powerKw: kwOf(torqueNm, rpm),
      mapKpa: 98,
      lambda: 0.87,
      advanceDegBtdc: 30,
      knocks: 0,
      ...more,
    })
    const rows = [row(1000, 150, { knocks: 2, lambda: null }), row(2000, 180, { knocks: 1 }), row(4000, 140, { lambda: 0.91 })]
    expect(dynoSummary(rows)).toEqual({ torque: rows[1], power: rows[2], leanest: rows[2], knockedRpm: [1000, 2000] })
    expect(dynoSummary([row(1000, 100, { lambda: null })])).toMatchObject({ leanest: null, knockedRpm: null })
    expect(dynoSummary([])).toBeNull()
  })
  it('refuses speeds the engine must not see', () =>
    expect(() => benchDyno(six, tune, { mode: 'steady', throttlePct: 50, rpm: [9000], secondsEach: 2 })).toThrow(/600 to \d+ rpm/))
})
