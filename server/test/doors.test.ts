import { request } from 'node:http'
import Fastify, { type FastifyInstance } from 'fastify'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import WebSocket from 'ws'
import { readConfig } from '../src/config.ts'
import { installErrorHandler } from '../src/http/problem.ts'
import { Intake, Pace } from '../src/live/pace.ts'
import { call, newBuild, startApp } from './helpers.ts'

let app: FastifyInstance
let close: () => Promise<void>
let port: number
let id: string
beforeAll(async () => {
  ;({ app, close } = await startApp({ allowedHosts: ['localhost', '127.0.0.1', 'bench.workshop'] }))
  await app.listen({ host: '127.0.0.1', port: 0 })
  port = (app.server.address() as { port: number }).port
  id = (await newBuild(app, '1-lowland.json')).id as string
})
afterAll(() => close())

/** A request as it stands on the wire, with headers that fetch would set by itself. */
function raw(
  method: string,
  path: string,
  headers: Record<string, string>,
  body = '',
): Promise<{ status: number; code: string; text: string }> {
  return new Promise((resolve, reject) => {
    const sent = request(
      { host: '127.0.0.1', port, method, path, headers: { 'content-length': String(Buffer.byteLength(body)), ...headers } },
      (answer) => {
        const parts: Buffer[] = []
        answer.on('data', (part: Buffer) => parts.push(part))
        answer.on('end', () => {
          const text = Buffer.concat(parts).toString()
          const json = String(answer.headers['content-type']).includes('json') ? (JSON.parse(text) as { code?: string }) : {}
          resolve({ status: answer.statusCode ?? 0, code: json.code ?? '', text })
        })
      },
    )
    sent.on('error', reject)
    sent.end(body)
  })
}
const JSON_TYPE = { 'content-type': 'application/json' }
const builds = async () => ((await call(app, 'GET', '/api/builds')).json as unknown as unknown[]).length

describe('the name of the host', () => {
  it.each(['127.0.0.1:PORT', 'localhost:PORT', 'localhost', 'bench.workshop', 'BENCH.workshop:9999'])('%s is answered', async (host) => {
    expect(await raw('GET', '/api/health', { host: host.replace('PORT', String(port)) })).toMatchObject({ status: 200 })
  })
  it.each([
    'page.elsewhere',
    `localhost.elsewhere:8420`,
    '192.168.1.20',
    '0.0.0.0',
    'a b',
    'localhost@elsewhere.test',
    '127.0.0.1.elsewhere',
  ])('"%s" is not, neither for data nor for the page itself', async (host) => {
    for (const path of ['/api/builds', '/', '/api/openapi.json', '/nothing'])
      expect(await raw('GET', path, { host })).toMatchObject({ status: 421, code: 'HOST_NOT_ALLOWED' })
  })
})

describe('the page that writes', () => {
  const body = JSON.stringify({ title: 'Forged' })
  it.each(['http://page.elsewhere', 'https://127.0.0.1:PORT1', 'http://127.0.0.1:1', 'http://localhost:PORT', 'null', 'nonsense', ''])(
    'of origin "%s" is refused, and nothing is written',
    async (origin) => {
      const before = await builds()
      const headers = { host: `127.0.0.1:${port}`, origin: origin.replace('PORT', String(port)), ...JSON_TYPE }
      expect(await raw('POST', '/api/builds', headers, body)).toMatchObject({ status: 403, code: 'ORIGIN_NOT_ALLOWED' })
      expect(await raw('DELETE', `/api/builds/${id}`, headers)).toMatchObject({ status: 403, code: 'ORIGIN_NOT_ALLOWED' })
      expect(await builds()).toBe(before)
    },
  )
  it('of this server is taken, and a script that is no browser', async () => {
    const host = `127.0.0.1:${port}`
    for (const headers of [{ host, origin: `http://${host}` }, { host }] as Record<string, string>[])
      expect((await raw('POST', '/api/builds', { ...headers, ...JSON_TYPE }, body)).status).toBe(201)
  })

  const upgrade = (headers: Record<string, string>) =>
    new Promise<number>((resolve) => {
      const socket = new WebSocket(`ws://127.0.0.1:${port}/api/builds/${id}/live`, { headers })
      socket.on('unexpected-response', (_, answer) => {
        resolve(answer.statusCode ?? 0)
        socket.terminate()
      })
      socket.on('open', () => {
        resolve(101)
        socket.terminate()
      })
      socket.on('error', () => undefined)
    })
  it('opens no live stream from elsewhere or by another name', async () => {
    expect(await upgrade({ origin: 'http://page.elsewhere' })).toBe(403)
    expect(await upgrade({ origin: 'null' })).toBe(403)
    expect(await upgrade({ host: 'page.elsewhere', origin: 'http://page.elsewhere' })).toBe(421)
    expect(await upgrade({ origin: `http://127.0.0.1:${port}` })).toBe(101)
    expect(await upgrade({})).toBe(101)
  })
})

describe('the type of a body', () => {
  const host = { host: 'localhost' }
  it.each(['text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data; boundary=x', 'text/csv', 'application/jsonp'])(
    '%s is not JSON, whatever it holds',
    async (type) => {
      for (const path of ['/api/builds', `/api/builds/${id}/tunes`])
        expect(await raw('POST', path, { ...host, 'content-type': type }, '{"title":"Forged"}')).toMatchObject({
          status: 415,
          code: 'MEDIA_TYPE',
        })
    },
  )
  it('JSON is, with its character set, and a table is CSV', async () => {
    expect(
      (await raw('POST', '/api/builds', { ...host, 'content-type': 'Application/JSON; charset=utf-8' }, '{"title":"True"}')).status,
    ).toBe(201)
    expect(await raw('PUT', `/api/builds/${id}/parts.csv`, { ...host, ...JSON_TYPE }, '{}')).toMatchObject({ status: 415 })
  })
  it('an upload without its boundary is told so', async () => {
    const answer = await raw('POST', `/api/builds/${id}/logs`, { ...host, 'content-type': 'multipart/form-data' }, 'x')
    expect(answer).toMatchObject({ status: 415, code: 'MEDIA_TYPE' })
    expect(answer.text).toContain('boundary')
  })
})

describe('a body that no schema expects', () => {
  const patch = (path: string, body: string) => raw('PATCH', path, { host: 'localhost', ...JSON_TYPE }, body)
  it('an empty change of a tune is told what it lacks', async () => {
    const tune = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json as { id: string }
    const answer = await patch(`/api/builds/${id}/tunes/${tune.id}`, '{}')
    expect(answer).toMatchObject({ status: 400, code: 'INVALID_INPUT' })
    expect(answer.text).toContain('name or status')
  })
  it.each(['{"title":"\\ud800"}', '{"facts":{"engine":{"code":"ab\\udc00c"}}}', '{"facts":{"\\udfff":1}}'])(
    'half a character in %s',
    async (body) => {
      for (const [method, path] of [
        ['POST', '/api/builds'],
        ['PUT', `/api/builds/${id}/readings/11111111-1111-4111-8111-111111111111`],
      ]) {
        const answer = await raw(method, path, { host: 'localhost', ...JSON_TYPE }, body)
        expect(answer).toMatchObject({ status: 400, code: 'INVALID_INPUT' })
        expect(answer.text).toContain('half of a character')
      }
    },
  )
  it('a whole character outside the first plane is kept', async () => {
    const made = await raw('POST', '/api/builds', { host: 'localhost', ...JSON_TYPE }, '{"title":"\\ud83d\\ude97 car"}')
    expect(JSON.parse(made.text)).toMatchObject({ title: '\u{1f697} car' })
  })
  it('nesting without end', async () => {
    const deep = '['.repeat(64) + ']'.repeat(64)
    for (const body of [`{"title":"a","facts":${deep}}`, `{"facts":${'['.repeat(200_000)}${']'.repeat(200_000)}}`])
      expect(await raw('POST', '/api/builds', { host: 'localhost', ...JSON_TYPE }, body)).toMatchObject({
        status: 400,
        code: 'INVALID_INPUT',
      })
  })
  it('a calendar at the end of time', async () => {
    for (const file of ['schedule', 'schedule.ics'])
      expect(await raw('GET', `/api/builds/${id}/${file}?today=9999-12-31`, { host: 'localhost' })).toMatchObject({
        status: 400,
        code: 'OUT_OF_RANGE',
      })
  })
  it('two writes that meet: the one that gave way is told to come again', async () => {
    const meeting = Fastify()
    installErrorHandler(meeting)
    meeting.get('/:code', (request) => {
      throw Object.assign(new Error('given up'), { driverError: { code: (request.params as { code: string }).code } })
    })
    const answers = await Promise.all(
      ['ER_LOCK_DEADLOCK', 'ER_LOCK_WAIT_TIMEOUT', 'ER_PARSE_ERROR'].map((code) => meeting.inject({ method: 'GET', url: `/${code}` })),
    )
    expect(answers.map((a) => [a.statusCode, a.headers['retry-after']])).toEqual([
      [429, '1'],
      [429, '1'],
      [500, undefined],
    ])
  })
})

describe('names allowed by the person who runs it', () => {
  const env = { VECTUM_DATABASE_URL: 'mysql://localhost/none' }
  const names = (VECTUM_ALLOWED_HOSTS: string) => readConfig({ ...env, VECTUM_ALLOWED_HOSTS }).allowedHosts
  it('are added to loopback', () => {
    expect(readConfig(env).allowedHosts).toEqual(['localhost', '127.0.0.1', '[::1]'])
    expect(names(' Bench.workshop, 192.168.1.20,')).toEqual(['localhost', '127.0.0.1', '[::1]', 'bench.workshop', '192.168.1.20'])
  })
  it.each(['bench.workshop:8420', 'http://bench', 'a b', 'me@bench'])('"%s" is refused in words', (text) => {
    expect(() => names(text)).toThrow(/VECTUM_ALLOWED_HOSTS .*without ports/)
  })
})

const fail = (error: unknown) => expect.unreachable(String(error))
describe('a client that floods', () => {
  it('is let through in a burst and then held to its rate', () => {
    let nowMs = 1000
    const pace = new Pace(50, 10, () => nowMs)
    // ten at once, the eleventh 20 ms later: 1 s / 50
    expect(Array.from({ length: 12 }, () => pace.takeMs())).toEqual([...Array<number>(10).fill(0), 20, 40])
    nowMs += 40
    expect(pace.takeMs()).toBe(20)
    // rested for long, it has its burst again, and no more
    nowMs += 60_000
    expect(Array.from({ length: 11 }, () => pace.takeMs())).toEqual([...Array<number>(10).fill(0), 20])
  })

  it('has a row that fills, keeps its order, and its stop waits behind nothing', async () => {
    let room = 0
    const done: number[] = []
    const intake = new Intake(new Pace(2000, 1), true, fail, () => room++)
    for (let i = 0; i < 63; i++) intake.take(() => void done.push(i))
    expect(intake.full).toBe(false)
    intake.take(() => void done.push(63))
    expect(intake.full).toBe(true)
    await intake.jump(() => void done.push(-1))
    expect(done[0]).toBe(-1)
    await new Promise<void>((resolve) => intake.take(resolve))
    expect(done.slice(1)).toEqual(Array.from({ length: 64 }, (_, i) => i))
    expect([intake.full, room]).toEqual([false, 1])
  })

  it('that has left is no longer served', async () => {
    const done: number[] = []
    const intake = new Intake(new Pace(100, 1), true, fail)
    for (let i = 0; i < 20; i++) intake.take(() => void done.push(i))
    await new Promise((resolve) => setTimeout(resolve, 30))
    intake.end()
    const before = done.length
    await new Promise((resolve) => setTimeout(resolve, 60))
    expect([before > 0, done.length]).toEqual([true, before])
  })

  it('slows itself alone: another asks for health meanwhile', async () => {
    const tune = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json
    await call(app, 'PATCH', `/api/builds/${id}/tunes/${tune.id}`, { status: 'in-car' })
    const socket = new WebSocket(`ws://127.0.0.1:${port}/api/builds/${id}/live`)
    let done = 0
    let refused = 0
    socket.on('message', (data: Buffer) => {
      if (data.includes('TOO_MANY_REQUESTS')) refused++
      else if (data.includes('"type":"reply"')) done++
    })
    await new Promise((resolve) => socket.once('message', resolve))
    const began = performance.now()
    for (let i = 0; i < 5000; i++) socket.send(JSON.stringify({ id: String(i), command: 'throttle', pct: i % 2 }))
    for (let i = 0; i < 5; i++) expect((await raw('GET', '/api/health', { host: 'localhost' })).status).toBe(200)
    // a row of 64, at most 120 at once and 60 a second; of 5,000 the rest is told so
    await vi.waitFor(() => expect([done >= 64, done + refused]).toEqual([true, 5000]), 60_000)
    const seconds = (performance.now() - began) / 1000
    expect(done).toBeLessThanOrEqual(120 + 60 * seconds + 2)
    // and its stop is heard
    const stopped = new Promise((resolve) =>
      socket.on('message', (data: Buffer) => data.includes('"id":"halt"') && resolve(data.toString())),
    )
    socket.send(JSON.stringify({ id: 'halt', command: 'stop' }))
    expect(JSON.parse((await stopped) as string)).toMatchObject({ ok: true })
    socket.terminate()
  })
})
