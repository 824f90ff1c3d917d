import { randomUUID } from 'node:crypto'
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'
import { Choices, computeBaseTune, contextOf, entryKinds, Facts, learnReading, learnSetup, Reading } from '@vectum/core'
import { BuildEntity, MetaEntity, TuneEntity } from '../db/entities.ts'
import type { HeavyPool } from '../heavy/pool.ts'
import { appendReading } from '../job/readings.ts'
import { unpackTune, type BuildStore } from '../job/store.ts'
import { LogStore } from '../logfile/store.ts'

const DemoCar = z.strictObject({
  id: z.uuid(),
  title: z.string(),
  facts: Facts,
  choices: Choices,
  readings: z.array(Reading.extend({ id: z.uuid(), daysAgo: z.number() })),
  tune: z.enum(['draft', 'ready', 'in-car']).optional(),
  log: z.string().optional(),
})
const WORKSHOP = 'Quayside Motor Works'
const DAY_MS = 86_400_000

/** Fills an empty database with the demo workshop's cars, by the same ways a person would. Killed half-way, the next start goes on. */
export async function loadDemo(store: BuildStore, pool: HeavyPool, demoDir: string): Promise<number> {
  const folder = join(demoDir, 'cars')
  if (!existsSync(folder)) return 0
  const meta = store.db.getRepository(MetaEntity)
  const state = await meta.findOneBy({ name: 'demo' })
  const empty = (await store.db.getRepository(BuildEntity).count()) === 0
  if (state?.value !== 'loading' && !empty) return 0
  await meta.upsert({ name: 'demo', value: 'loading' }, ['name'])
  const files = readdirSync(folder)
    .filter((file) => file.endsWith('.json'))
    .sort()
  for (const file of files) {
    const car = DemoCar.parse(JSON.parse(readFileSync(join(folder, file), 'utf8')))
    const exists = await store.db.getRepository(BuildEntity).existsBy({ id: car.id })
    const build = exists
      ? await store.get(car.id)
      : await store.create({ id: car.id, title: car.title, facts: car.facts, choices: car.choices }, WORKSHOP)
    let tuneId = build.tunes[0]?.id ?? ''
    if (car.tune && !tuneId) {
      tuneId = await store.addTune(build, { document: computeBaseTune(car.facts, car.choices), origin: 'computed' }, WORKSHOP)
      const first = Math.max(...car.readings.map((r) => r.daysAgo), 1)
      await store.db.transaction(async (manager) => {
        await manager
          .getRepository(TuneEntity)
          .update(
            { id: tuneId },
            { status: car.tune, inCarSince: car.tune === 'in-car' ? new Date(Date.now() - (first + 1) * DAY_MS) : null },
          )
        await store.note(manager, car.id, WORKSHOP, 'tune', car.tune === 'in-car' ? 'Tune 1 put in the car' : 'Tune 1 marked ready', {
          tuneId,
        })
      })
    }
    for (const [i, { id, daysAgo, ...reading }] of car.readings.entries()) {
      const value = JSON.parse(JSON.stringify(reading.value).replace('$TUNE', tuneId)) as Record<string, unknown>
      // seconds apart, so that readings of one day stay in their order
      await appendReading(
        store,
        car.id,
        id,
        { ...reading, value, takenAt: new Date(Date.now() - daysAgo * DAY_MS + i * 60_000).toISOString() },
        WORKSHOP,
        entryKinds[reading.kind].writtenBy === 'app' ? { source: 'app' } : {},
      )
    }
    if (car.log && build.logs.length === 0) {
      const result = await pool.importLog({
        path: join(demoDir, 'logs', car.log),
        mapping: null,
        remembered: {},
        barometerKpa: contextOf(build).resolved.barometerKpa,
      })
      if ('unsure' in result) throw new Error(`the demo log ${car.log} is not sure: ${result.unsure.map((u) => u.because).join('; ')}`)
      const logId = await LogStore.add(store, car.id, { ...result, name: car.log, source: 'import', remember: false }, WORKSHOP)
      const tune = await store.tuneInUse(await store.get(car.id), 'car')
      const solved = await pool.run({
        kind: 'learn',
        logs: [result],
        setup: learnSetup(car, tune ? unpackTune(tune.document) : null),
      })
      await appendReading(
        store,
        car.id,
        randomUUID(),
        { kind: 'learn.result', value: learnReading(solved, logId, tune?.id ?? null) },
        WORKSHOP,
        { source: 'app', from: { logId } },
      )
    }
  }
  await meta.upsert({ name: 'demo', value: 'done' }, ['name'])
  return files.length
}
