import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { strFromU8, unzipSync } from 'fflate'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { appendReading } from '../src/job/readings.ts'
import type { BuildStore } from '../src/job/store.ts'
import { call, newBuild, sendParts, startApp } from './helpers.ts'

let app: FastifyInstance
let close: () => Promise<void>
let store: BuildStore
beforeAll(async () => {
  ;({ app, close, store } = await startApp())
})
afterAll(() => close())

interface Line {
  id: string
  value: number | string | null
  unit: string
  shown: string
  state: string
}
/** The demo car whose unit is set by questions, with its tune in the car. */
async function asked(): Promise<{ id: string; tuneId: string }> {
  const { id } = await newBuild(app, '1-lowland.json')
  const { json: tune } = await call(app, 'POST', `/api/builds/${id}/tunes`, {})
  await call(app, 'PATCH', `/api/builds/${id}/tunes/${tune.id as string}`, { status: 'in-car' })
  return { id, tuneId: tune.id as string }
}
const card = async (id: string) => (await call(app, 'GET', `/api/builds/${id}/unit/card`)).json as { left: string | null; answers: Line[] }
const read = (id: string, kind: string, value: object) => call(app, 'PUT', `/api/builds/${id}/readings/${randomUUID()}`, { kind, value })
const keep = (id: string, data: Buffer | string, fields: Record<string, string> = {}) =>
  sendParts(app, `/api/builds/${id}/unit/files`, [
    ...Object.entries(fields).map(([name, value]) => ({ name, data: value })),
    { name: 'file', filename: 'settings.bin', data },
  ])

describe('the answer card over HTTP', () => {
  it('is in the unit’s own units, and goes by what was read in it after a key-off', async () => {
    const { id, tuneId } = await asked()
    const { left, answers } = await card(id)
    expect(left).toContain('not compared')
    expect(answers.find((a) => a.id === 'fuel-pressure')).toMatchObject({ value: 43.5, unit: 'psi' })
    const values = Object.fromEntries(answers.map((a) => [a.id, { value: a.value, unit: a.unit }]))
    expect((await read(id, 'unit.read-back', { tuneId, offS: 3, values })).status).toBe(201)
    expect((await card(id)).left).toContain('not compared')
    expect(
      (await read(id, 'unit.read-back', { tuneId, offS: 15, values: { ...values, 'rev-limit': { value: 9000, unit: 'rpm' } } })).status,
    ).toBe(201)
    expect((await card(id)).left).toContain('rev limit is 9000 rpm')
    const { json: build } = await call(app, 'GET', `/api/builds/${id}`)
    const start = (build.stations as { id: string; state: string; findings: { id: string }[] }[]).find((s) => s.id === 'start')!
    expect(start.findings.map((f) => f.id)).toContain('unit.differs')
    expect((await read(id, 'unit.read-back', { tuneId, offS: 15, values: { 'rev-limit': values['rev-limit'] } })).status).toBe(201)
    expect((await card(id)).left).toBeNull()
    // a new tune asks only what has changed
    const { json: old } = await call(app, 'GET', `/api/builds/${id}/tunes/${tuneId}`)
    const document = { ...old.document, parameters: { ...old.document.parameters, fanOnC: 88 } }
    const { json: next } = await call(app, 'POST', `/api/builds/${id}/tunes`, { document, origin: 'edited', parentId: tuneId })
    await call(app, 'PATCH', `/api/builds/${id}/tunes/${next.id as string}`, { status: 'in-car' })
    expect((await card(id)).answers.filter((a) => a.state !== 'equal').map((a) => a.id)).toEqual(['fan-on'])
  })
  it('what stands for the time being stands on the board until it is released', async () => {
    const { id } = await asked()
    const onBoard = async () =>
      ((await call(app, 'GET', '/api/builds')).json as { id: string; temporary: string | null }[]).find((b) => b.id === id)!.temporary
    expect(await onBoard()).toBeNull()
    await read(id, 'unit.temporary', { what: 'fixed-timing', stands: true, value: 12 })
    expect(await onBoard()).toContain('Timing fixed at 12°')
    await read(id, 'unit.temporary', { what: 'fixed-timing', stands: false })
    expect(await onBoard()).toBeNull()
  })
  it('bad values are refused by name and bound', async () => {
    const { id, tuneId } = await asked()
    const bad = await read(id, 'unit.read-back', { tuneId, offS: -1, values: {} })
    expect([bad.status, bad.json.errors[0].path]).toEqual([400, 'value.offS'])
    expect((await read(id, 'unit.temporary', { what: 'low-limit', stands: true })).json.errors[0].message).toContain('must say the value')
    for (const kind of ['unit.export', 'unit.file']) expect((await read(id, kind, {})).json.code).toBe('APP_ONLY')
  })
})

describe('units as the shop knows them', () => {
  it('are kept under a name of its own, without what belongs to one car, replaced and forgotten', async () => {
    const name = `Dashboard box ${randomUUID().slice(0, 6)}`
    const url = `/api/unit-profiles/${encodeURIComponent(name)}`
    const put = await call(app, 'PUT', url, { unit: { setBy: 'questions', firmware: '2.14', learns: 'itself' }, offers: { phased: true } })
    expect(put.json).toMatchObject({ name, unit: { setBy: 'questions', learns: 'itself' }, offers: { phased: true } })
    expect(put.json.unit.firmware).toBeUndefined()
    await call(app, 'PUT', url, { unit: { setBy: 'both' } })
    const mine = ((await call(app, 'GET', '/api/unit-profiles')).json as unknown as { name: string; unit: object }[]).filter(
      (p) => p.name === name,
    )
    expect(mine).toHaveLength(1)
    expect(mine[0].unit).toEqual({ setBy: 'both' })
    expect((await call(app, 'PUT', url, { unit: { setBy: 'magic' } })).json.errors[0].path).toBe('unit.setBy')
    expect((await call(app, 'DELETE', url)).status).toBe(204)
    expect((await call(app, 'DELETE', url)).status).toBe(404)
  })
})

describe('files of the unit', () => {
  const BYTES = Buffer.from([0, 1, 2, 250, 251, 0, 9])
  it('stay byte for byte, with a hash, beside their tune; one that another car has is foreign', async () => {
    const { id, tuneId } = await asked()
    const bytes = Buffer.concat([BYTES, Buffer.from(randomUUID())])
    const first = await keep(id, bytes)
    expect(first.status).toBe(201)
    expect(first.json.value).toMatchObject({ tuneId, foreign: false, size: bytes.length, sha256: expect.stringMatching(/^[0-9a-f]{64}$/) })
    const file = await app.inject(`/api/files/${first.json.value.fileId as string}`)
    expect(Buffer.compare(file.rawPayload, bytes)).toBe(0)
    const other = await newBuild(app)
    expect((await keep(other.id, bytes)).json.value).toMatchObject({ foreign: true, tuneId: null })
    expect((await keep(id, Buffer.from('another'), { foreign: '1' })).json.value.foreign).toBe(true)
    expect((await keep(id, 'x', { tuneId: randomUUID() })).json.errors[0].path).toBe('tuneId')
    expect((await keep(id, '')).json.code).toBe('FILE_MISSING')
    expect((await keep(id, Buffer.alloc(4 * 1024 * 1024 + 1))).json.code).toBe('FILE_TOO_LARGE')
  })
  it('what it gave out is compared with the tune in the car, and recorded', async () => {
    const { id, tuneId } = await asked()
    const { text } = await call(app, 'GET', `/api/builds/${id}/tunes/${tuneId}/tables/ve.csv`)
    const compare = async (data: string, part = 've') => {
      const { json } = await keep(id, data)
      return call(app, 'POST', `/api/builds/${id}/unit/exports`, { fileId: json.value.fileId, part, offS: 12 })
    }
    expect((await compare(text)).json).toMatchObject({ different: 0, worst: 'none differs' })
    const cell = text.split('\n')[1].split(',')[1]
    const other = await compare(text.replace(`,${cell},`, `,${Number(cell) + 3},`))
    expect(other.json.different).toBe(1)
    expect((await compare('rpm', 've')).json.code).toBe('TABLE_INVALID')
    expect((await compare('{', 'document')).json.code).toBe('UNIT_FILE_UNREADABLE')
    const kinds = ((await call(app, 'GET', `/api/builds/${id}/readings`)).json as unknown as { kind: string; source: string }[]).filter(
      (r) => r.kind === 'unit.export',
    )
    expect(kinds.map((k) => k.source)).toEqual(['app', 'app'])
    expect((await call(app, 'POST', `/api/builds/${id}/unit/exports`, { fileId: randomUUID(), part: 've', offS: 12 })).status).toBe(404)
  })
})

describe('a learned table over HTTP', () => {
  const bring = (id: string, text: string, more: object = {}) =>
    call(app, 'POST', `/api/builds/${id}/unit/learned`, { text, form: 'percent', sign: 'adds', name: 'after the hill', ...more })
  it('is kept as per cent on its own cells; holes, other signs and what the unit cannot learn are named', async () => {
    const { id, tuneId } = await asked()
    const good = await bring(id, 'x,1000,3000\n40,2,-4\n80,0,10')
    expect(good.json).toMatchObject({ source: 'person', value: { tuneId, rpm: [1000, 3000], learnedPct: [2, -4, 0, 10] } })
    const hole = await bring(id, 'x,1000,3000\n40,2,\n80,0,10')
    expect([hole.status, hole.json.code, hole.json.detail]).toEqual([400, 'LEARNED_INVALID', expect.stringContaining('row 2, column 3')])
    expect((await bring(id, 'x,1000,3000\n40,2,24\n80,0,10')).json.detail).toContain('more than ±20 %')
    expect((await bring(id, 'x,1000,3000\n40,2,4\n80,0,10', { sign: undefined })).json.errors[0].path).toBe('sign')
    // the last log shows that it adds where this table takes
    const held = { tuneId, logId: randomUUID(), usedSeconds: 900, provenTimePct: 90, errorRmsPct: 1, unsafeCells: 0, settled: true }
    const tune = (await call(app, 'GET', `/api/builds/${id}/tunes/${tuneId}`)).json.document as {
      axes: { rpm: number[]; mapKpa: number[] }
    }
    const value = { ...held, held: tune.axes.mapKpa.flatMap((m) => tune.axes.rpm.map(() => (m < 60 ? 5 : 12))) }
    await appendReading(store, id, randomUUID(), { kind: 'learn.result', value }, 'x', { source: 'app', from: {} })
    expect((await bring(id, 'x,1000,3000\n40,-5,-6\n80,-12,-10')).json.detail).toContain('Say the other sign')
    expect((await bring(id, 'x,1000,3000\n40,5,6\n80,12,10')).status).toBe(201)
    expect((await bring((await newBuild(app)).id, 'x,1000,3000\n40,2,4\n80,0,10')).json.code).toBe('GATE_SHUT')
  })
})

describe('the packet for help', () => {
  it('holds set-up, answers, tests and tune, without the owner unless wanted, and is the same twice', async () => {
    const { id } = await asked()
    const { json: build } = await call(app, 'GET', `/api/builds/${id}`)
    await call(app, 'PATCH', `/api/builds/${id}`, { facts: { car: { owner: 'Somebody Quiet' } } }, { 'if-match': String(build.version) })
    await read(id, 'unit.advice', { from: 'the dyno', answer: 'more acceleration fuel when cold' })
    const packet = async (query: string) => {
      const response = await app.inject(`/api/builds/${id}/packet.zip?${query}`)
      expect(response.statusCode).toBe(200)
      return response.rawPayload
    }
    const query = new URLSearchParams({ symptom: 'surges at 2,000 rpm', question: 'is it the tip-in?' }).toString()
    const first = await packet(query)
    expect(Buffer.compare(first, await packet(query))).toBe(0)
    const members = Object.fromEntries(Object.entries(unzipSync(first)).map(([name, bytes]) => [name, strFromU8(bytes)]))
    expect(Object.keys(members)).toEqual(
      expect.arrayContaining(['sheet.md', 'setup.json', 'answers.csv', 'tested.csv', 'tune.json', 'tables/ve.csv']),
    )
    expect(members['sheet.md']).toContain('surges at 2,000 rpm')
    expect(members['sheet.md']).toContain('firmware 2.14')
    expect(members['tested.csv']).toContain('more acceleration fuel when cold')
    expect(members['answers.csv']).toContain('Rev limit')
    expect(Object.values(members).join('')).not.toContain('Somebody Quiet')
    const named = Object.values(unzipSync(await packet(`${query}&owner=1`))).map((bytes) => strFromU8(bytes))
    expect(named.join('')).toContain('Somebody Quiet')
    expect((await call(app, 'GET', `/api/builds/${id}/packet.zip?logId=${randomUUID()}`)).status).toBe(404)
  })
})
