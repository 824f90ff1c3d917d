import { expect, it } from 'vitest'
import type { Context, LogSummary } from '../kernel/index.ts'
import { logForPlan } from './which-log.ts'

const log = (id: string, day: number, more: Partial<LogSummary> = {}): LogSummary => ({
  ...{ id, name: id, rows: 1, durationS: 1, source: 'import', createdAt: `2026-05-0${day}T10:00:00Z`, tuneId: 't2' },
  ...more,
})
const inCar = { id: 't2', number: 2, status: 'in-car', inCarSince: '2026-05-02T00:00:00Z' }
const context = (logs: LogSummary[], facts: object = {}): Context =>
  ({ build: { facts, choices: {}, logs, tunes: [inCar] }, readings: [] }) as unknown as Context

it.each([
  ['none before there is one', [], false, null],
  ['the newest', [log('a', 3), log('b', 4)], false, { logIds: ['b'], counts: true }],
  ['of another tune it tells of the engine only', [log('a', 3, { tuneId: 't1' })], false, { logIds: ['a'], counts: false }],
  ['whose tune is not known: by when it was brought', [log('a', 1, { tuneId: null })], false, { logIds: ['a'], counts: false }],
  ['and brought since', [log('a', 3, { tuneId: null })], false, { logIds: ['a'], counts: true }],
  ['the bench’s says nothing of the car', [log('a', 3), log('b', 4, { source: 'bench' })], false, { logIds: ['a'], counts: true }],
  ['in the rehearsal it does', [log('a', 3), log('b', 4, { source: 'bench' })], true, { logIds: ['b'], counts: true }],
])('%s', (_, logs, rehearsed, found) => expect(logForPlan(context(logs), rehearsed)).toEqual(found))

it('one that may be another car’s is passed over: 9,000 rpm of an engine that turns 5,500', () => {
  const logs = [log('a', 3), log('b', 4, { topRpm: 9000 })]
  expect(logForPlan(context(logs, { engine: { redlineRpm: 5500 } }), false)).toEqual({ logIds: ['a'], counts: true })
})
