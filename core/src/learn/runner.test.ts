import { describe, expect, it } from 'vitest'
import { demoBuild } from '../bench/demo-build.fixture.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { knownNow } from '../tune/known.ts'
import { applyCorrection } from './apply-correction.ts'
import { axes, drive } from './drive.fixture.ts'
import type { RunnerCell } from './result.ts'
import { solveLearn } from './solve.ts'

const runner = { throttlePct: [0, 2, 4, 7, 11, 16, 23, 32, 45, 62, 80, 100], blendFromPct: 3, blendToPct: 12 }
/** throttle as a slow function of speed and pressure, so that the engine goes through all of the table */
const throttle = (rpm: number, mapKpa: number) => Math.max(0, (mapKpa - 30) * 0.9 + (rpm - 700) / 100)
const log = (seed: number, needPct: (rpm: number, map: number) => number) =>
  drive({
    seed,
    needPct,
    channels: (l) => {
      const { rpm, mapKpa, throttlePct } = l.channels
      throttlePct!.forEach((_, i) => (throttlePct![i] = throttle(rpm![i], mapKpa![i])))
    },
  })
const told = (cells: readonly RunnerCell[]) => cells.filter((c) => c.state === 'proven' || c.state === 'needs-correction')

describe('a throttle to each runner', () => {
  it('a need of 7 % is found in the table by throttle, where it gives the fuel', () => {
    const {
      cells,
      runner: solved,
      totals,
    } = solveLearn(
      log(3, () => 7),
      axes,
      { runner },
    )
    const found = told(solved!.cells)
    expect(found.length).toBeGreaterThan(12)
    for (const c of found) expect(Math.abs(c.correctionPct! - 7)).toBeLessThan(1.5)
    // over 12 % of throttle pressure gives no fuel: nothing is told of those cells
    for (const c of cells.filter((x) => throttle(x.rpm, x.mapKpa) > 20)) expect(c.seconds).toBeLessThan(1)
    expect(totals.usedSeconds).toBeGreaterThan(600)
  })
  it('without a throttle in the log, or without such a table, pressure is all there is', () => {
    const whole = log(3, () => 7)
    delete whole.channels.throttlePct
    expect(solveLearn(whole, axes, { runner }).runner).toBeUndefined()
    expect(
      solveLearn(
        log(3, () => 7),
        axes,
      ).runner,
    ).toBeUndefined()
  })
  it('the correction goes into both tables, 10 % at most, and what is left is known', () => {
    const b = demoBuild('3-staffetta.json')
    const tune = computeBaseTune(b.facts, { ...b.choices, plan: { ...b.choices.plan, route: 'individual-runner' } })
    const own = { throttlePct: tune.runner!.throttlePct, blendFromPct: tune.runner!.blendFromPct, blendToPct: tune.runner!.blendToPct }
    const learn = solveLearn(
      log(4, () => 15),
      tune.axes,
      { runner: own },
    )
    const { tune: next } = applyCorrection(tune, learn, 'test')
    const nr = tune.axes.rpm.length
    const solid = told(learn.runner!.cells)
    expect(solid.length).toBeGreaterThan(5)
    for (const c of solid) {
      const at = learn.runner!.cells.indexOf(c)
      expect(at % nr).toBe(c.i)
      expect(next.runner!.ve[at] / tune.runner!.ve[at]).toBeCloseTo(1.1, 1)
      // 1.15 / 1.10 - 1 = 4.5 %
      expect(Math.abs(knownNow(next)!.runner!.leftPct[at] - 4.5)).toBeLessThan(1.6)
    }
    expect(next.provenance.runner).toBe('test')
    // nothing of a log without the throttle is known of a table that goes by it
    const { runner: _, ...byPressure } = learn
    expect(knownNow(applyCorrection(tune, byPressure, 'test').tune)).toBeNull()
  })
})
