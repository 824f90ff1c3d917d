import { describe, expect, it } from 'vitest'
import type { Context, LogSummary } from '../kernel/index.ts'
import { axes, drive } from './drive.fixture.ts'
import { solveWithSetup } from './solve.ts'
import type { LearnSetup } from './setup.ts'
import { joinLogs, logsTogether } from './together.ts'

const need = (rpm: number, map: number) => 5 * Math.sin(rpm / 900) + 0.05 * (map - 55)
const setup = { axes, barometerKpa: 101, coolantMinC: 72, target: null } as unknown as LearnSetup
const two = [drive({ seed: 11, needPct: need }), drive({ seed: 12, needPct: need })]

describe('logs of one tune solved together', () => {
  it('follow each other after a minute, row for row', () => {
    const whole = joinLogs(two)
    const n = two[0].timeS.length
    expect([whole.joined, whole.timeS.length]).toEqual([2, n + two[1].timeS.length])
    expect(whole.timeS[n] - whole.timeS[n - 1]).toBeCloseTo(60, 6)
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
    expect(joinLogs([two[0], { ...two[1], channels: open }]).joined).toBe(1)
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
    ['an earlier one of the same tune that was believed', [log({}), log(earlier)], [solved(other)], [id, other]],
    ['not one that was not solved', [log({}), log(earlier)], [], [id]],
    ['not one that was not sound', [log({}), log(earlier)], [solved(other, 'exhaust-leak')], [id]],
    ['but one that was believed after all', [log({}), log(earlier)], [solved(other, 'exhaust-leak'), solved(other)], [id, other]],
    ['not one of another tune', [log({}), log({ ...earlier, tuneId: 't2' })], [solved(other)], [id]],
    ['not one of the bench', [log({}), log({ ...earlier, source: 'bench' })], [solved(other)], [id]],
    ['not a later one', [log({}), log({ id: third, createdAt: '2026-05-03T10:00:00Z' })], [solved(third)], [id]],
    ['none where its tune is not known', [log({ tuneId: null }), log({ ...earlier, tuneId: null })], [solved(other)], [id]],
  ])('%s', (_, logs, readings, ids) => expect(logsTogether(context(logs, readings), id)).toEqual(ids))
  it('a unit that learns by itself moves from drive to drive: its logs stay alone', () =>
    expect(logsTogether(context([log({}), log(earlier)], [solved(other)], { learns: 'itself' }), id)).toEqual([id]))
})
