import { randomUUID } from 'node:crypto'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { FastifyInstance } from 'fastify'
import { contextOf, harnessOf, plugsOf } from '@vectum/core'
import { buildApp } from '../src/app.ts'
import { findRoot, type Config } from '../src/config.ts'
import { createDataSource, openDatabase } from '../src/db/data-source.ts'
import type { BuildStore } from '../src/job/store.ts'
import type { LiveSessions } from '../src/live/routes.ts'

export const root = findRoot()
export const demoLog = (name: string): Buffer => readFileSync(join(root, 'demo/logs', name))
export const demoCar = (name: string) =>
  JSON.parse(readFileSync(join(root, 'demo/cars', name), 'utf8')) as { facts: Record<string, unknown>; choices: Record<string, unknown> }

export function testDatabaseUrl(): string {
  const url = process.env.VECTUM_TEST_DATABASE_URL
  if (!url) throw new Error('server tests need a database of their own: run them with npm test or npm run test:server')
  return url
}

/** An empty database of its own, beside the one that tests share. */
export async function freshDatabase(): Promise<string> {
  const url = new URL(testDatabaseUrl())
  const name = `vectum_${randomUUID().slice(0, 8)}`
  const db = await createDataSource(url.href).initialize()
  await db.query(`CREATE DATABASE ${name} CHARACTER SET utf8mb4`)
  await db.destroy()
  url.pathname = `/${name}`
  return url.href
}

/** A whole application on the temporary database, spoken to without a port. */
export async function startApp(
  options: Partial<Config> & { databaseUrl?: string } = {},
): Promise<{ app: FastifyInstance; store: BuildStore; sessions: LiveSessions; close: () => Promise<void>; dataDir: string }> {
  const dataDir = mkdtempSync(join(tmpdir(), 'vectum-app-'))
  const databaseUrl = options.databaseUrl ?? testDatabaseUrl()
  const db = await openDatabase(databaseUrl)
  const { app, store, sessions } = await buildApp(
    {
      host: '127.0.0.1',
      allowedHosts: ['localhost', '127.0.0.1', '[::1]'],
      port: 0,
      tls: null,
      trustedProxy: null,
      apiToken: null,
      linePort: null,
      webDir: null,
      demoDir: null,
      version: 'test',
      maxUploadBytes: 8 * 1024 * 1024,
      heavyWorker: join(root, 'server/dist/heavy.cjs'),
      benchThread: join(root, 'server/dist/bench-thread.cjs'),
      logLevel: 'silent',
      checkAnswers: true,
      ...options,
      dataDir,
      databaseUrl,
    },
    db,
  )
  await app.ready()
  return {
    app,
    store,
    sessions,
    dataDir,
    close: async () => {
      await app.close()
      rmSync(dataDir, { recursive: true, force: true })
    },
  }
}

export async function call(
  app: FastifyInstance,
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  url: string,
  body?: unknown,
  headers: Record<string, string> = {},
) {
  const response = await app.inject({
    method,
    url,
    headers: { ...(body !== undefined ? { 'content-type': 'application/json' } : {}), ...headers },
    payload: body === undefined ? undefined : JSON.stringify(body),
  })
  const json = String(response.headers['content-type'] ?? '').includes('json') ? (JSON.parse(response.body) as Record<string, never>) : null
  return { status: response.statusCode, json: json as never as Record<string, any>, text: response.body, headers: response.headers } // eslint-disable-line @typescript-eslint/no-explicit-any
}

export async function newBuild(app: FastifyInstance, car?: string): Promise<{ id: string; version: number }> {
  const { facts, choices } = car ? demoCar(car) : { facts: {}, choices: {} }
  const { json, status } = await call(app, 'POST', '/api/builds', { title: `Test ${randomUUID().slice(0, 8)}`, facts, choices })
  if (status !== 201) throw new Error(`build refused: ${JSON.stringify(json)}`)
  return json as never
}

interface Part {
  name: string
  filename?: string
  type?: string
  data: Buffer | string
}
/** A multipart upload as a browser would send it. */
export async function sendParts(app: FastifyInstance, url: string, parts: Part[]) {
  const boundary = `b${randomUUID()}`
  const body = parts.flatMap(({ name, filename, type, data }) => [
    Buffer.from(
      `--${boundary}\r\ncontent-disposition: form-data; name="${name}"${filename ? `; filename="${filename}"\r\ncontent-type: ${type ?? 'application/octet-stream'}` : ''}\r\n\r\n`,
    ),
    Buffer.from(data),
    Buffer.from('\r\n'),
  ])
  const response = await app.inject({
    method: 'POST',
    url,
    headers: { 'content-type': `multipart/form-data; boundary=${boundary}` },
    payload: Buffer.concat([...body, Buffer.from(`--${boundary}--\r\n`)]),
  })
  return { status: response.statusCode, json: JSON.parse(response.body) as Record<string, any> } // eslint-disable-line @typescript-eslint/no-explicit-any
}

export const sendLog = (
  app: FastifyInstance,
  buildId: string,
  file: Buffer | string,
  name = 'log.csv',
  fields: Record<string, string> = {},
) =>
  sendParts(app, `/api/builds/${buildId}/logs`, [
    ...Object.entries(fields).map(([key, data]) => ({ name: key, data })),
    { name: 'file', filename: name, type: 'text/csv', data: file },
  ])

/** What First start wants of wiring and fit-up, as entries of a person: each connector, a keyed supply, the grounds; linkage and vacuum hoses. */
export function wiringProofs(car: string): { kind: string; value: object }[] {
  const told = demoCar(car)
  const build = { id: 'b', title: 'b', ...told, readings: [], tunes: [], logs: [] }
  return [
    ...plugsOf(harnessOf(contextOf(build))).map(({ place }) => ({
      kind: 'wiring.connector',
      value: { place, seated: true, latched: true, tugged: true },
    })),
    {
      kind: 'wiring.keyed',
      value: { wire: 'white', batteryV: 12.6, offV: 0, onV: 12.5, lampV: 12.3, accessoryV: 0, crankingV: 10, batteryCrankingV: 10.3 },
    },
    { kind: 'wiring.ground-drop', value: { which: 'unit', state: 'loads-on', dropV: 0.03 } },
    { kind: 'wiring.ground-drop', value: { which: 'engine', state: 'cranking', dropV: 0.2 } },
    { kind: 'fitup.linkage', value: { fullDeg: 88, closes: true, springs: 2 } },
    { kind: 'fitup.ports', value: { asMap: true, capped: true, checkValve: true } },
  ]
}
