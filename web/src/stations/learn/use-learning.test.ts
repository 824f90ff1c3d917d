import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, type EffectScope } from 'vue'
import { computeBaseTune, type LearnResult, type LogPreview } from '@vectum/core'
import { soundBuild } from '../../../../core/src/judge/made-up.fixture.ts'
import { asked, openBuild } from '../../testing/open-build.fixture.ts'
import { ApiError } from '../../api/client.ts'
import { useBuild } from '../../stores/build.ts'
import { type Learning, MAX_LOG_MB, useLearning } from './use-learning.ts'

const logId = '00000000-0000-4000-8000-000000000001'
const tuneId = '00000000-0000-4000-8000-000000000002'
const created = '2026-03-01T10:00:00.000Z'
const summary = { id: logId, name: 'drive.csv', rows: 900, durationS: 600, source: 'import' as const, createdAt: created }
const tune = {
  id: tuneId,
  number: 3,
  name: 'third',
  status: 'in-car' as const,
  origin: 'computed' as const,
  parentId: null,
  logId: null,
  createdBy: 'Ada',
  createdAt: created,
  inCarSince: '2026-02-28T10:00:00.000Z',
  problems: [],
}
const document = computeBaseTune(soundBuild().facts, soundBuild().choices)
const mapping = { channels: {}, stoichAfr: 14.7, barometerKpa: null }
const kept = { fileHash: null, tuneId: null, mapping }
const result = {
  cells: [{ state: 'unsafe' }, { state: 'proven' }],
  totals: { samples: 900, used: 400, usedSeconds: 40, excluded: {}, provenTimePct: 80, errorRmsPct: 2.5 },
  verdicts: [],
  sound: true,
  diagnosis: [],
} as unknown as LearnResult
const csv = (size = 10) => new File([new Uint8Array(size)], 'drive.csv')
const preview = { mapping: {}, dialect: {}, rows: [], unsure: [] } as unknown as LogPreview

type Tasks = Record<'preview' | 'solve' | 'strip' | 'correct', (...args: never[]) => Promise<unknown>>
let scope: EffectScope
let posted: { url: string; body: { origin?: string; parentId?: string; logId?: string } }[]
let stopped: number
/** Learning over a server and a worker in miniature; what the worker answers is the test's. */
async function learning(tasks: Partial<Tasks> = {}, { logs = [summary], tunes = [tune], send = vi.fn() } = {}) {
  await openBuild({ logs, tunes })
  const around = fetch
  const answer = (body: unknown) => new Response(JSON.stringify(body), { status: 200, headers: { 'content-type': 'application/json' } })
  vi.stubGlobal('fetch', async (url: string, options: RequestInit = {}) => {
    const path = String(url)
    if (options.method === 'POST' && path.endsWith('/tunes')) posted.push({ url: path, body: JSON.parse(String(options.body)) as object })
    if (path.endsWith(`/logs/${logId}`)) return answer({ ...summary, buildId: 'sound', rejected: [], channels: ['rpm'], ...kept })
    if (path.includes('/tunes')) return answer({ ...tune, number: options.method === 'POST' ? 4 : 3, document })
    return around(url, options)
  })
  const all: Tasks = {
    preview: async () => preview,
    solve: async () => result,
    strip: async () => null,
    correct: async () => ({ changes: [{}, {}], tune: document }),
    ...tasks,
  }
  const worker = { tasks: () => all, cancel: () => void stopped++ } as never
  return scope.run(() => useLearning({ worker, send: send as never }))!
}
const at = (l: { state: { value: Learning } }) => l.state.value.at
beforeEach(() => {
  scope = effectScope()
  posted = []
  stopped = 0
})
afterEach(() => {
  scope.stop()
  vi.unstubAllGlobals()
})

describe('a file', () => {
  it(`over ${MAX_LOG_MB} MB is refused with the bound before it is read`, async () => {
    const l = await learning({ preview: () => Promise.reject(new Error('was read')) })
    const sized = (value: number) => Object.defineProperty(csv(), 'size', { value })
    await l.take(sized(160 * 1048576 + 1))
    expect(l.problem.value).toContain('"drive.csv" is 160 MB; the largest a log may be is 160 MB')
    expect(at(l)).toBe('waiting')
    await l.take(sized(160 * 1048576))
    expect(l.problem.value).toBe('was read')
  })
  it('that cannot be read is said by its name, and another may be dropped', async () => {
    const l = await learning({ preview: async () => ({ refused: { code: 'LOG_UNREADABLE', message: 'no column of numbers' } }) })
    await l.take(csv())
    expect([l.problem.value, at(l)]).toEqual(['"drive.csv": no column of numbers', 'waiting'])
  })
  it('whose upload fails stays with its mapping; the second try carries the same id', async () => {
    const ids: string[] = []
    const send = vi.fn(async (_path, _schema, form: FormData) => {
      ids.push(String(form.get('id')))
      if (ids.length === 1) throw new Error('The server does not answer.')
      return { ...summary, rejected: [], channels: [], ...kept }
    })
    const l = await learning({}, { send })
    await l.take(csv())
    await l.confirm({} as never, null)
    expect([l.problem.value, at(l)]).toEqual(['The server does not answer.', 'mapping'])
    await l.confirm({} as never, null)
    expect(at(l)).toBe('solved')
    expect(ids[1]).toBe(ids[0])
    await l.take(csv())
    await l.confirm({} as never, null)
    expect(ids[2]).not.toBe(ids[0])
  })
  it('that is stored already is shown, not stored again', async () => {
    const send = vi.fn(() => Promise.reject(new ApiError(409, 'ALREADY_STORED', 'This file is already stored.', { logId })))
    const l = await learning({}, { send })
    l.chosen.value = null
    await l.take(csv())
    await l.confirm({} as never, null)
    expect([l.chosen.value, at(l), l.problem.value]).toEqual([logId, 'solved', 'This file is already stored.'])
  })
  it('cancelled while it is sent: nothing is said, and one can begin anew', async () => {
    const send = vi.fn(
      (_path, _schema, _form, _share, signal: AbortSignal) =>
        new Promise((_, reject) => signal.addEventListener('abort', () => reject(new DOMException('cancelled', 'AbortError')))),
    )
    const l = await learning({}, { send })
    await l.take(csv())
    const sent = l.confirm({} as never, null)
    l.cancel()
    await sent
    expect([l.problem.value, at(l), stopped]).toEqual([null, 'waiting', 1])
  })
})

describe('a solve', () => {
  it('goes on record once for its log and tune, with the counts of its cells', async () => {
    const l = await learning()
    await l.solve()
    await l.solve()
    await vi.waitFor(() => expect(useBuild().pendingCount).toBe(0))
    // the server works it out again from the same log
    expect(asked).toEqual([{ kind: 'learn.result', from: { logId } }])
  })
  it('of a log older than the tune in the car does not go on record', async () => {
    const l = await learning({}, { tunes: [{ ...tune, inCarSince: '2026-03-01T10:00:00.001Z' }] })
    await l.solve()
    expect([at(l), l.fits.value]).toEqual(['solved', false])
    expect(useBuild().current!.readings).toEqual([])
  })
  it('that ends after it was cancelled changes nothing', async () => {
    let end: ((r: LearnResult) => void) | null = null
    const l = await learning({ solve: () => new Promise((resolve) => (end = resolve)) })
    const solving = l.solve()
    await vi.waitFor(() => expect(end).not.toBeNull())
    expect(at(l)).toBe('solving')
    l.cancel()
    end!(result)
    await solving
    expect(at(l)).toBe('waiting')
  })
  it('refused says why', async () => {
    const l = await learning({ solve: async () => ({ refused: { code: 'X', message: 'no lambda column' } }) })
    await l.solve()
    expect([l.problem.value, at(l)]).toEqual(['no lambda column', 'waiting'])
  })
  it('without any log does nothing', async () => {
    const l = await learning({}, { logs: [] })
    await l.solve()
    expect(at(l)).toBe('waiting')
  })
})

describe('what was learned', () => {
  it('is proposed, may be put aside, and is stored over the version it was driven on', async () => {
    const l = await learning()
    await l.solve()
    await l.propose()
    expect(l.state.value).toMatchObject({ proposed: { changes: [{}, {}] } })
    l.dismiss()
    expect([l.state.value, await l.accept()]).toMatchObject([{ proposed: null }, null])
    await l.propose()
    expect(await l.accept()).toBe(4)
    expect(posted.map((p) => p.body)).toMatchObject([{ origin: 'learned', parentId: tuneId, logId, document: { tables: document.tables } }])
    expect(l.state.value).toMatchObject({ at: 'solved', proposed: null, accepting: false })
  })
  it('of an unsound log is not proposed at all', async () => {
    const l = await learning({ solve: async () => ({ ...result, sound: false }) })
    await l.solve()
    await l.propose()
    expect([at(l), l.state.value.at === 'solved' && l.state.value.proposed]).toEqual(['solved', null])
  })
  it('that fails to be worked out leaves the answer on the screen', async () => {
    const l = await learning({ correct: async () => ({ refused: { code: 'X', message: 'axes unlike' } }) })
    await l.solve()
    await l.propose()
    expect([l.problem.value, at(l)]).toEqual(['axes unlike', 'solved'])
  })
  it('is not proposed while no tune is in the car', async () => {
    const l = await learning({}, { tunes: [] })
    await l.solve()
    await l.propose()
    expect(l.state.value).toMatchObject({ at: 'solved', solved: { tune: null }, proposed: null })
  })
})
