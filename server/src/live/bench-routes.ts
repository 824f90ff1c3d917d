import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import {
  BenchDriveAnswer,
  type BuildData,
  contextOf,
  DynoAnswer,
  DynoPlan,
  hasRun,
  JudgedReadingAnswer,
  mapAdvanceDeg,
  readingsOf,
  resolveFacts,
  seedOf,
  trialGates,
  TrialHold,
  wordsOf,
} from '@vectum/core'
import { gone, type HeavyPool } from '../heavy/pool.ts'
import { Problem } from '../http/problem.ts'
import { BuildParams, docs } from '../http/schema.ts'
import { whoOf } from '../people/identity.ts'
import { seenFrom, unpackTune, type BuildStore } from '../job/store.ts'
import { appendReading, judgedById } from '../job/readings.ts'
import { lastLog } from '../drive/routes.ts'
import { benchUnitOf } from './bench-unit.ts'
import { LogStore } from '../logfile/store.ts'

const coldFrom = z.number().min(-10).max(60)
const Drive = z.union([
  z.strictObject({ minutes: z.number().min(2).max(40).describe('how long it is driven over town, road and hills, min') }),
  z.strictObject({
    steps: z.int().min(5).max(40).describe('openings of the throttle from a steady speed, warm'),
    fromC: coldFrom.optional().describe('or on the way to warm, from a cold start at this coolant, degC'),
  }),
  z.strictObject({
    fromC: coldFrom.describe('coolant at a cold start; then a quiet road until it has long been warm, degC'),
  }),
  z.strictObject({ byPlan: z.literal(true).describe('by the plan of what is missing, as long as it takes') }),
])

/** The bench car without a screen, as fast as the machine goes: on the road, and on the dynamometer. */
export function benchRoutes(app: FastifyInstance, store: BuildStore, pool: HeavyPool): void {
  /** @throws Problem GATE_SHUT before a tune is in the car and the engine has run */
  async function onBench(buildId: string) {
    const build = seenFrom(await store.get(buildId), 'rehearsal')
    const tune = await store.tuneInUse(build, 'rehearsal')
    if (!tune) throw new Problem(409, 'GATE_SHUT', 'No tune is in the car. Mark a version as in the car at Base tune.')
    if (!hasRun(contextOf(build)))
      throw new Problem(409, 'GATE_SHUT', 'The engine has not run yet: it is loaded after First start, not before.')
    const { id, title, facts, choices, readings, logs } = build
    const data: BuildData = { id, title, facts, choices, readings, tunes: [], logs: [] }
    return { build: data, tune, unit: benchUnitOf(build, tune.id, unpackTune(tune.document)), logs, whole: build }
  }

  app.post<{ Params: { id: string }; Body: z.infer<typeof Drive> }>(
    '/api/builds/:id/bench/drive',
    {
      schema: docs({
        summary: 'Drive the bench car on the tune in the car, offline, and keep the log',
        tags: ['logs'],
        answer: BenchDriveAnswer,
        answerStatus: 201,
        params: BuildParams,
        body: Drive,
      }),
    },
    async (request, reply) => {
      const { body } = request
      const { build, tune, unit, logs, whole } = await onBench(request.params.id)
      const { id, facts } = build
      const seed = seedOf(`${id} ${logs.filter((l) => l.source === 'bench').length}`)
      const result = await pool.run(
        {
          kind: 'drive',
          build,
          tune: unit.tune,
          learned: unit.learned,
          by:
            'minutes' in body
              ? { minutes: body.minutes, seed }
              : 'steps' in body
                ? { steps: body.steps, fromC: body.fromC }
                : 'fromC' in body
                  ? { fromC: body.fromC }
                  : { last: await lastLog(store, whole, 'rehearsal', unit.tune), seed },
        },
        gone(reply),
      )
      const how =
        'minutes' in body
          ? `drive ${body.minutes} min`
          : 'steps' in body
            ? `${body.steps} throttle steps${body.fromC === undefined ? '' : ` from ${body.fromC} °C`}`
            : 'fromC' in body
              ? `start at ${body.fromC} °C`
              : 'drive by plan'
      const name = `Bench ${how}, tune ${tune.number}`
      const logId = await LogStore.add(
        store,
        id,
        {
          name,
          source: 'bench',
          rows: result.rows,
          durationS: result.durationS,
          rejected: [],
          mapping: { channels: {}, stoichAfr: 14.7, barometerKpa: resolveFacts({ facts }).barometerKpa },
          fingerprint: 'bench',
          columns: result.columns,
          remember: false,
          tuneId: tune.id,
        },
        whoOf(request),
      )
      // the unit keeps what it learned for the next drive, and its table can be looked at
      if (result.learned.learnedPct.some((v) => v !== 0))
        await appendReading(
          store,
          id,
          randomUUID(),
          { kind: 'unit.learned', value: { tuneId: tune.id, ...result.learned, form: 'percent', name }, instrument: 'bench: the unit' },
          whoOf(request),
          { source: 'bench' },
        )
      return reply
        .code(201)
        .send({ id: logId, name, rows: result.rows, durationS: result.durationS, distanceKm: result.distanceKm, stalls: result.stalls })
    },
  )

  app.post<{ Params: { id: string }; Body: z.infer<typeof DynoPlan> }>(
    '/api/builds/:id/bench/dyno',
    {
      schema: docs({
        summary: 'Run the bench car on an engine dynamometer: steady points or a sweep, with torque, power, lambda and knock',
        tags: ['live'],
        answer: DynoAnswer,
        params: BuildParams,
        body: DynoPlan,
      }),
    },
    async (request, reply) => {
      const { build, tune, unit } = await onBench(request.params.id)
      return {
        tune: { id: tune.id, number: tune.number },
        rows: await pool.run({ kind: 'dyno', build, tune: unit.tune, plan: request.body }, gone(reply)),
      }
    },
  )

  app.post<{ Params: { id: string }; Body: z.infer<typeof TrialHold> }>(
    '/api/builds/:id/bench/trial-hold',
    {
      schema: docs({
        summary: 'Hold the bench car on the dynamometer at one advance, and record the hold of the spark trial',
        description: 'Shut until the timing is proved with the light and the mixture of the tune in the car is known.',
        tags: ['live'],
        answer: JudgedReadingAnswer,
        answerStatus: 201,
        params: BuildParams,
        body: TrialHold,
      }),
    },
    async (request, reply) => {
      const { body: hold } = request
      const { build, tune, unit, whole } = await onBench(request.params.id)
      const shut = trialGates(contextOf(whole)).find((g) => !g.met)
      if (shut) throw new Problem(409, 'GATE_SHUT', `${shut.label}: ${wordsOf(shut.why)}.`)
      const number = readingsOf(whole.readings, 'learn.trial-point').length
      const { torqueNm, knock, coolantC, intakeAirC } = await pool.run(
        { kind: 'trial-hold', build, tune: unit.tune, hold, number },
        gone(reply),
      )
      const tenth = (v: number) => Math.round(v * 10) / 10
      const readingId = randomUUID()
      await appendReading(
        store,
        build.id,
        readingId,
        {
          kind: 'learn.trial-point',
          value: {
            ...{ ...hold, tuneId: tune.id, mapDeg: mapAdvanceDeg(unit.tune, hold.rpm, hold.mapKpa) },
            ...{ torqueNm: tenth(torqueNm), knock, coolantC: tenth(coolantC), intakeAirC: tenth(intakeAirC), on: 'dyno' },
          },
          instrument: 'bench: dynamometer',
        },
        whoOf(request),
        { source: 'bench' },
      )
      return reply.code(201).send(await judgedById(store, build.id, readingId))
    },
  )
}
