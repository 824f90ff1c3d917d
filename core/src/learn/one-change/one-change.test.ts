import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../../judge/judgement.ts'
import { madeReading, soundBuild } from '../../judge/made-up.fixture.ts'
import type { StoredReading, TuneSummary } from '../../kernel/index.ts'
import { lastTest, reversalShown, untested } from './one-change.ts'

const uuid = (n: number) => `00000000-0000-4000-8000-00000000000${n}`
/** Version `number`, made of the one before it unless told otherwise. */
const version = (number: number, changed: string[] | undefined, more: Partial<TuneSummary> = {}): TuneSummary => ({
  ...{ id: uuid(number), number, name: 'x', status: 'ready', origin: 'edited', parentId: number > 1 ? uuid(number - 1) : null },
  ...{ createdAt: '2026-03-01T10:00:00.000Z', inCarSince: null, problems: [], changed },
  ...more,
})
const solved = (tune: number, errorRmsPct: number | null, more: object = {}) =>
  madeReading('learn.result', {
    ...{ logId: uuid(9), tuneId: uuid(tune), usedSeconds: 500, provenTimePct: 85, errorRmsPct, unsafeCells: 0 },
    ...more,
  })
const car = (tunes: TuneSummary[], readings: StoredReading[]) => ({ ...soundBuild({}, readings), tunes })
const tested = (...args: Parameters<typeof car>) => lastTest(contextOf(car(...args)))
const found = (...args: Parameters<typeof car>) =>
  evaluate(car(...args))
    .stations.find((s) => s.id === 'learn')!
    .findings.filter((f) => /one|many|cause|reversal/.test(f.id))
const two = ['parameters.deadTimeMs', 'parameters.fuelPressureKpa']

describe('what was changed between two logs', () => {
  it('parts that a warm, steady mixture hangs on; the fan and the idle are none of them', () =>
    expect(
      tested(
        [version(1, undefined), version(2, [...two, 'parameters.fanOnC', 'parameters.idleTargetRpm', 'tables.spark'])],
        [solved(1, 2), solved(2, 5)],
      ),
    ).toMatchObject({
      before: { number: 1, errorRmsPct: 2 },
      after: { number: 2, errorRmsPct: 5 },
      changes: [
        { label: 'Dead time', parts: ['parameters.deadTimeMs'] },
        { label: 'Fuel pressure', parts: ['parameters.fuelPressureKpa'] },
      ],
      moved: 'worse',
    }))
  it('what one log taught is one change; versions nobody drove add up', () => {
    const line = [
      version(1, undefined),
      version(2, ['tables.ve', 'parameters.deadTimeMs'], { origin: 'learned' }),
      version(3, ['tables.ve']),
    ]
    expect(tested(line, [solved(1, 6), solved(3, 2)])!.changes!.map((ch) => ch.label)).toEqual([
      'Volumetric efficiency',
      'what the log of version 2 taught',
    ])
    expect(tested(line.slice(0, 2), [solved(1, 6), solved(2, 2)])!.changes).toHaveLength(1)
  })
  it('a branch goes over the version both came from', () => {
    const tunes = [
      version(1, undefined),
      version(2, ['parameters.stoichAfr']),
      version(3, ['parameters.deadTimeMs'], { parentId: uuid(1) }),
    ]
    expect(tested(tunes, [solved(2, 2), solved(3, 5)])!.changes!.map((ch) => ch.label)).toEqual(['Dead time', 'Stoichiometric ratio'])
  })
  it('work on the car between the logs counts, before the first and after the last it does not', () => {
    const off = () => madeReading('fitup.hose-off', { hose: 'brake' })
    const tunes = [version(1, undefined), version(2, ['tables.ve'])]
    expect(tested(tunes, [solved(1, 2), off(), solved(2, 5)])!.changes).toEqual([
      { label: 'Volumetric efficiency', parts: ['tables.ve'] },
      { label: 'a hose was off', parts: [] },
    ])
    expect(tested(tunes, [off(), solved(1, 2), solved(2, 5), off()])!.changes).toHaveLength(1)
  })
  it('versions that were not compared, or do not hang together: not known', () => {
    expect(tested([version(1, undefined), version(2, undefined)], [solved(1, 2), solved(2, 5)])!.changes).toBeNull()
    expect(
      tested([version(1, undefined), version(4, ['tables.ve'], { parentId: uuid(7) })], [solved(1, 2), solved(4, 5)])!.changes,
    ).toBeNull()
  })
  it('a log that is not sound, one without a tune and one of a unit that learns are no tests; of one version the last counts', () => {
    const tunes = [version(1, undefined), version(2, two)]
    const not = [
      solved(2, 9, { suspect: 'exhaust-leak' }),
      solved(2, 9, { settled: true }),
      solved(2, null),
      solved(2, 9, { tuneId: null }),
    ]
    expect(tested(tunes, [solved(1, 2), ...not])).toBeNull()
    expect(tested(tunes, [solved(1, 7), solved(1, 2), solved(2, 5)])).toMatchObject({ before: { errorRmsPct: 2 } })
  })
  // 1 % rms: less is the road and the day
  it.each([
    [2, 3, 'worse'],
    [2, 2.95, 'same'],
    [3, 2, 'better'],
    [2.95, 2, 'same'],
  ])('%f then %f %% rms: %s', (a, b, moved) =>
    expect(tested([version(1, undefined), version(2, two)], [solved(1, a), solved(2, b)])!.moved).toBe(moved),
  )
})

describe('what is said of it', () => {
  const tunes = [version(1, undefined), version(2, two)]
  it('two changes and a worse mixture: cause unknown, and the way to know', () =>
    expect(found(tunes, [solved(1, 2), solved(2, 5)])).toMatchObject([
      {
        id: 'learn.cause-unknown',
        severity: 'warn',
        because: 'From version 1 to 2 the error left went from 2.0 to 5.0 % rms. 2 changes went in together: Dead time; Fuel pressure.',
        where: { station: 'learn', part: 'log', field: 'one-change' },
      },
    ]))
  it('a better one is noted alike; one change, or nothing moved, is nothing to say', () => {
    expect(found(tunes, [solved(1, 5), solved(2, 2)])).toMatchObject([{ id: 'learn.cause-unknown', severity: 'note' }])
    expect(found([version(1, undefined), version(2, ['tables.ve'])], [solved(1, 2), solved(2, 5)])).toEqual([])
    expect(found(tunes, [solved(1, 2), solved(2, 2.5)])).toEqual([])
  })
  it('how one came from the other is not known: back to the one before', () =>
    expect(found([version(1, undefined), version(2, undefined)], [solved(1, 2), solved(2, 5)])[0].remedy).toMatch(/^Put version 1 back/))
  it('before it is driven: two that wait for one log are said, one is not', () => {
    const inCar = (changed: string[]) => [version(1, undefined), version(2, changed, { status: 'in-car' })]
    expect(found(inCar(two), [solved(1, 2)])).toMatchObject([{ id: 'learn.many-changes', message: '2 changes wait for one log' }])
    expect(untested(contextOf(car(inCar(['tables.ve']), [solved(1, 2)])))).toHaveLength(1)
    expect(found(inCar(['tables.ve']), [solved(1, 2)])).toEqual([])
    expect(found(inCar(two), [solved(1, 2), solved(2, 2)])).toEqual([])
  })
})

describe('one put back alone', () => {
  const back = (tune: number, what: string) =>
    madeReading('learn.reversal', { tuneId: uuid(tune), ofTuneId: uuid(2), toTuneId: uuid(1), what })
  const tunes = [version(1, undefined), version(2, two), version(3, [two[0]]), version(4, [two[1]], { parentId: uuid(2) })]
  const after = (without: number) => [solved(1, 2), solved(2, 5), back(3, 'Dead time'), solved(3, without)]
  // 2 % before, 5 % with both: 3 points moved; a third of them is 1, two thirds are 2
  it.each([
    [2, 'cause', 100],
    [2.98, 'cause', 67],
    [3.05, 'part', 65],
    [3.95, 'part', 35],
    [4.02, 'not-cause', 33],
    [5.5, 'not-cause', -17],
  ] as const)('leaves %f %% rms: %s', (without, says, pct) => {
    const shown = reversalShown(contextOf(car(tunes, after(without))))!
    expect(shown).toMatchObject({ what: 'Dead time', errorsPct: [2, 5, without], says })
    expect(100 * shown.share).toBeCloseTo(pct, 0)
  })
  it('found: the question is closed; not found: it stays open, and says what was tried', () => {
    expect(found(tunes, after(2)).map((f) => [f.id, f.message])).toEqual([['learn.reversal', 'It was this: Dead time']])
    expect(found(tunes, after(5)).map((f) => f.id)).toEqual(['learn.cause-unknown', 'learn.reversal'])
    expect(tested(tunes, after(5))).toMatchObject({ before: { number: 1 }, after: { number: 2 }, tried: ['Dead time'] })
  })
  it('the next one is held against the same two', () =>
    expect(found(tunes, [...after(5), back(4, 'Fuel pressure'), solved(4, 2.1)]).map((f) => f.message)).toEqual([
      'It was this: Fuel pressure',
    ]))
  it('a version that waits to be tested is said to; one that was retired is not', () => {
    const waits = (status: 'draft' | 'retired') =>
      tested([version(1, undefined), version(2, two), version(3, [two[0]], { status })], after(2).slice(0, 3))!
    expect(waits('draft')).toMatchObject({ waiting: ['Dead time'], tried: [] })
    expect(waits('retired')).toMatchObject({ waiting: [], tried: [] })
    expect(tested(tunes, after(5))).toMatchObject({ waiting: [], tried: ['Dead time'] })
  })
  it('is one change itself, and not driven yet it shows nothing', () => {
    expect(reversalShown(contextOf(car(tunes, after(2).slice(0, 3))))).toBeNull()
    expect(found(tunes, after(2).slice(0, 3)).map((f) => f.id)).toEqual(['learn.cause-unknown'])
  })
  it('nothing had moved: nothing can go back', () =>
    expect(reversalShown(contextOf(car(tunes, [solved(1, 2), solved(2, 2.9), back(3, 'x'), solved(3, 2)])))).toBeNull())
})

describe('compared at the cells that both drove', () => {
  const tunes = [version(1, undefined), version(2, two), version(3, [two[0]])]
  const left = (pct: (number | null)[], seconds: number[], axes = 'a') => ({
    left: { axes, cells: pct.flatMap((v, c) => (v === null || seconds[c] === 0 ? [] : [[c, v, seconds[c]]])) },
  })
  const back = madeReading('learn.reversal', { tuneId: uuid(3), ofTuneId: uuid(2), toTuneId: uuid(1), what: 'Dead time' })

  it('what one of them drove alone does not count, and each cell by the shorter time', () => {
    // cells 1 and 2 were driven by both for 100 and 300 s: sqrt((100 x 2² + 300 x 0²) / 400) = 1, sqrt((100 x 4² + 300 x 2²) / 400) = 2.65
    const a = solved(1, 8, left([9, 2, 0], [50, 100, 300]))
    const b = solved(2, 1, left([null, 4, -2], [0, 900, 300]))
    const test = tested(tunes, [a, b])!
    expect(test.before.errorRmsPct).toBeCloseTo(1, 9)
    expect(test.after.errorRmsPct).toBeCloseTo(2.6458, 3)
    // 400 s of the shorter one's 450
    expect([test.moved, test.sharedTime]).toEqual(['worse', expect.closeTo(400 / 450, 9)])
    expect(found(tunes, [a, b])[0].because).toContain('from 1.0 to 2.6 % rms, at the cells that both drove.')
  })
  it.each([
    [39, 'elsewhere'],
    [41, 'worse'],
  ])('%d s of the 100 at the same cells: %s', (s, moved) => {
    const a = solved(1, 2, left([1, 1], [100, 0]))
    const b = solved(2, 5, left([5, 5], [s, 100 - s]))
    expect(tested(tunes, [a, b])!.moved).toBe(moved)
    expect(found(tunes, [a, b])[0].message).toMatch(moved === 'elsewhere' ? /^Driven elsewhere/ : /^Cause unknown/)
  })
  it('other breakpoints, or a log from before cells were kept: by all cells, as it was', () => {
    const a = solved(1, 2, left([1], [100]))
    expect(tested(tunes, [a, solved(2, 5, left([1], [100], 'b'))])).toMatchObject({
      moved: 'worse',
      after: { errorRmsPct: 5 },
      sharedTime: 1,
    })
    expect(tested(tunes, [a, solved(2, 5)])).toMatchObject({ moved: 'worse', after: { errorRmsPct: 5 } })
  })
  it('of a reversal all three; driven elsewhere it shows nothing yet', () => {
    const logs = (third: object) => [solved(1, 9, left([2, 7], [100, 0])), solved(2, 9, left([5, 9], [100, 50])), back, solved(3, 9, third)]
    expect(reversalShown(contextOf(car(tunes, logs(left([2, 8], [80, 80])))))).toMatchObject({
      errorsPct: [expect.closeTo(2, 9), expect.closeTo(5, 9), expect.closeTo(2, 9)],
      says: 'cause',
    })
    expect(reversalShown(contextOf(car(tunes, logs(left([2, 8], [10, 80])))))!.says).toBe('elsewhere')
    expect(found(tunes, logs(left([2, 8], [10, 80]))).at(-1)!.message).toBe('Not known yet: Dead time')
  })
})
