import { describe, expect, it } from 'vitest'
import type { BuildData, LogSummary, TuneSummary } from '../../kernel/index.ts'
import { madeReading, soundBuild } from '../made-up.fixture.ts'
import { BuildAnswer } from './http.ts'

const uuid = (n: number) => `00000000-0000-4000-8000-00000000000${n}`
const at = '2026-03-01T10:00:00.000Z'
/** Everything that a log and a version of a tune may carry. */
const log: Required<LogSummary> = {
  ...{ id: uuid(1), name: 'drive', rows: 9000, durationS: 900, source: 'bench', createdAt: at },
  ...{ topRpm: 4200, topMapKpa: 98.5, tuneId: uuid(2), loopOpen: true },
}
const tune: Required<TuneSummary> & { createdBy: string; logId: string | null } = {
  ...{ id: uuid(2), number: 1, name: 'x', status: 'in-car', origin: 'computed', parentId: null, logId: uuid(3), createdBy: 'Ada' },
  ...{ createdAt: at, inCarSince: at, problems: [], figures: { idleHotRpm: 800 }, changed: ['tables.ve'] },
}
const answer = (build: Partial<BuildData>) =>
  BuildAnswer.parse({
    ...{ ...soundBuild(), id: uuid(4), title: 'x', version: 1, createdAt: at, updatedAt: at, readings: [], ...build },
    ...{ stations: [], next: { station: 'survey', action: 'x', said: 'x', where: { station: 'survey' } } },
  })

describe('what the browser is told', () => {
  it('of a log: all that judgement knows of it, so that both judge alike', () => expect(answer({ logs: [log] }).logs).toEqual([log]))
  it('of a version of the tune: the same', () => expect(answer({ tunes: [tune] }).tunes).toEqual([tune]))
  it('of an entry: what it was worked out from, so that it falls with that here too', () => {
    const entry = {
      ...madeReading('note', { text: 'x' }),
      ...{ id: uuid(5), seq: 1, source: 'app', receivedAt: at, takenAt: at, seen: null, client: null, clientSeq: null, basis: null },
      ...{ instrument: null, conditions: null, supersedes: null, from: { entryIds: [uuid(6)] } },
    } as unknown as BuildData['readings'][number]
    expect(answer({ readings: [entry] }).readings[0].from).toEqual({ entryIds: [uuid(6)] })
  })
  it('what an older log does not tell stays untold', () => {
    const { topRpm: _, topMapKpa: __, tuneId: ___, loopOpen: ____, ...old } = log
    expect(answer({ logs: [old] }).logs).toEqual([old])
  })
})
