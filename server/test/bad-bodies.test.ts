import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { call, freshDatabase, newBuild, startApp } from './helpers.ts'

interface Schema {
  type?: string
  properties?: Record<string, Schema>
  required?: string[]
  items?: Schema
  anyOf?: Schema[]
  oneOf?: Schema[]
  const?: unknown
  enum?: unknown[]
  minimum?: number
  maximum?: number
  default?: unknown
  format?: string
}
interface Operation {
  requestBody?: { content: Record<string, { schema: Schema }> }
}
type Bad = { method: string; url: string; type: string; body: string; why: string }

let app: FastifyInstance
let close: () => Promise<void>
let ids: Record<string, string>
let signedIn: Record<string, string>
beforeAll(async () => {
  ;({ app, close } = await startApp({ databaseUrl: await freshDatabase(), checkAnswers: false }))
  const { id } = await newBuild(app, '2-rampart.json')
  const { json: tune } = await call(app, 'POST', `/api/builds/${id}/tunes`)
  // signed in as who may do most, so that nothing stops at the door
  const page = { origin: 'http://localhost', host: 'localhost' }
  const made = await call(app, 'POST', '/api/people/first', { name: 'Ada', secret: 'copper heron under glass' }, page)
  signedIn = { ...page, cookie: String(made.headers['set-cookie']).split(';')[0] }
  ids = { id, tuneId: tune.id as string, name: 've', kind: 'lambda' }
})
afterAll(() => close())

/** The same draws every time. Source: Numerical Recipes, a linear congruential generator. */
function drawing(seed: number): () => number {
  let state = seed
  return () => (state = (state * 1664525 + 1013904223) >>> 0) / 2 ** 32
}

/** Something a schema takes, as small as it can be. */
function taken(schema: Schema | undefined, depth = 0): unknown {
  if (!schema || depth > 6) return null
  if (schema.const !== undefined) return schema.const
  if (schema.enum) return schema.enum[0]
  const choice = schema.anyOf ?? schema.oneOf
  if (choice) return taken(choice[0], depth + 1)
  if (schema.type === 'object')
    return Object.fromEntries((schema.required ?? []).map((key) => [key, taken(schema.properties?.[key], depth + 1)]))
  if (schema.type === 'array') return []
  if (schema.type === 'number' || schema.type === 'integer') return schema.minimum ?? 1
  if (schema.type === 'boolean') return true
  return schema.format === 'uuid' ? randomUUID() : 'x'
}

const WRONG: readonly (readonly [string, unknown])[] = [
  ['null', null],
  ['a list', [[]]],
  ['an object', { constructor: { prototype: { x: 1 } } }],
  ['a huge number', 1e308],
  ['a negative one', -1e9],
  ['a fraction', 0.1 + 0.2],
  ['no text', ''],
  ['a long text', 'x'.repeat(70_000)],
  ['half a character', '\ud800'],
  ['a zero byte', 'a\u0000b'],
  ['a truth value', false],
  ['a formula', '=1\n+2'],
  ['a place outside', '../../etc/passwd'],
  ['SQL', "x'; DROP TABLE build; --"],
  ['a date that is none', '2026-02-31T99:99:99Z'],
]
const RAW: readonly (readonly [string, string])[] = [
  ['nothing', ''],
  ['no JSON', '{"a":'],
  ['a bare word', 'undefined'],
  ['a number alone', '7'],
  ['nested without end', '['.repeat(50_000)],
  ['the same key twice', '{"title":1,"title":2}'],
  ['a forbidden key', '{"__proto__":{"x":1}}'],
]

/** Bodies that no operation can take, made from what each says it takes: each place of it wrong in turn, and some that are no JSON at all. */
function badBodies(paths: Record<string, Record<string, Operation>>, count: number): Bad[] {
  const draw = drawing(1)
  const pick = <T>(list: readonly T[]): T => list[Math.floor(draw() * list.length)]
  const writes = Object.entries(paths).flatMap(([path, operations]) =>
    Object.entries(operations)
      // whoever signs out could send no more
      .filter(([method]) => method !== 'get' && path !== '/api/sign-out')
      .map(([method, operation]) => ({ method: method.toUpperCase(), path, operation })),
  )
  return Array.from({ length: count }, (_, i) => {
    // each operation in turn, so that none is left out
    const { method, path, operation } = writes[i % writes.length]
    const url = path.replaceAll(/\{(\w+)\}/g, (_all, key: string) =>
      draw() < 0.8 ? (ids[key] ?? randomUUID()) : pick(['0', '%00', 'x'.repeat(300)]),
    )
    const content = operation.requestBody?.content ?? {}
    const [type = 'application/json', { schema } = { schema: undefined }] = Object.entries(content)[0] ?? []
    if (draw() < 0.25 || !schema) {
      const [why, body] = pick(RAW)
      return { method, url, type, body, why }
    }
    const body = taken(schema)
    const keys = Object.keys(schema.properties ?? {})
    const [why, value] = pick(WRONG)
    const key = keys.length && draw() < 0.9 ? pick(keys) : 'not-a-field'
    const spoiled = typeof body === 'object' && body !== null && !Array.isArray(body) ? { ...body, [key]: value } : value
    return { method, url, type, body: JSON.stringify(spoiled), why: `${key}: ${why}` }
  })
}

it('of 300 bodies made from what each operation says it takes, spoiled, each is answered, none by a fault of the server', async () => {
  const { json } = await call(app, 'GET', '/api/openapi.json', undefined, signedIn)
  const bodies = badBodies(json.paths as Record<string, Record<string, Operation>>, 300)
  expect(new Set(bodies.map((b) => b.url.replaceAll(/[0-9a-f-]{36}/g, '*'))).size).toBeGreaterThan(20)
  const counts = { unanswered: 0, faults: [] as string[], refused: 0 }
  for (const { method, url, type, body, why } of bodies) {
    const answer = await Promise.race([
      app.inject({ method: method as 'POST', url, payload: body, headers: { 'content-type': type, ...signedIn } }),
      new Promise<null>((resolve) => setTimeout(() => resolve(null), 20_000).unref()),
    ])
    if (!answer) counts.unanswered++
    else if (answer.statusCode >= 500) counts.faults.push(`${method} ${url} ${why}: ${answer.body.slice(0, 300)}`)
    else if (answer.statusCode >= 400) {
      counts.refused++
      // in words, with a code
      expect(answer.json(), `${method} ${url} ${why}`).toMatchObject({
        code: expect.stringMatching(/^[A-Z_]+$/),
        detail: expect.stringMatching(/\S/),
      })
    }
  }
  expect(counts).toMatchObject({ unanswered: 0, faults: [] })
  // most are refused; a wrong value may be right for one field in some operation
  expect(counts.refused).toBeGreaterThan(200)
  expect((await call(app, 'GET', '/api/health')).json.database).toBe('up')
  expect((await call(app, 'GET', `/api/builds/${ids.id}`, undefined, signedIn)).status).toBe(200)
})
