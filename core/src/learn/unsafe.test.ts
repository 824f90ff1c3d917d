import { describe, expect, it } from 'vitest'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import { contextOf } from '../judge/judgement.ts'
import { wordsOf } from '../kernel/index.ts'
import type { StoredReading, TuneSummary } from '../kernel/index.ts'
import { learnRules } from './findings.ts'
import type { LearnCell, LearnResult } from './result.ts'
import { learnReading, type UnsafePlace } from './setup.ts'
import { learn } from './station.ts'

const logId = '11111111-1111-4111-8111-111111111111'
const tuneId = '22222222-2222-4222-8222-222222222222'
const cell = (rpm: number, mapKpa: number, state: LearnCell['state']) => ({
  rpm,
  mapKpa,
  state,
  seconds: 5,
  correctionPct: 1,
  standardErrorPct: 0.4,
})
const result = (cells: ReturnType<typeof cell>[], more: object = {}): LearnResult =>
  ({ cells, sound: true, totals: { usedSeconds: 60, provenTimePct: 90, errorRmsPct: 1 }, verdicts: [], diagnosis: [], ...more }) as never
const kept = (r: LearnResult, unsafe: UnsafePlace[] = []) => learnReading(r, logId, tuneId, { unsafe })
const lean: UnsafePlace = { table: 've', rpm: 3000, load: 96 }

describe('a cell that read lean under high load', () => {
  it('is kept with the solve, by its place', () =>
    expect(kept(result([cell(2000, 60, 'proven'), cell(3000, 96, 'unsafe')]))).toMatchObject({ unsafeCells: 1, unsafeAt: [lean] }))
  it.each<[LearnCell['state'], number]>([
    ['untouched', 1],
    ['thin', 1],
    ['needs-correction', 1],
    ['unsafe', 1],
    ['proven', 0],
  ])('that the next log leaves %s stands for %d', (state, n) => expect(kept(result([cell(3000, 96, state)]), [lean]).unsafeCells).toBe(n))
  it.each([
    [2.9, 1],
    [3, 0],
  ])('of several drives solved as one the last proves it, driven there for 3 s: %d s leave %d', (newestSeconds, n) =>
    expect(kept(result([{ ...cell(3000, 96, 'proven'), newestSeconds } as never]), [lean]).unsafeCells).toBe(n),
  )
  it('is not cleared by a log that is not sound', () =>
    expect(kept(result([cell(3000, 96, 'proven')], { sound: false }), [lean]).unsafeCells).toBe(1))
  it('is found again on other axes, at the nearest cell', () =>
    expect(kept(result([cell(1000, 40, 'proven'), cell(3100, 98, 'thin')]), [lean]).unsafeAt).toEqual([
      { table: 've', rpm: 3100, load: 98 },
    ]))
  it('of the table by throttle counts as well', () => {
    const runner = { throttlePct: [100], cells: [{ rpm: 3000, throttlePct: 100, state: 'unsafe' }] }
    expect(kept(result([cell(2000, 60, 'proven')], { runner })).unsafeAt).toEqual([{ table: 'runner', rpm: 3000, load: 100 }])
  })
})

it('what was left is kept of cells that were driven for a second or more, by pressure and then by throttle; of a unit that learns not', () => {
  const at = (seconds: number, correctionPct: number | null) => ({ ...cell(2000, 60, 'thin'), seconds, correctionPct }) as never
  const runner = { throttlePct: [100], cells: [{ rpm: 3000, throttlePct: 100, state: 'thin', seconds: 4, correctionPct: -2 }] }
  const solved = (more: object = {}) =>
    kept(result([at(0.9, 3), at(1, 3.456), at(9, null)], { rpm: [2000], mapKpa: [60], runner, ...more }))
  expect((solved() as { left?: unknown }).left).toEqual({
    axes: '[[2000],[60],[100]]',
    cells: [
      [1, 3.46, 1],
      [3, -2, 4],
    ],
  })
  expect(solved({ totals: { settledTimePct: 50, remainderRmsPct: 1 } })).not.toHaveProperty('left')
})

describe('after a correction was accepted', () => {
  const tune = (id: string, number: number, status: string, more: object = {}): TuneSummary =>
    ({ id, number, status, origin: 'computed', name: '', parentId: null, createdAt: '', inCarSince: null, problems: [], ...more }) as never
  const solved = (more: object = {}) =>
    madeReading('learn.result', {
      ...{ logId, tuneId, usedSeconds: 900, provenTimePct: 40, errorRmsPct: 6, unsafeCells: 1, unsafeAt: [lean] },
      ...more,
    } as never) as StoredReading
  const build = (tunes: TuneSummary[], readings: StoredReading[]) => contextOf({ ...soundBuild({}, readings), tunes } as never)
  const said = (c: ReturnType<typeof build>) =>
    learnRules
      .flatMap((r) => r.check(c) ?? [])
      .flatMap((f) => (f.severity === 'stop' || f.severity === 'warn' ? [[f.severity, wordsOf(f.remedy ?? '')]] : []))
  const next = (c: ReturnType<typeof build>) => learn.requirements(c).find((r) => !r.met && r.id === 'converged')!
  const made = tune('33333333-3333-4333-8333-333333333333', 4, 'draft', { origin: 'learned', logId })

  it('before it, Next says to accept', () => {
    const c = build([tune(tuneId, 3, 'in-car')], [solved()])
    expect(wordsOf(next(c).action)).toContain('Accept the correction')
    expect(said(c).map(([severity]) => severity)).toEqual(['stop', 'warn'])
  })
  it('Next says which version goes into the car, and leads there', () => {
    const c = build([tune(tuneId, 3, 'in-car'), made], [solved()])
    expect(wordsOf(next(c).action)).toBe('Put version 4 in the car and drive again')
    expect(next(c).where).toMatchObject({ station: 'tune' })
    for (const [, remedy] of said(c)) expect(remedy).toContain('Put version 4 in the car')
  })
  it('a new version in the car clears no lean cell: it stays a stop until a log has proven it', () => {
    const c = build([tune(tuneId, 3, 'retired'), { ...made, status: 'in-car' }], [solved()])
    expect(said(c)).toEqual([['stop', expect.stringContaining('dynamometer')]])
    const later = solved({
      tuneId: made.id,
      logId: '44444444-4444-4444-8444-444444444444',
      unsafeCells: 0,
      unsafeAt: undefined,
      provenTimePct: 90,
      errorRmsPct: 1,
    })
    expect(said(build([{ ...made, status: 'in-car' }], [solved(), later]))).toEqual([])
  })
})
