import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { FastifyInstance } from 'fastify'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { BuildAnswer } from '@vectum/core'
import { createDataSource } from '../src/db/data-source.ts'
import { call, startApp, testDatabaseUrl } from './helpers.ts'

type Cell = string | number | null | { base64: string }
/** Rows as the version before schema versions wrote them: every later one must open them. */
const dump = JSON.parse(readFileSync(join(import.meta.dirname, 'fixtures/database-v1.json'), 'utf8')) as Record<
  string,
  Record<string, Cell>[]
>

let app: FastifyInstance
let close: () => Promise<void>
beforeAll(async () => {
  ;({ app, close } = await startApp())
  const db = await createDataSource(testDatabaseUrl()).initialize()
  // back to the tables of that version, and forward again with its rows in them
  for (let back = 0; back < 5; back++) await db.undoLastMigration()
  for (const table of ['build', 'reading', 'tune', 'log'])
    for (const row of dump[table]) {
      // an order of its own in this database
      const cells = Object.entries(row).filter(([name]) => name !== 'seq')
      const values = cells.map(([, v]) => (typeof v === 'object' && v !== null ? Buffer.from(v.base64, 'base64') : v))
      await db.query(
        `INSERT INTO ${table} (${cells.map(([name]) => `\`${name}\``).join(', ')}) VALUES (${cells.map(() => '?').join(', ')})`,
        values,
      )
    }
  await db.runMigrations()
  await db.destroy()
})
afterAll(() => close())

describe('a database of version 1', () => {
  it('every build opens whole, and says so in today’s schema', async () => {
    for (const { id, title } of dump.build) {
      const { status, json } = await call(app, 'GET', `/api/builds/${id as string}`)
      expect(status).toBe(200)
      expect(json.title).toBe(title)
      expect(json.unreadable).toBeUndefined()
      expect(BuildAnswer.safeParse(json).success).toBe(true)
      expect(json.readings).toHaveLength(dump.reading.filter((r) => r.build_id === id).length)
    }
  })
  it('its entries are in order, tell the bench’s from a person’s, and ask to be looked at again where they were proofs', async () => {
    for (const { id } of dump.build) {
      const { json } = await call(app, 'GET', `/api/builds/${id as string}/readings`)
      const readings = json as { seq: number; source: string; kind: string; instrument: string | null; voidBecause?: string }[]
      expect(readings.map((r) => r.seq)).toEqual(readings.map((_, i) => i + 1))
      for (const r of readings) expect(r.source).toBe(r.instrument?.startsWith('bench') ? 'bench' : 'person')
      for (const r of readings.filter((one) => one.kind === 'fuel.arrows' || one.kind === 'spark.order'))
        expect(r.voidBecause).toContain('recorded before')
    }
  })
  it('every tune opens with its tables', async () => {
    for (const { id, build_id } of dump.tune) {
      const { status, json } = await call(app, 'GET', `/api/builds/${build_id as string}/tunes/${id as string}`)
      expect(status).toBe(200)
      expect(json.document.tables.ve.length).toBeGreaterThan(60)
    }
  })
  it('the board shows all cars, also with one that holds what nobody can read; a write keeps it in the logbook', async () => {
    const id = dump.build[0].id as string
    const db = await createDataSource(testDatabaseUrl()).initialize()
    await db.query(
      "UPDATE build SET facts = JSON_SET(facts, '$.engine.boreMm', 9000, '$.engine.colour', 'red'), revision = revision + 1 WHERE id = ?",
      [id],
    )
    await db.destroy()
    const board = (await call(app, 'GET', '/api/builds')).json as { id: string; stations: { id: string; state: string }[] }[]
    expect(dump.build.every((b) => board.some((entry) => entry.id === b.id))).toBe(true)
    expect(board.find((entry) => entry.id === id)!.stations[0].state).toBe('blocked')
    const { json } = await call(app, 'GET', `/api/builds/${id}`)
    expect(json.unreadable.map((u: { what: string }) => u.what).sort()).toEqual(['Bore', 'Engine, colour'])
    expect(json.facts.engine.cylinders).toBe(6)
    const patched = await call(app, 'PATCH', `/api/builds/${id}`, { facts: { engine: { boreMm: 86 } } }, { 'if-match': `${json.version}` })
    expect(patched.json.unreadable).toBeUndefined()
    const { entries } = (await call(app, 'GET', `/api/builds/${id}/logbook`)).json
    expect(JSON.stringify(entries)).toContain('9000')
  })
})
