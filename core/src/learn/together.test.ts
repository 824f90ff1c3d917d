import { describe, expect, it } from 'vitest'
import type { Context, LogSummary } from '../kernel/index.ts'
import { axes, drive } from './drive.fixture.ts'
import { solveWithSetup } from './solve.ts'
import type { LearnSetup } from './setup.ts'
import { joinLogs, latestTogether, logsTogether } from './together.ts'

const need = (rpm: number, map: number) => 5 * Math.sin(rpm / 900) + 0.05 * (map - 55)
const setup = { axes, barometerKpa: 101, coolantMinC: 72, target: null } as unknown as LearnSetup
const two = [drive({ seed: 11, needPct: need }), drive({ seed: 12, needPct: need })]

describe('logs of one tune solved together', () => {
  it('follow each other after a minute, row for row', () => {
    const whole = joinLogs(two)
    const n = two[0].timeS.length
    expect([whole.joined, whole.timeS.length]).toEqual([2, n + two[1].timeS.length])
    expect(whole.timeS[n] - whole.timeS[n - 1]).toBeCloseTo(60, 6)
    expect(whole.newestFromS).toBe(whole.timeS[n])
    expect(joinLogs([two[1]]).newestFromS).toBe(two[1].timeS[0])
    expect(whole.timeS[n + 9] - whole.timeS[n]).toBeCloseTo(two[1].timeS[9] - two[1].timeS[0], 6)
    expect(whole.channels.rpm![n + 9]).toBe(two[1].channels.rpm![9])
  })
  it('know what both know: the seconds of both, and less error than either', () => {
    const rms = (r: ReturnType<typeof solveWithSetup>) => {
      const known = r.cells.filter((c) => c.seconds > 3)
      return Math.sqrt(known.reduce((sum, c) => sum + (c.correctionPct! - need(c.rpm, c.mapKpa)) ** 2, 0) / known.length)
    }
    const [a, b, both] = [two[0], two[1], joinLogs(two)].map((log) => solveWithSetup(log, setup))
    expect(both.totals.usedSeconds / (a.totals.usedSeconds + b.totals.usedSeconds)).toBeCloseTo(1, 2)
    expect(both.cells.filter((c) => c.state === 'needs-correction' || c.state === 'proven').length).toBeGreaterThanOrEqual(
      a.cells.filter((c) => c.state === 'needs-correction' || c.state === 'proven').length,
    )
    expect(rms(both)).toBeLessThan(0.5)
  })
  it('a log that lacks a deciding channel is left out; a channel that only some have is left out of the whole', () => {
    const { correctionPct: _, ...open } = two[1].channels
    const alone = joinLogs([two[0], { ...two[1], channels: open }])
    expect([alone.joined, alone.timeS]).toEqual([1, two[1].timeS])
    const rich = { ...two[1], channels: { ...two[1].channels, pulseMs: new Float32Array(two[1].timeS.length) } }
    const whole = joinLogs([two[0], rich])
    expect([whole.joined, whole.channels.pulseMs]).toEqual([2, undefined])
  })
})

describe('which logs go together', () => {
  const [id, other, third] = ['a', 'b', 'c']
  const log = (more: Partial<LogSummary>): LogSummary => ({
    id,
    name: 'x',
    rows: 1,
    durationS: 1,
    source: 'import',
    createdAt: '2026-05-02T10:00:00Z',
    tuneId: 't1',
    ...more,
  })
  const solved = (logId: string, suspect?: string) => ({ kind: 'learn.result', value: { logId, ...(suspect ? { suspect } : {}) } })
  const context = (logs: LogSummary[], readings: object[], unit: object = {}): Context =>
    ({ build: { facts: {}, choices: { unit }, logs, tunes: [] }, readings }) as unknown as Context
  const earlier = { id: other, createdAt: '2026-05-01T10:00:00Z' }
  it.each([
    ['an earlier one of the same tune that was believed', [log({}), log(earlier)], [solved(other)], [other, id]],
    ['not one that was not solved', [log({}), log(earlier)], [], [id]],
    ['not one that was not sound', [log({}), log(earlier)], [solved(other, 'exhaust-leak')], [id]],
    ['but one that was believed after all', [log({}), log(earlier)], [solved(other, 'exhaust-leak'), solved(other)], [other, id]],
    ['not one of another tune', [log({}), log({ ...earlier, tuneId: 't2' })], [solved(other)], [id]],
    ['not one of the bench', [log({}), log({ ...earlier, source: 'bench' })], [solved(other)], [id]],
    ['not a later one', [log({}), log({ id: third, createdAt: '2026-05-03T10:00:00Z' })], [solved(third)], [id]],
    ['none where its tune is not known', [log({ tuneId: null }), log({ ...earlier, tuneId: null })], [solved(other)], [id]],
  ])('%s', (_, logs, readings, ids) => expect(logsTogether(context(logs, readings), id)).toEqual(ids))
  it('of a unit that learns by itself the last hour goes together, without drives whose learning was poisoned', () => {
    const itself = { learns: 'itself' }
    const at = (hour: number, more: Partial<LogSummary> = {}) =>
      log({ id: `at ${hour}`, createdAt: `2026-05-01T0${hour}:00:00Z`, durationS: 1500, ...more })
    const logs = [at(1), at(3), at(2), at(4)]
    const readings = [1, 2, 3].map((hour) => solved(`at ${hour}`))
    const ids = (of: object[]) => logsTogether(context(logs, of, itself), 'at 4')
    expect(ids(readings)).toEqual(['at 3', 'at 4'])
    const poisoned = { kind: 'learn.result', value: { logId: 'at 3', codes: ['poisoned-cell'] } }
    expect(ids([...readings, poisoned])).toEqual(['at 2', 'at 4'])
    expect(ids([...readings, { kind: 'learn.result', value: { logId: 'at 3', codes: ['short-pulse'] } }])).toEqual(['at 3', 'at 4'])
  })
  it.each([
    ['two halves of an hour', [1800, 1800], 2],
    ['a second more', [1801, 1800], 1],
    ['one of two hours is looked at all the same', [600, 7200], 1],
  ])('%s', (_, seconds, left) => expect(latestTogether(seconds, (s) => s)).toEqual(seconds.slice(-left)))
})

describe('drives of a unit that learns by itself', () => {
  const itself = { ...setup, learns: 'itself' as const, learnLimitPct: 25 }
  const held = (pct: number, seed: number, more: Parameters<typeof drive>[0]['needPct'] = () => 0) =>
    drive({ seed, needPct: more, high: true, channels: (log) => (log.channels.learnedPct = new Float32Array(log.rows).fill(pct)) })
  it('know together what the engine wants, and what is held now by the last', () => {
    const r = solveWithSetup(joinLogs([held(3, 21, () => 5 - 3), held(5, 22)]), itself)
    const known = r.cells.filter((c) => c.seconds > 10)
    const mean = (of: (c: (typeof known)[number]) => number) => known.reduce((sum, c) => sum + of(c), 0) / known.length
    expect(mean((c) => c.learnedPct!)).toBeCloseTo(5, 0)
    expect(mean((c) => c.neededBasePct!)).toBeCloseTo(5, 0)
    expect(r.totals.remainderRmsPct).toBeLessThan(0.6)
    // two drives alike in length: about half of the seconds are of the last
    const seconds = (of: 'seconds' | 'newestSeconds') => r.cells.reduce((sum, c) => sum + c[of]!, 0)
    expect(seconds('newestSeconds') / seconds('seconds')).toBeCloseTo(0.5, 1)
  })
  it('lean under load drives ago, and not in the last, is no unsafe cell now; in the last it is', () => {
    const lean = (_: number, map: number) => (map > 86 ? 12 : 0)
    const unsafe = (...logs: Parameters<typeof joinLogs>[0]) =>
      solveWithSetup(joinLogs(logs), itself).cells.filter((c) => c.state === 'unsafe').length
    expect(unsafe(held(0, 23, lean), held(0, 24))).toBe(0)
    expect(unsafe(held(0, 24), held(0, 23, lean))).toBeGreaterThan(0)
  })
})
