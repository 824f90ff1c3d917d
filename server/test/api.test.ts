import { createHash, randomUUID } from 'node:crypto'
import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import type { FastifyInstance } from 'fastify'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { BuildAnswer, catalogue, coreErrors, type TuneDocument } from '@vectum/core'
import { createDataSource } from '../src/db/data-source.ts'
import { call, demoLog, newBuild, sendLog, startApp, testDatabaseUrl } from './helpers.ts'

let app: FastifyInstance
let close: () => Promise<void>
let dataDir: string
beforeAll(async () => ({ app, close, dataDir } = await startApp()))
afterAll(() => close())

describe('service and calculations', () => {
  it('is healthy and documents every calculation in OpenAPI', async () => {
    expect((await call(app, 'GET', '/api/health')).json).toEqual({ ok: true, database: 'up', version: 'test' })
    const { json } = await call(app, 'GET', '/api/openapi.json')
    for (const { id } of catalogue) expect(json.paths[`/api/calc/${id}`].post).toBeDefined()
    for (const path of [
      '/api/builds',
      '/api/builds/{id}',
      '/api/builds/{id}/readings/{readingId}',
      '/api/builds/{id}/tunes/{tuneId}/tables/{file}',
      '/api/builds/{id}/logs',
      '/api/logs/{logId}/learn',
      '/api/logs/{logId}/idle',
    ])
      expect(Object.keys(json.paths)).toContain(path)
    expect((await call(app, 'GET', '/api/docs/')).status).toBe(200)
  })
  it('computes, and says formula and source', async () => {
    const { json } = await call(app, 'POST', '/api/calc/fuel.pumpDemand', {
      powerKw: 150,
      bsfcGKwh: 300,
      fuelDensityKgL: 0.745,
      marginPct: 25,
    })
    expect(json.id).toBe('fuel.pumpDemand')
    expect(json.output.flowLph).toBeCloseTo(75.50336, 4)
    expect(json.working.formula.length).toBeGreaterThan(5)
    expect((await call(app, 'GET', '/api/calc')).json).toHaveLength(catalogue.length)
  })
  it('refuses null, text and unknown keys with each field, its bound and unit; null never becomes 0', async () => {
    const { status, json, headers } = await call(app, 'POST', '/api/calc/fuel.pumpDemand', {
      powerKw: null,
      bsfcGKwh: 5000,
      fuelDensityKgL: 'x',
      marginPct: 25,
      extra: 1,
    })
    expect(status).toBe(400)
    expect(headers['content-type']).toContain('application/problem+json')
    expect(json).toMatchObject({ status: 400, code: 'INVALID_INPUT' })
    const messages = Object.fromEntries(json.errors.map((e: { path: string; message: string }) => [e.path, e.message]))
    expect(Object.keys(messages).sort()).toEqual(['bsfcGKwh', 'extra', 'fuelDensityKgL', 'powerKw'])
    expect(messages.powerKw).toContain('kW')
    expect(messages.bsfcGKwh).toContain('900')
  })
  it.each([
    ['GET', '/api/nothing', 404],
    ['POST', '/api/calc/no.such', 404],
    ['GET', `/api/builds/${randomUUID()}`, 404],
    ['GET', '/api/builds/not-a-uuid', 400],
    ['GET', `/api/logs/${randomUUID()}/learn`, 404],
  ] as const)('%s %s answers %d as problem details', async (method, url, status) => {
    const answer = await call(app, method, url, method === 'POST' ? {} : undefined)
    expect(answer.status).toBe(status)
    expect(answer.json).toMatchObject({
      status,
      title: expect.any(String),
      detail: expect.any(String),
      code: expect.any(String),
      type: expect.any(String),
    })
  })
  it('does not leak database words', async () => {
    const { text } = await call(app, 'POST', '/api/builds', { title: 'x'.repeat(5000) })
    expect(text).not.toMatch(/sql|mysql|ER_/i)
  })
})

describe('builds', () => {
  it('opens with an id of the client’s choice once only', async () => {
    const id = randomUUID()
    expect((await call(app, 'POST', '/api/builds', { id, title: 'Once' })).status).toBe(201)
    expect((await call(app, 'POST', '/api/builds', { id, title: 'Once' })).json.code).toBe('ALREADY_EXISTS')
  })
  it('merges a patch, clears with null, raises the version, and answers with findings', async () => {
    const { id, version } = await newBuild(app)
    const a = await call(
      app,
      'PATCH',
      `/api/builds/${id}`,
      { facts: { engine: { cylinders: 6, boreMm: 86 }, electrics: { polarity: 'positive-earth' } } },
      { 'if-match': `"${version}"` },
    )
    expect(a.status).toBe(200)
    expect(a.headers.etag).toBe(`"${version + 1}"`)
    const survey = a.json.stations.find((s: { id: string }) => s.id === 'survey')
    expect(survey).toMatchObject({
      state: 'blocked',
      findings: expect.arrayContaining([
        expect.objectContaining({ id: 'survey.positive-earth', severity: 'stop', because: expect.any(String), remedy: expect.any(String) }),
      ]),
    })
    const b = await call(app, 'PATCH', `/api/builds/${id}`, { facts: { engine: { boreMm: null } } }, { 'if-match': String(version + 1) })
    expect(b.json.facts.engine).toEqual({ cylinders: 6 })
  })
  it('two browsers on one build: the second gets 412 with the current build, and nothing is lost', async () => {
    const { id, version } = await newBuild(app)
    await call(app, 'PATCH', `/api/builds/${id}`, { facts: { engine: { cylinders: 8 } } }, { 'if-match': `${version}` })
    const late = await call(app, 'PATCH', `/api/builds/${id}`, { facts: { engine: { cylinders: 4 } } }, { 'if-match': `${version}` })
    expect(late.status).toBe(412)
    expect(late.json.code).toBe('CHANGED_UNDERNEATH')
    expect(late.json.current).toMatchObject({ id, version: version + 1, facts: { engine: { cylinders: 8 } } })
    expect((await call(app, 'GET', `/api/builds/${id}`)).json.facts.engine.cylinders).toBe(8)
  })
  it('of ten patches at once on one version exactly one wins', async () => {
    const { id, version } = await newBuild(app)
    const answers = await Promise.all(
      Array.from({ length: 10 }, (_, k) => call(app, 'PATCH', `/api/builds/${id}`, { title: `Try ${k}` }, { 'if-match': `${version}` })),
    )
    expect(answers.map((a) => a.status).sort()).toEqual([200, ...Array(9).fill(412)])
  })
  it('wants a version, refuses bad facts by name, and keeps what was saved', async () => {
    const { id, version } = await newBuild(app, '1-lowland.json')
    expect((await call(app, 'PATCH', `/api/builds/${id}`, { title: 'x' })).status).toBe(428)
    const bad = await call(
      app,
      'PATCH',
      `/api/builds/${id}`,
      { facts: { engine: { boreMm: 'wide', firingOrder: [1, 2, 2], redlineRpm: 10 } } },
      { 'if-match': `${version}` },
    )
    expect(bad.status).toBe(400)
    expect(bad.json.errors.map((e: { path: string }) => e.path)).toEqual(
      expect.arrayContaining(['facts.engine.boreMm', 'facts.engine.firingOrder', 'facts.engine.redlineRpm']),
    )
    expect((await call(app, 'GET', `/api/builds/${id}`)).json.facts.engine.boreMm).toBe(86)
  })
  it('stands on the board with states and next action', async () => {
    const { id } = await newBuild(app, '4-drover.json')
    const entry = (await call(app, 'GET', '/api/builds')).json.find((b: { id: string }) => b.id === id)
    expect(entry.stations[0]).toMatchObject({ id: 'survey', state: 'blocked' })
    expect(entry.next.action).toContain('negative earth')
  })
  it('writes every change into the logbook with who and when', async () => {
    const { id, version } = await newBuild(app)
    await call(
      app,
      'PATCH',
      `/api/builds/${id}`,
      { facts: { engine: { cylinders: 6 } } },
      { 'if-match': `${version}`, 'x-vectum-person': encodeURIComponent('Inès') },
    )
    const { json } = await call(app, 'GET', `/api/builds/${id}/logbook`)
    expect(json.entries[0]).toMatchObject({ who: 'Inès', kind: 'facts', summary: 'Cylinders: not known → 6' })
    expect((await call(app, 'GET', `/api/builds/${id}/logbook?q=${encodeURIComponent('%')}`)).json.entries).toEqual([])
    expect((await call(app, 'GET', `/api/builds/${id}/logbook?limit=1`)).json.more).toBe(true)
  })
})

describe('readings', () => {
  const body = { kind: 'fuel.pressure', value: { pressureKpa: 300, engineRunning: false }, who: 'Ada' }
  it('are recorded once however often they are sent, also at the same time', async () => {
    const { id } = await newBuild(app)
    const readingId = randomUUID()
    const answers = await Promise.all(Array.from({ length: 6 }, () => call(app, 'PUT', `/api/builds/${id}/readings/${readingId}`, body)))
    expect(answers.every((a) => a.status === 200 || a.status === 201)).toBe(true)
    expect((await call(app, 'GET', `/api/builds/${id}/readings`)).json).toHaveLength(1)
    expect((await call(app, 'GET', `/api/builds/${id}/logbook?kind=reading`)).json.entries).toHaveLength(1)
  })
  it('are never changed: other content under the same id is refused, a new one supersedes', async () => {
    const { id } = await newBuild(app)
    const first = randomUUID()
    await call(app, 'PUT', `/api/builds/${id}/readings/${first}`, body)
    expect(
      (await call(app, 'PUT', `/api/builds/${id}/readings/${first}`, { ...body, value: { pressureKpa: 250, engineRunning: false } })).json
        .code,
    ).toBe('READING_EXISTS')
    expect(
      (
        await call(app, 'PUT', `/api/builds/${id}/readings/${randomUUID()}`, {
          ...body,
          value: { pressureKpa: 302, engineRunning: false },
          supersedes: first,
        })
      ).status,
    ).toBe(201)
    expect((await call(app, 'PUT', `/api/builds/${id}/readings/${randomUUID()}`, { ...body, supersedes: randomUUID() })).status).toBe(400)
  })
  it('are refused with the field and its unit when the value does not fit the kind', async () => {
    const { id } = await newBuild(app)
    const { status, json } = await call(app, 'PUT', `/api/builds/${id}/readings/${randomUUID()}`, {
      kind: 'fuel.pressure',
      value: { pressureKpa: 9999, engineRunning: 'no' },
    })
    expect(status).toBe(400)
    expect(json.errors).toEqual(expect.arrayContaining([{ path: 'value.pressureKpa', message: 'must be at most 1500 kPa' }]))
  })
  it('and the logbook cannot be changed or deleted in the database either', async () => {
    await newBuild(app)
    const db = await createDataSource(testDatabaseUrl()).initialize()
    try {
      await expect(db.query("UPDATE logbook SET who = 'x' LIMIT 1")).rejects.toThrow('append-only')
      await expect(db.query('DELETE FROM logbook LIMIT 1')).rejects.toThrow('append-only')
    } finally {
      await db.destroy()
    }
  })
})

describe('tunes', () => {
  it('each version says what it changed of the one it was made of, or of the one before it', async () => {
    const { id } = await newBuild(app, '2-rampart.json')
    const first = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json as unknown as { id: string; document: TuneDocument }
    const { document } = first
    const more = { ...document, parameters: { ...document.parameters, fanOnC: document.parameters.fanOnC + 1 } }
    const ve = document.tables.ve.map((v, k) => (k === 3 ? v + 1 : v))
    await call(app, 'POST', `/api/builds/${id}/tunes`, { document: more, origin: 'edited', parentId: first.id })
    await call(app, 'POST', `/api/builds/${id}/tunes`, { document: { ...more, tables: { ...more.tables, ve } } })
    await call(app, 'POST', `/api/builds/${id}/tunes`, {
      document: { ...document, tables: { ...document.tables, ve } },
      parentId: first.id,
    })
    const { tunes } = (await call(app, 'GET', `/api/builds/${id}`)).json as unknown as { tunes: { changed?: string[] }[] }
    expect(tunes.map((t) => t.changed)).toEqual([undefined, ['parameters.fanOnC'], ['tables.ve'], ['tables.ve']])
  })
  it('are computed from the facts, or refused naming what is missing', async () => {
    const empty = await newBuild(app)
    expect((await call(app, 'POST', `/api/builds/${empty.id}/tunes`)).json).toMatchObject({
      status: 409,
      code: 'FACT_MISSING',
      detail: expect.stringContaining('number of cylinders'),
    })
    const { id } = await newBuild(app, '1-lowland.json')
    const made = await call(app, 'POST', `/api/builds/${id}/tunes`)
    expect(made.status).toBe(201)
    expect(made.json.document.tables.ve).toHaveLength(made.json.document.axes.rpm.length * made.json.document.axes.mapKpa.length)
    const given = await call(app, 'POST', `/api/builds/${id}/tunes`, {
      document: made.json.document,
      origin: 'edited',
      parentId: made.json.id,
    })
    expect(given.json).toMatchObject({ number: 2, origin: 'edited' })
    const broken = { ...made.json.document, tables: { ...made.json.document.tables, ve: [1, 2, 3] } }
    expect((await call(app, 'POST', `/api/builds/${id}/tunes`, { document: broken })).json.errors[0].message).toContain('3 cells')
  })
  it('go out as CSV and come back exactly; what does not fit is refused by row and column', async () => {
    const { id } = await newBuild(app, '2-rampart.json')
    const tune = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json
    for (const name of ['ve', 'lambdaTarget', 'spark']) {
      const url = `/api/builds/${id}/tunes/${tune.id}/tables/${name}.csv`
      const csv = (await call(app, 'GET', url)).text
      const put = (text: string) => app.inject({ method: 'PUT', url, headers: { 'content-type': 'text/csv' }, payload: text })
      const rows = csv
        .trim()
        .split('\n')
        .map((r) => r.split(','))
      rows[3][4] = name === 'lambdaTarget' ? '0.8765' : '12.3456789'
      const changed = rows.map((r) => r.join(',')).join('\n') + '\n'
      const made = await put(changed)
      expect(made.statusCode).toBe(201)
      expect(JSON.parse(made.body)).toMatchObject({ parentId: tune.id, origin: 'edited' })
      expect((await call(app, 'GET', url)).text).toBe(csv)
      expect((await call(app, 'GET', url.replace(tune.id, JSON.parse(made.body).id))).text).toBe(changed)
      rows[2][5] = 'many'
      const bad = JSON.parse((await put(rows.map((r) => r.join(',')).join('\n'))).body)
      expect(bad).toMatchObject({ status: 400, code: 'TABLE_INVALID', detail: expect.stringContaining('row 3, column 6') })
    }
    expect((await call(app, 'GET', `/api/builds/${id}/tunes/${tune.id}/tables/other.csv`)).status).toBe(404)
  })
  it('are in the car one at a time; the same table again changes nothing', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const [a, b] = [(await call(app, 'POST', `/api/builds/${id}/tunes`)).json, (await call(app, 'POST', `/api/builds/${id}/tunes`)).json]
    for (const t of [a, b]) await call(app, 'PATCH', `/api/builds/${id}/tunes/${t.id}`, { status: 'in-car' })
    const list = (await call(app, 'GET', `/api/builds/${id}/tunes`)).json as unknown as { status: string }[]
    expect(list.map((t) => t.status)).toEqual(['ready', 'in-car'])
    const url = `/api/builds/${id}/tunes/${b.id}/tables/ve.csv`
    const csv = (await call(app, 'GET', url)).text
    const same = await app.inject({ method: 'PUT', url, headers: { 'content-type': 'text/csv' }, payload: csv })
    expect(same.statusCode).toBe(200)
  })
  it('two tables at once are two versions, and neither changes the one in the car', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const tune = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json
    const put = async (name: string) => {
      const url = `/api/builds/${id}/tunes/${tune.id}/tables/${name}.csv`
      const csv = (await call(app, 'GET', url)).text
      return () => app.inject({ method: 'PUT', url, headers: { 'content-type': 'text/csv' }, payload: csv.replace(/,[\d.]+\n$/, ',21\n') })
    }
    const [ve, spark] = [await put('ve'), await put('spark')]
    const [a, b] = await Promise.all([ve(), spark(), call(app, 'PATCH', `/api/builds/${id}/tunes/${tune.id}`, { status: 'in-car' })])
    expect([a.statusCode, b.statusCode]).toEqual([201, 201])
    const list = (await call(app, 'GET', `/api/builds/${id}/tunes`)).json as unknown as {
      number: number
      status: string
      parentId: string | null
    }[]
    expect(list.map((t) => [t.number, t.status, t.parentId])).toEqual([
      [1, 'in-car', null],
      [2, 'draft', tune.id],
      [3, 'draft', tune.id],
    ])
  })
  it('are checked against the car as it is now: 13:1 on 87 octane makes an old tune a stop', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const tune = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json
    expect(tune.problems.filter((p: { severity: string }) => p.severity === 'stop')).toEqual([])
    const { json } = await call(app, 'GET', `/api/builds/${id}`)
    await call(
      app,
      'PATCH',
      `/api/builds/${id}`,
      { facts: { engine: { compressionRatio: 13 }, fuel: { octaneRon: 87 } } },
      { 'if-match': `"${json.version}"` },
    )
    const after = (await call(app, 'GET', `/api/builds/${id}`)).json.tunes[0].problems as { severity: string }[]
    expect(after.some((p) => p.severity === 'stop')).toBe(true)
    expect((await call(app, 'PATCH', `/api/builds/${id}/tunes/${tune.id}`, { status: 'in-car' })).json.code).toBe('GATE_SHUT')
  })
  it('a log does not correct twice what it has corrected', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const base = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json
    const logId = randomUUID()
    const learned = (parentId: string) =>
      call(app, 'POST', `/api/builds/${id}/tunes`, { document: base.document, origin: 'learned', parentId, logId })
    const first = (await learned(base.id)).json
    expect((await learned(base.id)).status).toBe(201) // the same base again: another version of the same correction
    expect((await learned(first.id)).json).toMatchObject({ status: 409, code: 'LOG_APPLIED', detail: expect.stringContaining('Version 2') })
  })
  it('with a stop do not go into the car', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const tune = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json
    const lean = { ...tune.document, tables: { ...tune.document.tables, lambdaTarget: tune.document.tables.lambdaTarget.map(() => 1.05) } }
    const made = (await call(app, 'POST', `/api/builds/${id}/tunes`, { document: lean })).json
    expect((await call(app, 'PATCH', `/api/builds/${id}/tunes/${made.id}`, { status: 'in-car' })).json).toMatchObject({
      code: 'GATE_SHUT',
      detail: expect.stringContaining('too lean'),
    })
  })
})

describe('logs', () => {
  it('imports both dialects and answers the solve on given axes as the contract says', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const sent = await sendLog(app, id, demoLog('six-cylinder-first-drive.csv'), 'six.csv')
    expect(sent.status).toBe(201)
    expect(sent.json).toMatchObject({ rows: 28800, rejected: [{ channel: 'lambda', reason: 'empty', count: 7 }] })
    const learn = (await call(app, 'GET', `/api/logs/${sent.json.id}/learn?rpm=600,1200,2000,2800,3600&mapKpa=32,48,64,80,96`)).json
    expect(learn.cells).toHaveLength(25)
    expect(learn.cells[7]).toMatchObject({ i: 2, j: 1, rpm: 2000, mapKpa: 48, state: expect.any(String), seconds: expect.any(Number) })
    expect(learn.totals.used + Object.values(learn.totals.excluded as Record<string, number>).reduce((a, b) => a + b, 0)).toBe(28800)
    const own = (await call(app, 'GET', `/api/logs/${sent.json.id}/learn`)).json
    expect(own.rpm.length).toBeGreaterThan(8)
    const idle = (await call(app, 'GET', `/api/logs/${sent.json.id}/idle`)).json
    expect(idle).toMatchObject({ verdict: expect.any(String), meanRpm: expect.any(Number), next: expect.any(String) })
    expect(idle).toMatchObject({ sureness: expect.any(Number), causes: expect.any(Array), targetRpm: expect.any(Number) })
    // asked against another target, the same idle is far off it
    const against = async (targetRpm: number) => (await call(app, 'GET', `/api/logs/${sent.json.id}/idle?targetRpm=${targetRpm}`)).json
    expect(await against(Math.round(idle.meanRpm) + 300)).toMatchObject({
      verdict: expect.stringMatching(/low/),
      targetRpm: Math.round(idle.meanRpm) + 300,
    })
    const refused = await call(app, 'GET', `/api/logs/${sent.json.id}/idle?targetRpm=20`)
    expect(refused.status).toBe(400)
    expect(refused.text).toMatch(/targetRpm.*300/)
    const german = await sendLog(app, id, demoLog('eight-cylinder-semicolon.csv'), 'acht.csv')
    expect(german.json.channels).toEqual(
      expect.arrayContaining(['timeS', 'rpm', 'mapKpa', 'lambda', 'lambdaTarget', 'correctionPct', 'fuelCut']),
    )
  })
  it('remembers a mapping a person confirmed, by the shape of the header', async () => {
    const { id } = await newBuild(app)
    const rows = Array.from({ length: 40 }, (_, i) => `${i * 0.1},${50 + (i % 5)},${2000 + i},0.99`).join('\n')
    const text = `T1,P-in,N-mot,Q\n${rows}\n`
    const mapping = {
      channels: {
        timeS: { column: 0, unit: 's' },
        mapKpa: { column: 1, unit: 'kPa' },
        rpm: { column: 2, unit: 'rpm' },
        lambda: { column: 3, unit: 'lambda' },
      },
    }
    expect((await sendLog(app, id, text, 'odd.csv', { mapping: JSON.stringify(mapping) })).status).toBe(201)
    const twin = await sendLog(app, id, text, 'odd.csv', { mapping: JSON.stringify(mapping) })
    expect(twin.json).toMatchObject({ status: 409, code: 'ALREADY_STORED', logId: expect.stringMatching(/^[0-9a-f-]{36}$/) })
    const again = await sendLog(app, id, `${text}4.0,51,2040,0.99\n`, 'odd.csv')
    // SHA-256 of the file as it came
    expect(again.json.fileHash).toBe(createHash('sha256').update(`${text}4.0,51,2040,0.99\n`).digest('hex'))
    expect(again.json.mapping.channels).toEqual(mapping.channels)
    expect(
      (await sendLog(app, id, text, 'odd.csv', { mapping: JSON.stringify({ channels: { timeS: { column: 77, unit: 's' } } }) })).json.code,
    ).toBe('OUT_OF_RANGE')
  })
  it('asks what is not sure, with a proposal; sent again with the mapping, and ever after, it reads', async () => {
    const { id } = await newBuild(app)
    const rows = Array.from({ length: 60 }, (_, i) => `${(i * 0.1).toFixed(1)},${1500 + 10 * i},${40 + i},0.99,1.5`).join('\n')
    const text = `Time,RPM,MAP (kPa),Lambda,Trim\n${rows}\n`
    const asked = await sendLog(app, id, text)
    expect(asked).toMatchObject({
      status: 422,
      json: { code: 'MAPPING_UNSURE', unsure: [{ channel: 'correctionPct', because: expect.stringContaining('Trim') }] },
    })
    expect(asked.json.detail).toContain('closed-loop correction')
    expect((await call(app, 'GET', `/api/builds/${id}`)).json.logs).toEqual([])
    const { proposal } = asked.json
    proposal.channels.correctionPct.unit = 'percent'
    expect((await sendLog(app, id, text, 'log.csv', { mapping: JSON.stringify(proposal) })).status).toBe(201)
    expect((await sendLog(app, id, `${text}6.0,2100,99,0.99,1.5\n`)).json.mapping.channels.correctionPct.unit).toBe('percent')
  })
  it('a log is diagnosed with its solve: lambda that stands still is unsound, and nothing is proven by it', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const lines = demoLog('six-cylinder-first-drive.csv').toString().split('\n')
    const column = lines[0].split(',').indexOf('AFR')
    const stuck = lines.map((l, i) =>
      i === 0 || !l
        ? l
        : l
            .split(',')
            .map((cell, c) => (c === column ? '14.70' : cell))
            .join(','),
    )
    const sent = await sendLog(app, id, stuck.join('\n'))
    expect(sent.status).toBe(201)
    const learn = (await call(app, 'GET', `/api/logs/${sent.json.id}/learn`)).json
    expect(learn).toMatchObject({
      sound: false,
      diagnosis: [{ cause: 'sensor-stuck', test: expect.stringContaining('free air') }, ...learn.diagnosis.slice(1)],
    })
    expect(learn.cells.filter((c: { state: string }) => c.state === 'proven' || c.state === 'needs-correction')).toEqual([])
    const sound = await sendLog(app, id, demoLog('six-cylinder-first-drive.csv'))
    expect((await call(app, 'GET', `/api/logs/${sound.json.id}/learn`)).json).toMatchObject({ sound: true })
  })
  it.each<[string, string | Buffer, number, string]>([
    ['an empty log', '', 400, 'LOG_EMPTY'],
    ['a binary log', Buffer.from(Array.from({ length: 3000 }, (_, i) => (i * 31) % 256)), 400, 'LOG_BINARY'],
    ['one row', 'Time,RPM\n0,900\n', 400, 'LOG_TOO_SHORT'],
    ['no time column', `RPM,MAP\n${'900,40\n'.repeat(30)}`, 400, 'LOG_NO_TIME'],
    ['backward time', `Time,RPM\n${Array.from({ length: 60 }, (_, i) => `${60 - i},900`).join('\n')}\n`, 400, 'LOG_BACKWARD'],
    ['all cells bad', `Time,RPM,MAP\n${Array.from({ length: 30 }, (_, i) => `${i / 10},--,err`).join('\n')}\n`, 400, 'LOG_ALL_BAD'],
    ['too many bytes', Buffer.alloc(9 * 1024 * 1024, '1,2,3\n'), 413, 'FILE_TOO_LARGE'],
  ])('refuses %s with its own code, stores nothing and leaves no file behind', async (_what, file, status, code) => {
    const { id } = await newBuild(app)
    const answer = await sendLog(app, id, file)
    expect(answer).toMatchObject({ status, json: { code, detail: expect.any(String) } })
    expect((await call(app, 'GET', `/api/builds/${id}`)).json.logs).toEqual([])
    expect(readdirSync(join(dataDir, 'uploads'))).toEqual([])
  })
  it('refuses axes that do not rise, by name', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const { json } = await sendLog(app, id, demoLog('six-cylinder-first-drive.csv'))
    expect((await call(app, 'GET', `/api/logs/${json.id}/learn?rpm=900,600`)).json).toMatchObject({ code: 'AXIS_INVALID' })
    expect((await call(app, 'GET', `/api/logs/${json.id}/learn?rpm=900,fast`)).status).toBe(400)
  })
})

it('every error code is explained in docs/errors.md, and none that does not exist', async () => {
  const { problemTitles } = await import('../src/http/problem.ts')
  const { readFileSync } = await import('node:fs')
  const { root } = await import('./helpers.ts')
  const page = readFileSync(join(root, 'docs/errors.md'), 'utf8')
  const explained = [...page.matchAll(/^\| `([A-Z_]+)`/gm)].map((m) => m[1]).sort()
  expect(explained).toEqual([...Object.keys(problemTitles), ...Object.keys(coreErrors)].sort())
})

describe('the interface describes itself', () => {
  /** Answers that are no JSON: tables, calendars, files, columns. */
  const NOT_JSON = /\.csv$|\.zip$|\/unit-profiles\/\{name\}|\.ics$|\/files\/\{fileId\}|\/channels\/|\/live$|\{file\}$/
  it('every operation says what it answers', async () => {
    const { paths } = (await call(app, 'GET', '/api/openapi.json')).json as {
      paths: Record<
        string,
        Record<
          string,
          { responses?: Record<string, { content?: Record<string, { schema?: { type?: string; properties?: object; items?: object } }> }> }
        >
      >
    }
    const silent = Object.entries(paths).flatMap(([path, operations]) =>
      Object.entries(operations)
        .filter(
          ([, { responses }]) =>
            !Object.entries(responses ?? {}).some(
              ([code, r]) => code.startsWith('2') && Object.values(r.content ?? {}).some((c) => c.schema?.type),
            ),
        )
        .map(([method]) => `${method} ${path}`)
        .filter(() => !NOT_JSON.test(path)),
    )
    expect(silent).toEqual([])
  })
  it('a whole build is of the schema that the screens read it by', async () => {
    const { id } = await newBuild(app)
    const { json } = await call(app, 'GET', `/api/builds/${id}`)
    expect(BuildAnswer.safeParse(json).success).toBe(true)
    expect(BuildAnswer.safeParse({ ...json, next: { station: 'survey' } }).success).toBe(false)
  })
})
