import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { FastifyInstance } from 'fastify'
import type { Frame } from '@vectum/core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { HeavyPool } from '../src/heavy/pool.ts'
import { Problem } from '../src/http/problem.ts'
import type { ScopeTask } from '../src/heavy/tasks.ts'
import { appendReading } from '../src/job/readings.ts'
import type { BuildStore } from '../src/job/store.ts'
import { logOfFrames } from '../src/live/trace.ts'
import { call, newBuild, root, startApp } from './helpers.ts'

const worker = join(root, 'server/dist/heavy.cjs')
/** A record of a scope, as long as wanted: a few seconds of work for the longest. */
const scope = (rows: number): ScopeTask => ({
  kind: 'scope',
  text: `Time s,Volts\n${Array.from({ length: rows }, (_, i) => `${i * 1e-5},${i % 7}`).join('\n')}`,
})
const LONG = scope(2_000_000)
const SHORT = scope(2000)
async function refused(work: Promise<unknown>): Promise<Problem> {
  const error = await work.then(
    () => null,
    (e: unknown) => e,
  )
  expect(error).toBeInstanceOf(Problem)
  return error as Problem
}

describe('a large log', () => {
  const rows = 320_000
  const lines = Array.from(
    { length: rows },
    (_, i) => `${(i * 0.05).toFixed(2)},${2000 + (i % 900)},${(40 + (i % 30)).toFixed(1)},14.70,85.0`,
  )
  const head = 'Time s,RPM,MAP kPa,AFR,Coolant °C'
  const dir = mkdtempSync(join(tmpdir(), 'vectum-large-'))
  const read = async (text: string) => {
    const path = join(dir, 'large.csv')
    writeFileSync(path, text)
    const pool = new HeavyPool(worker)
    try {
      const looked = await pool.run({ kind: 'look', path, barometerKpa: 100 })
      return { looked, result: await pool.importLog({ path, mapping: looked.mapping, remembered: {}, barometerKpa: 100 }) }
    } finally {
      await pool.close()
    }
  }
  afterAll(() => rmSync(dir, { recursive: true, force: true }))

  it('is read in two stretches, cut between rows, and is whole', async () => {
    const { looked, result } = await read(`${head}\n${lines.join('\n')}\n`)
    expect(looked.stretches).toHaveLength(2)
    expect(looked.stretches[1].from).toBe(looked.stretches[0].to)
    if ('unsure' in result) throw new Error('nothing here is to be asked')
    expect([result.rows, result.rejected]).toEqual([rows, []])
    expect(result.durationS).toBeCloseTo((rows - 1) * 0.05, 6)
    const pool = new HeavyPool(worker)
    const { timeS, channels } = await pool.run({ kind: 'unpack', columns: result.columns })
    await pool.close()
    for (const i of [0, 1, 159_999, 160_000, 160_001, rows - 1]) {
      expect(timeS[i]).toBeCloseTo(i * 0.05, 6)
      expect([channels.rpm![i], channels.mapKpa![i]]).toEqual([2000 + (i % 900), 40 + (i % 30)])
    }
  })
  it('with a quotation mark left open in its second half is refused by the line of the whole file', async () => {
    const broken = [...lines]
    broken[200_000] = '10000.00,2000,"40.0,14.70,85.0'
    await expect(read(`${head}\n${broken.join('\n')}\n`)).rejects.toMatchObject({
      code: 'LOG_QUOTE',
      message: expect.stringContaining('200002'),
    })
  })
})

describe('heavy work', () => {
  it('with a full queue is refused with when to come back, and goes on with what it took', async () => {
    const pool = new HeavyPool(worker, { threads: 1, queue: 2 })
    await pool.run(SHORT)
    const taken = [pool.run(LONG), pool.run(SHORT), pool.run(SHORT)]
    expect(await refused(pool.run(SHORT))).toMatchObject({ status: 429, code: 'TOO_MANY_REQUESTS', extra: { retryAfterS: 5 } })
    for (const { stepS } of await Promise.all(taken)) expect(stepS).toBeCloseTo(1e-5, 9)
    await pool.run(SHORT)
    await pool.close()
  })

  it('past its time limit is stopped, said in words, and its thread works again', async () => {
    const pool = new HeavyPool(worker, { threads: 1, queue: 2, seconds: 0.5 })
    const late = await refused(pool.run(LONG))
    expect(late).toMatchObject({ status: 504, code: 'TOOK_TOO_LONG', message: expect.stringContaining('longer than 0.5 s') })
    await pool.close()
    const patient = new HeavyPool(worker, { threads: 1, queue: 2, seconds: 30 })
    await patient.run(SHORT)
    await patient.close()
  })

  it('is given up when whoever asked has gone, waiting or running, and what waits behind it is done', async () => {
    const pool = new HeavyPool(worker, { threads: 1, queue: 3 })
    await pool.run(SHORT)
    const gone = new AbortController()
    const running = refused(pool.run(LONG, gone.signal))
    const waiting = refused(pool.run(LONG, gone.signal))
    const behind = pool.run(SHORT)
    gone.abort()
    expect([(await running).code, (await waiting).code]).toEqual(['CANCELLED', 'CANCELLED'])
    await behind
    await pool.close()
  })
})

describe('through the server', () => {
  let app: FastifyInstance
  let close: () => Promise<void>
  let address: string
  let store: BuildStore
  beforeAll(async () => {
    ;({ app, close, store } = await startApp())
    address = await app.listen({ host: '127.0.0.1', port: 0 })
  })
  afterAll(() => close())

  it('a drive whose caller hangs up is not driven to its end, and stores nothing', async () => {
    const { id } = await newBuild(app, '2-rampart.json')
    const { json: tune } = await call(app, 'POST', `/api/builds/${id}/tunes`)
    await call(app, 'PATCH', `/api/builds/${id}/tunes/${tune.id}`, { status: 'in-car' })
    const ran = { secondsToFire: 1, idleRpm: 750, coolantC: 80, tuneId: tune.id }
    await appendReading(store, id, randomUUID(), { kind: 'start.ran', value: ran, instrument: 'bench unit' }, 'x', { source: 'app' })
    const hangUp = new AbortController()
    const asked = fetch(`${address}/api/builds/${id}/bench/drive`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ minutes: 40 }),
      signal: hangUp.signal,
    }).catch((error: Error) => error.name)
    setTimeout(() => hangUp.abort(), 300)
    expect(await asked).toBe('AbortError')
    const short = await call(app, 'POST', `/api/builds/${id}/bench/drive`, { minutes: 5 })
    expect(short.status, short.text).toBe(201)
    const { json: build } = await call(app, 'GET', `/api/builds/${id}`)
    expect((build.logs as { id: string }[]).map((l) => l.id)).toEqual([short.json.id])
  })
})

describe('a long trace', () => {
  it('turned into columns in slices says each frame at its place, time from the first, and no number where none was told', async () => {
    const frames = Array.from({ length: 4501 }, (_, i) => ({
      timeS: 100 + i / 32,
      rpm: i,
      mapKpa: i % 3 ? 50 : null,
    })) as unknown as Frame[]
    const { timeS, channels } = await logOfFrames(frames)
    expect([timeS.length, channels.rpm!.length]).toEqual([4501, 4501])
    for (const i of [0, 1, 1999, 2000, 2001, 3999, 4000, 4500]) {
      expect([timeS[i], channels.rpm![i]]).toEqual([i / 32, i])
      expect(channels.mapKpa![i]).toEqual(i % 3 ? 50 : NaN)
    }
  })
})
