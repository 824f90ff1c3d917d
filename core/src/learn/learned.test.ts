import { describe, expect, it } from 'vitest'
import { evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import type { TuneSummary } from '../kernel/build.ts'
import type { StoredReading } from '../kernel/entry.ts'
import type { LogData } from '../logfile/read.ts'
import { bilinear } from '../tune/axes.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { axes, drive } from './drive.fixture.ts'
import { converged } from './findings.ts'
import { mendConstant } from './mend-constant.ts'
import { leakShape, needShape } from './need-shape.ts'
import { unsoundCodes } from './pattern.ts'
import type { LearnCell, LearnOptions, LearnResult } from './result.ts'
import { settledNow } from './settled.ts'
import { settleTime } from './settle-time.ts'
import { heldNow, learnReading } from './setup.ts'
import { solveLearn } from './solve.ts'

const unitAxes = { rpm: [600, 1400, 2200, 3000, 3800], mapKpa: [25, 45, 65, 85] }
type Where = (rpm: number, mapKpa: number, share: number) => number
/** A drive of a unit that has learned `held` at each place, and of which `left` is still missing there. */
const learnedDrive = (held: Where, left: (rpm: number, mapKpa: number) => number, seed = 3, more: (log: LogData) => void = () => {}) =>
  drive({
    seed,
    needPct: left,
    channels: (log) => {
      const { rpm, mapKpa } = log.channels
      log.channels.learnedPct = Float32Array.from(log.timeS, (_, i) => held(rpm![i], mapKpa![i], i / log.rows))
      more(log)
    },
  })
const itself: LearnOptions = { learns: 'itself', learnLimitPct: 25 }
const solved = (log: LogData, options: LearnOptions = itself) => solveLearn(log, axes, options)
const solid = (r: LearnResult) => r.cells.filter((c) => c.seconds > 6 && c.standardErrorPct! < 1)
const onItsCells =
  (cells: readonly number[]): Where =>
  (rpm, mapKpa) =>
    bilinear(unitAxes, cells, rpm, mapKpa)
/** ±8 % over its 5 x 4 cells, neighbours never far apart */
const table = [6, 4, 1, -2, -4, 7, 5, 2, -1, -3, 8, 6, 3, 0, -2, 8, 7, 4, 1, -1]
const codes = (r: LearnResult) => r.verdicts.map((v) => v.code)

describe('a unit that learns by itself', () => {
  it('a settled one has nothing left whatever it has learned: the cells are proven, and what it holds is told', () => {
    const r = solved(learnedDrive(onItsCells(table), () => 0))
    expect(r.totals.provenTimePct).toBeGreaterThan(90)
    expect(r.totals.settledTimePct).toBeGreaterThan(85)
    expect(r.totals.remainderRmsPct).toBeLessThan(0.6)
    for (const c of solid(r)) {
      expect(Math.abs(c.learnedPct! - bilinear(unitAxes, table, c.rpm, c.mapKpa)), `${c.rpm} ${c.mapKpa}`).toBeLessThan(1)
      expect(c.neededBasePct!).toBeCloseTo(100 * ((1 + c.learnedPct! / 100) * (1 + c.correctionPct! / 100) - 1), 9)
    }
    expect(settledNow(r)).toEqual({ settled: true, because: [] })
  })
  it('with its own axes known the same, and what it holds to a tenth', () => {
    const r = solved(
      learnedDrive(onItsCells(table), () => 0),
      { ...itself, learnedAxes: unitAxes },
    )
    for (const c of solid(r))
      expect(Math.abs(c.learnedPct! - bilinear(unitAxes, table, c.rpm, c.mapKpa)), `${c.rpm} ${c.mapKpa}`).toBeLessThan(0.5)
    expect(r.totals.remainderRmsPct).toBeLessThan(0.8)
  })
  it.each(['unknown', 'known'])('what is left is found beyond it, own axes %s: 5 % everywhere', (known) => {
    const r = solved(
      learnedDrive(onItsCells(table), () => 5),
      { ...itself, ...(known === 'known' ? { learnedAxes: unitAxes } : {}) },
    )
    for (const c of solid(r)) expect(Math.abs(c.correctionPct! - 5), `${c.rpm} ${c.mapKpa}`).toBeLessThan(1)
    expect(settledNow(r)).toMatchObject({ settled: false })
    expect(settledNow(r).because).toEqual(expect.arrayContaining(['time', 'remainder']))
    const driven = r.cells.filter((c) => c.seconds > 3)
    for (const c of driven) expect(Math.abs(c.leftPct! - 5), `${c.rpm} ${c.mapKpa}`).toBeLessThan(4 * c.leftErrorPct! + 0.5)
    expect(new Set(driven.filter((c) => c.leftErrorPct! < 0.9).map((c) => c.state))).toEqual(new Set(['needs-correction']))
  })
  it('while it learns, what is left is judged by what it holds at the end, not by the mean', () => {
    // it goes from nothing to all of 8 % over the drive; the loop carries the rest
    const moving = learnedDrive(
      (_r, _m, share) => 8 * Math.min(1, share / 0.6),
      () => 0,
    )
    const left = moving.channels.correctionPct!
    const lambda = moving.channels.lambda!
    for (let i = 0; i < moving.rows; i++) {
      const rest = 100 * (1.08 / (1 + moving.channels.learnedPct![i] / 100) - 1)
      left[i] += rest
      lambda[i] *= 1
    }
    const r = solved(moving)
    const mean = (of: (c: LearnCell) => number) =>
      solid(r).reduce((sum, c) => sum + c.seconds * of(c), 0) / solid(r).reduce((sum, c) => sum + c.seconds, 0)
    expect(mean((c) => c.learnedPct!)).toBeGreaterThan(7)
    expect(Math.abs(mean((c) => c.correctionPct!))).toBeLessThan(0.7)
    expect(mean((c) => c.neededBasePct!)).toBeCloseTo(8, 0)
  })
  it('a cell visited once is held against what was known before; 0.9 % stands still, 1.1 % has moved', () => {
    const log = learnedDrive(
      () => 4,
      () => 0,
    )
    const once = solved(log, itself).cells.map((c) => c.movedPct)
    const before = (by: number) => solved(log, { ...itself, before: axes.mapKpa.flatMap(() => axes.rpm.map(() => 4 - by)) }).cells
    const single = once.findIndex((m, i) => m === null && before(0)[i].state === 'proven')
    if (single >= 0) {
      expect(before(0.9)[single].settled).toBe(true)
      expect(before(1.1)[single].settled).toBe(false)
    }
    const twice = once.findIndex((m) => m !== null)
    expect(Math.abs(once[twice]!)).toBeLessThan(0.2)
  })
  it('a table that another corrects counts what was learned as what it is off by, and says when nobody told', () => {
    const log = learnedDrive(
      () => 6,
      () => 0,
    )
    const person = solved(log, { learns: 'nobody' })
    expect(person.totals.settledTimePct).toBeUndefined()
    for (const c of solid(person)) expect(Math.abs(c.correctionPct! - 6)).toBeLessThan(0.6)
    expect(codes(person)).not.toContain('learned-not-told')
    expect(codes(solved(log, {}))).toContain('learned-not-told')
    expect(
      codes(
        solved(
          learnedDrive(
            () => 0.4,
            () => 0,
          ),
          {},
        ),
      ),
    ).not.toContain('learned-not-told')
  })
  it('a log without its learned value can tell what is left, and no more', () => {
    const r = solved(drive({ seed: 3, needPct: () => 0 }))
    expect(codes(r)).toContain('missing-learned')
    expect(r.cells.every((c) => c.learnedPct == null)).toBe(true)
  })
})

describe('patterns that are not to be believed', () => {
  it('one cell that holds what the engine does not need: 12 % off its neighbours, not 5', () => {
    const at = (pct: number) => {
      const poisoned = [...table]
      poisoned[7] = pct
      // the engine needs the sound table; the unit holds another
      return learnedDrive(
        onItsCells(poisoned),
        (rpm, m) => 100 * ((1 + bilinear(unitAxes, table, rpm, m) / 100) / (1 + bilinear(unitAxes, poisoned, rpm, m) / 100) - 1),
      )
    }
    expect(codes(solved(at(22)))).toContain('poisoned-cell')
    expect(codes(solved(at(7)))).not.toContain('poisoned-cell')
    expect(codes(solved(learnedDrive(onItsCells(table), () => 0)))).not.toContain('poisoned-cell')
  })
  it('at its limit for a sixth of the time, within half a per cent of it', () => {
    const at = (pct: number, part: number) =>
      codes(
        solved(
          learnedDrive(
            (_r, _m, share) => (share < part ? pct : 10),
            () => 3,
          ),
        ),
      )
    expect(at(24.6, 0.2)).toContain('learned-at-limit')
    expect(at(24.4, 0.2)).not.toContain('learned-at-limit')
    expect(at(24.6, 0.12)).not.toContain('learned-at-limit')
    expect(
      codes(
        solved(
          learnedDrive(
            () => 24.6,
            () => 3,
          ),
          { learns: 'itself' },
        ),
      ),
    ).not.toContain('learned-at-limit')
  })
  it('something that comes and goes: 6 % for half of each minute, not 1.5', () => {
    const at = (pct: number) =>
      codes(
        solved(
          learnedDrive(
            () => 0,
            () => 0,
            5,
            (log) => {
              for (let i = 0; i < log.rows; i++) if (log.timeS[i] % 60 < 30) log.channels.correctionPct![i] += pct
            },
          ),
        ),
      )
    expect(at(6)).toContain('comes-and-goes')
    expect(at(1.5)).not.toContain('comes-and-goes')
  })
  it('a throttle that never reads shut: over 1.5 %', () => {
    const at = (pct: number) =>
      codes(
        solved(
          learnedDrive(
            () => 0,
            () => 0,
            5,
            (log) => log.channels.throttlePct!.fill(pct),
          ),
        ),
      )
    expect(at(1.6)).toContain('throttle-zero')
    expect(at(1.4)).not.toContain('throttle-zero')
  })
  it('lean rising as the flow falls, and a constant, each by what the map needs over its base', () => {
    const leak = (pct: number) =>
      learnedDrive(
        (rpm, m) => Math.min(60, pct * leakShape(rpm, m)),
        () => 0,
      )
    const wide: LearnOptions = { learns: 'itself', learnLimitPct: 90 }
    expect(codes(solved(leak(70), wide))).toContain('lean-at-low-flow')
    expect(codes(solved(leak(15), wide))).not.toContain('lean-at-low-flow')
    const constant = (pct: number) =>
      codes(
        solved(
          learnedDrive(
            () => pct,
            () => 0,
          ),
        ),
      )
    expect(constant(14)).toContain('constant-to-mend')
    expect(constant(4)).not.toContain('constant-to-mend')
    // it delivers right: a constant is mended, it is no poison
    expect(unsoundCodes).not.toContain('constant-to-mend')
  })
  it('the shape of a need gives constant and low-flow part with honest errors: 10 and 20 by hand', () => {
    const cells = axes.mapKpa.flatMap((mapKpa, j) =>
      axes.rpm.map((rpm, i): LearnCell => ({
        ...{ i, j, rpm, mapKpa, seconds: 9, missingSeconds: 0, nearestMeanPct: null, state: 'proven' as const, standardErrorPct: 0.4 },
        correctionPct: 0,
        neededBasePct: 0,
      })),
    )
    const shapes = cells.map((c) => leakShape(c.rpm, c.mapKpa))
    const [low, high] = [Math.min(...shapes), Math.max(...shapes)]
    const middle = shapes.reduce((a, b) => a + b, 0) / shapes.length
    const given = cells.map((c, k) => ({ ...c, neededBasePct: 10 + (20 * (shapes[k] - middle)) / (high - low) }))
    const shape = needShape(given)!
    expect(shape.constantPct).toBeCloseTo(10, 1)
    expect(shape.lowFlowPct).toBeCloseTo(20, 1)
    expect(shape.constantSePct).toBeGreaterThan(1)
    expect(shape.lowFlowSePct).toBeGreaterThan(2)
    expect(needShape(given.slice(0, 5))).toBeNull()
    expect(leakShape(3000, 10)).toBeCloseTo(0.5, 9)
  })
})

describe('time until settled', () => {
  it('by the first-order lag: from 8 % to 2 % in 30 ln 4 = 41.6 s in the cell, and as much driving as that took', () => {
    const t = settleTime({ correctionPct: -8, seconds: 20 }, 600, 900, 30)!
    expect(t.secondsHere).toBeCloseTo(41.59, 2)
    expect(t.minutesLikeThis).toBeCloseTo((41.59 * 900) / 20 / 60, 1)
    expect(settleTime({ correctionPct: 2, seconds: 20 }, 600, 900, 30)!.secondsHere).toBe(0)
    expect(settleTime({ correctionPct: null, seconds: 0 }, 600, 900)).toBeNull()
  })
})

describe('a constant mended', () => {
  const { facts, choices } = soundBuild()
  const base = computeBaseTune(facts, choices)
  const tune = { ...base, parameters: { ...base.parameters, injectorCcMin: 500 } }
  const cell = (i: number, learnedPct: number | null): LearnCell => ({
    ...{ i, j: 0, rpm: 1000, mapKpa: 40, correctionPct: 0, standardErrorPct: 0.3, seconds: 9, missingSeconds: 0, nearestMeanPct: null },
    ...{ state: 'proven', learnedPct },
  })
  it('25 % learned everywhere on 500 cc/min is 400; 25 becomes 0, 30 becomes 4, and the fuel stays', () => {
    const mended = mendConstant(tune, { cells: [cell(0, 25), cell(1, 30), cell(2, null)] }, 25)
    expect(mended).toMatchObject({ fromCcMin: 500, toCcMin: 400 })
    expect(mended.cells.map((c) => c.toPct)).toEqual([0, 4])
    expect(mended.worstPct).toBeLessThan(0.01)
    expect(mended.tune.parameters.injectorCcMin).toBe(400)
    expect(mended.tune.tables).toBe(tune.tables)
  })
  it('is refused where the steps of the unit would change the fuel by more than half a per cent, or nothing was learned', () => {
    expect(() => mendConstant(tune, { cells: [cell(0, 26.2)] }, 25, { ccMin: 1, learnedPct: 1 })).not.toThrow()
    expect(() => mendConstant(tune, { cells: [cell(0, 26.2)] }, 25, { ccMin: 1, learnedPct: 2 })).toThrow('0.5 % is allowed')
    expect(() => mendConstant(tune, { cells: [cell(0, null)] }, 25)).toThrow('no cell tells')
  })
})

describe('the station with a unit that learns by itself', () => {
  const tune: TuneSummary = {
    ...{ id: '11111111-1111-4111-8111-111111111111', number: 1, name: 'x', status: 'in-car', origin: 'computed', parentId: null },
    ...{ createdAt: '2026-01-01', inCarSince: '2026-01-02', problems: [] },
  }
  const logId = '22222222-2222-4222-8222-222222222222'
  const result = (more: object = {}) =>
    madeReading('learn.result', {
      ...{ logId, tuneId: tune.id, usedSeconds: 900, provenTimePct: 95, errorRmsPct: 1, unsafeCells: 0 },
      ...{ settledTimePct: 90, remainderRmsPct: 1, movedRmsPct: 0.5, learnedMeanPct: 4, settled: true, codes: [], held: [1, null, 2] },
      ...more,
    })
  const learn = (readings: StoredReading[], unit: object = { learns: 'itself' }) =>
    evaluate({ ...soundBuild({ choices: { unit } }, readings), tunes: [tune] }).stations.find((s) => s.id === 'learn')!
  const unmet = (readings: StoredReading[], unit?: object) =>
    learn(readings, unit)
      .requirements.filter((r) => !r.met)
      .map((r) => r.id)
  const tight = madeReading('learn.exhaust', { tight: true })
  const meter = (unitLambda: number) => madeReading('learn.meter', { unitLambda, meterLambda: 1 })
  const saved = (offS: number, stillThere = true) => madeReading('unit.saved', { tuneId: tune.id, offS, stillThere, then: 'frozen' })

  it('is cleared by a settled log, a tight exhaust, a true sensor, and values that are still there', () => {
    expect(unmet([result()])).toEqual(expect.arrayContaining(['exhaust-tight', 'sensor-true', 'saved']))
    const rest = ['log', 'exhaust-tight', 'sensor-true', 'saved', 'converged', 'solve']
    const left = (readings: StoredReading[]) => unmet(readings).filter((id) => rest.includes(id))
    expect(left([result(), tight, meter(1.04), saved(10)])).toEqual([])
    expect(left([result(), tight, meter(1.05), saved(10)])).toEqual(['sensor-true'])
    expect(left([result(), tight, meter(0.95), saved(9)])).toEqual(['sensor-true', 'saved'])
    expect(left([result(), madeReading('learn.exhaust', { tight: false }), meter(1), saved(10)])).toEqual(['exhaust-tight'])
    expect(left([result(), tight, meter(1), saved(20, false)])).toEqual(['saved'])
    expect(left([result({ settled: false }), tight, meter(1), saved(10)])).toEqual(['converged'])
  })
  it('a person who corrects tables is asked for none of these', () =>
    expect(unmet([result({ settled: undefined })], { learns: 'nobody' })).not.toContain('exhaust-tight'))
  it('an unsound pattern is named with what settles it; one that has not settled with its numbers', () => {
    const ids = (r: StoredReading[]) => learn(r).findings.map((f) => f.id)
    expect(ids([result({ settled: false, codes: ['poisoned-cell'] })])).toContain('learn.unsound')
    expect(learn([result({ codes: ['throttle-zero'] })]).findings.find((f) => f.id === 'learn.unsound')!.remedy).toContain('Learn the zero')
    expect(ids([result({ settled: false, settledTimePct: 40 })])).toContain('learn.not-settled')
    expect(ids([result()])).not.toContain('learn.not-settled')
    expect(learn([result(), saved(12)]).findings.find((f) => f.id === 'learn.look-again')!.remedy).toContain('500 km')
  })
  it('what it never learns is led to its base; of a unit set by questions to the answers that its base is made of', () => {
    const said = (setBy: string) => {
      const r = result({ settled: false, codes: ['not-learned-here'], unsafeCells: 2 })
      const { findings, requirements } = learn([r], { learns: 'itself', setBy })
      const remedy = (id: string) => findings.find((f) => f.id === id)!.remedy
      return [remedy('learn.not-settled'), remedy('learn.unsafe'), requirements.find((x) => x.id === 'converged')!.action]
    }
    for (const words of said('tables')) expect(words).toContain('accept what belongs in the base')
    for (const words of said('questions')) expect(words).toContain('mend the answer that its base is made of')
  })
  it('lean at low flow is settled by the exhaust and the sensor, looked at', () => {
    const unsound = (r: StoredReading[]) => learn(r).findings.some((f) => f.id === 'learn.unsound')
    const low = result({ codes: ['lean-at-low-flow'] })
    expect([unsound([low]), unsound([low, tight]), unsound([low, tight, meter(1)])]).toEqual([true, true, false])
  })
  it('a mean that goes the same way over three drives by more than 1.5 % each never ends', () => {
    const drifts = (...means: number[]) =>
      learn(means.map((learnedMeanPct) => result({ learnedMeanPct }))).findings.some((f) => f.id === 'learn.drifts')
    expect(drifts(0, 1.6, 3.2, 4.8)).toBe(true)
    expect(drifts(0, 1.4, 2.8, 4.2)).toBe(false)
    expect(drifts(0, 1.6, 3.2)).toBe(false)
    expect(drifts(0, 1.6, 1, 2.6)).toBe(false)
    expect(drifts(0, -1.6, -3.2, -4.8)).toBe(true)
  })
  it('the verdict of the log decides where there is one; an older entry goes by its proven time', () => {
    expect(converged(result({ provenTimePct: 10 }).value as never)).toBe(true)
    expect(converged(result({ settled: false }).value as never)).toBe(false)
    expect(converged(result({ settled: undefined, provenTimePct: 10 }).value as never)).toBe(false)
  })
  it('what it holds is kept cell by cell, and an older value where this drive did not come', () => {
    const r = solved(
      learnedDrive(
        () => 4,
        () => 0,
      ),
    )
    const held = heldNow(
      r,
      r.cells.map(() => 9),
    )
    const [driven, not] = [r.cells.findIndex((c) => c.seconds > 6), r.cells.findIndex((c) => c.seconds < 1)]
    expect(held[driven]).toBeCloseTo(4, 0)
    expect(held[not]).toBe(9)
    const reading = learnReading(r, logId, tune.id)
    expect(reading).toMatchObject({ settled: true, learnedMeanPct: expect.closeTo(4, 1) })
  })
})
