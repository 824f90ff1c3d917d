import { describe, expect, it } from 'vitest'
import { type contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { axes, drive } from './drive.fixture.ts'
import { converged } from './findings.ts'
import { deliveredPct } from './result.ts'
import { learnReading } from './setup.ts'
import { solveLearn } from './solve.ts'

/** A table that a log before has shown right to half a per cent. */
const n = axes.rpm.length * axes.mapKpa.length
const known = { axes, leftPct: new Array<number>(n).fill(0), standardErrorPct: new Array<number>(n).fill(0.5) }
const solved = (needPct: number) =>
  solveLearn(drive({ seed: 11, needPct: () => needPct, channels: (log) => delete log.channels.throttlePct }), axes, {
    barometerKpa: 100,
    car: { barometerKpa: 100, learns: 'nobody', known },
  })

describe('a constant that was taken out before the cells were judged', () => {
  const off = solved(8)
  it('leaves the table right: 8 % everywhere is flow, and no cell wants anything', () => {
    expect(off.mends).toEqual([{ cause: 'injector-flow', size: expect.closeTo(8, 0) }])
    expect(off.totals.errorRmsPct).toBeLessThan(1)
  })
  it('is delivered wrong all the same until it is mended: told by cell and as a whole, and nothing has converged', () => {
    for (const c of off.cells.filter((x) => x.seconds > 5)) expect(c.mendPct).toBeCloseTo(8, 0)
    expect(off.totals.deliveredRmsPct).toBeGreaterThan(7.5)
    expect(off.totals.deliveredRmsPct).toBeLessThan(8.5)
    const value = learnReading(off, 'log', 'tune')
    const { left } = value as Extract<typeof value, { left: object }>
    for (const [, leftPct, seconds] of left.cells) if (seconds > 5) expect(leftPct).toBeCloseTo(8, 0)
    expect(converged({ ...value, provenTimePct: 95 })).toBe(false)
  })
  it('a sound log has none: what is left is what is delivered', () => {
    const sound = solved(0)
    expect(sound.totals.deliveredRmsPct).toBeUndefined()
    expect(converged({ ...learnReading(sound, 'log', 'tune'), provenTimePct: 95 })).toBe(true)
  })
  it('by hand: 2 % left over 5 % that was taken out is 7.1 %; nothing measured is nothing', () => {
    expect(deliveredPct({ correctionPct: 2, mendPct: 5 })).toBeCloseTo(7.1, 9)
    expect(deliveredPct({ correctionPct: null })).toBeCloseTo(0, 9)
  })
  it('keeps the station open, in words', () => {
    const { facts, choices } = soundBuild()
    const tune = {
      ...{ id: '11111111-1111-4111-8111-111111111111', number: 1, name: 'x', status: 'in-car' as const, origin: 'computed' as const },
      ...{ parentId: null, createdAt: '2026-01-01T00:00:00Z', inCarSince: '2026-01-02T00:00:00Z', problems: [] },
      document: computeBaseTune(facts, choices),
    }
    const log = {
      ...{ id: '22222222-2222-4222-8222-222222222222', name: 'd', source: 'bench' as const, createdAt: '2026-02-01T00:00:00Z' },
      ...{ durationS: 900, rows: 9000 },
    }
    const said = (deliveredRmsPct: number) => {
      const value = { logId: log.id, tuneId: tune.id, usedSeconds: 600, provenTimePct: 95, errorRmsPct: 0.5, unsafeCells: 0 }
      const entry = madeReading('learn.result', { ...value, deliveredRmsPct })
      const c = { ...soundBuild({}, [entry]), tunes: [tune], logs: [log] } as unknown as Parameters<typeof contextOf>[0]
      return evaluate(c)
        .stations.find((s) => s.id === 'learn')!
        .findings.find((f) => f.id === 'learn.not-converged')?.because
    }
    expect(said(7.9)).toContain('7.9 % rms is delivered wrong until the constants that were taken out first are mended')
    expect(said(2.9)).toBeUndefined()
  })
})
