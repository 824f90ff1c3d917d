import { createHash, randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { zipSync, strToU8 } from 'fflate'
import { z } from 'zod'
import {
  compareAnswers,
  compareExport,
  contextOf,
  entryKinds,
  ExportCompared,
  helpPacket,
  JudgedReadingAnswer,
  CoreError,
  LearnedForm,
  LearnedLoad,
  learnedOverDrives,
  looksReversed,
  readLearned,
  tableNames,
  tuneInCar,
  UnitCard,
  UnitChoices,
  UnitProfile,
  UnitProfiles,
  UnitSpec,
  unitLeft,
  views,
} from '@vectum/core'
import { FileEntity, ReadingEntity, UnitProfileEntity } from '../db/entities.ts'
import type { HeavyPool } from '../heavy/pool.ts'
import { gone } from '../heavy/pool.ts'
import { InvalidInput, Problem } from '../http/problem.ts'
import { BuildParams, docs } from '../http/schema.ts'
import { appendReading, judgedReading } from '../job/readings.ts'
import { seenFrom, unpackTune, type Build, type BuildStore } from '../job/store.ts'
import { LogStore } from '../logfile/store.ts'
import { whoOf } from '../people/identity.ts'

const ProfileParams = z.object({ name: z.string().trim().min(1).max(60) })
const ProfileBody = z.strictObject({ unit: UnitChoices, offers: UnitSpec.optional() })
const View = z.strictObject({ view: z.enum(views).default('car') })
const AskExport = z.strictObject({
  fileId: z.uuid().describe('a file of the unit that is kept here'),
  part: z.enum(['document', ...tableNames]),
  offS: z.number().min(0).max(1e6).describe('for how long the key was off before it was taken, s'),
})
const LearnedBody = z.strictObject({
  text: z.string().max(200_000).describe('the table as CSV, any grid'),
  form: LearnedForm,
  sign: z.enum(['adds', 'takes']).describe('what a positive number does'),
  load: LearnedLoad.optional().describe('how the other axis tells load; left out: kPa absolute'),
  name: z.string().trim().min(1).max(120),
  takenAt: z.iso.datetime().optional(),
})
const PacketQuery = z.strictObject({
  owner: z.enum(['0', '1']).default('0').describe('1: with the owner’s name'),
  logId: z.uuid().optional(),
  symptom: z.string().max(1000).default(''),
  question: z.string().max(1000).default(''),
})
const MAX_UNIT_FILE_BYTES = 4 * 1024 * 1024
/** ZIP entries carry a time; one that never changes makes the same packet the same bytes */
const FIXED_TIME = new Date('2000-01-01T00:00:00Z')

/** The control unit of a build: its card, its files, what it has learned, the shop's profiles, and the packet for help from outside. */
export function unitRoutes(app: FastifyInstance, store: BuildStore, pool: HeavyPool): void {
  const profiles = () => store.db.getRepository(UnitProfileEntity)

  app.get(
    '/api/unit-profiles',
    { schema: docs({ summary: 'Units as the shop knows them', tags: ['unit'], answer: UnitProfiles }) },
    async () =>
      (await profiles().find({ order: { name: 'ASC' } })).map((row) => ({
        name: row.name,
        who: row.who,
        updatedAt: row.updatedAt.toISOString(),
        ...(JSON.parse(row.document) as z.infer<typeof ProfileBody>),
      })),
  )
  app.put<{ Params: { name: string }; Body: z.infer<typeof ProfileBody> }>(
    '/api/unit-profiles/:name',
    {
      schema: docs({
        summary: 'Keep a unit under a name of the shop’s own; one of that name is replaced',
        tags: ['unit'],
        params: ProfileParams,
        body: ProfileBody,
        answer: UnitProfile,
      }),
    },
    async (request) => {
      const { name } = ProfileParams.parse(request.params)
      // what belongs to one car's unit stays with that car
      const { firmware: _, profile: __, ...unit } = request.body.unit
      const document = { unit, ...(request.body.offers ? { offers: request.body.offers } : {}) }
      const who = whoOf(request)
      const updatedAt = new Date()
      const known = await profiles().findOneBy({ name })
      await profiles().upsert({ id: known?.id ?? randomUUID(), name, document: JSON.stringify(document), who, updatedAt }, ['name'])
      return { name, who, updatedAt: updatedAt.toISOString(), ...document }
    },
  )
  app.delete<{ Params: { name: string } }>(
    '/api/unit-profiles/:name',
    {
      schema: docs({
        summary: 'Forget a profile; builds that were taken from it keep what they took',
        tags: ['unit'],
        params: ProfileParams,
      }),
    },
    async (request, reply) => {
      const { affected } = await profiles().delete({ name: request.params.name })
      if (!affected) throw new Problem(404, 'NOT_FOUND', 'There is no profile of this name')
      return reply.code(204).send()
    },
  )

  app.get<{ Params: { id: string }; Querystring: z.infer<typeof View> }>(
    '/api/builds/:id/unit/card',
    {
      schema: docs({
        summary: 'The answer card: each question of the unit, the answer for this car, and what the unit told',
        tags: ['unit'],
        params: BuildParams,
        querystring: View,
        answer: UnitCard,
      }),
    },
    async (request) => {
      const c = contextOf(seenFrom(await store.get(request.params.id), request.query.view))
      return {
        left: unitLeft(c),
        answers: compareAnswers(c).map(({ answer, told, state, effect }) => {
          const { question: _, stoichAfr: __, ...line } = answer
          return { ...line, told, state, effect }
        }),
      }
    },
  )

  async function inCarTune(build: Build) {
    const tune = tuneInCar(build)
    if (!tune) throw new Problem(409, 'GATE_SHUT', 'No tune is in the car. Mark a version as in the car at Base tune.')
    return store.tune(build.id, tune.id)
  }
  async function recorded(buildId: string, readingId: string) {
    const build = await store.get(buildId)
    return judgedReading(
      build,
      build.readings.find((r) => r.id === readingId)!,
    )
  }

  app.post<{ Params: { id: string } }>(
    '/api/builds/:id/unit/files',
    {
      schema: docs({
        summary:
          'Keep a file of the unit untouched, with its hash, beside the version of the tune (multipart: file; optional tuneId, foreign, firmware)',
        description: 'Any content, at most 4 MB. A file that another build holds already is marked foreign.',
        tags: ['unit'],
        params: BuildParams,
        answer: JudgedReadingAnswer,
        answerStatus: 201,
        consumes: ['multipart/form-data'],
      }),
    },
    async (request, reply) => {
      const build = await store.get(request.params.id)
      const fields: Record<string, string> = {}
      let file: { name: string; data: Buffer } | null = null
      for await (const part of request.parts({ limits: { fileSize: MAX_UNIT_FILE_BYTES, files: 1, fieldSize: 200 } })) {
        if (part.type !== 'file') {
          fields[part.fieldname] = String(part.value)
          continue
        }
        const chunks: Buffer[] = []
        for await (const chunk of part.file) chunks.push(chunk as Buffer)
        if (part.file.truncated)
          throw new Problem(413, 'FILE_TOO_LARGE', `"${part.filename}" is larger than 4 MB; a unit’s settings are smaller.`)
        file = { name: (part.filename || 'file').slice(0, 200), data: Buffer.concat(chunks) }
      }
      if (!file || file.data.length === 0)
        throw new Problem(400, 'FILE_MISSING', 'Send the file as the multipart part "file"; it must not be empty.')
      const sha256 = createHash('sha256').update(file.data).digest('hex')
      const tuneId = fields.tuneId ?? tuneInCar(build)?.id ?? null
      if (tuneId !== null && !build.tunes.some((t) => t.id === tuneId))
        throw new InvalidInput([{ path: 'tuneId', message: 'must be a version of this build’s tune' }])
      const elsewhere = await store.db
        .getRepository(ReadingEntity)
        .createQueryBuilder('r')
        .where("r.kind = 'unit.file' AND r.build_id <> :id AND JSON_VALUE(r.value, '$.sha256') = :sha256", { id: build.id, sha256 })
        .getCount()
      const who = whoOf(request)
      const fileId = randomUUID()
      await store.db.getRepository(FileEntity).insert({
        id: fileId,
        buildId: build.id,
        item: 'unit',
        name: file.name,
        type: 'application/octet-stream',
        size: file.data.length,
        data: file.data,
        thumb: null,
        who,
        createdAt: new Date(),
        removedAt: null,
      })
      const id = randomUUID()
      const value = {
        ...{ fileId, tuneId, name: file.name, sha256, size: file.data.length },
        foreign: fields.foreign === '1' || elsewhere > 0,
        ...(fields.firmware ? { firmware: fields.firmware } : {}),
      }
      await appendReading(store, build.id, id, { kind: 'unit.file', value }, who, { source: 'app', from: { fileId } })
      return reply.code(201).send(await recorded(build.id, id))
    },
  )

  app.post<{ Params: { id: string }; Body: z.infer<typeof AskExport> }>(
    '/api/builds/:id/unit/exports',
    {
      schema: docs({
        summary: 'Compare what the unit gave out with the tune in the car, value by value, and record it',
        tags: ['unit'],
        params: BuildParams,
        body: AskExport,
        answer: ExportCompared,
        answerStatus: 201,
      }),
    },
    async (request, reply) => {
      const { fileId, part, offS } = request.body
      const build = await store.get(request.params.id)
      const file = await store.db
        .getRepository(FileEntity)
        .findOne({ where: { id: fileId, buildId: build.id }, select: { id: true, data: true } })
      if (!file) throw new Problem(404, 'NOT_FOUND', 'This build has no such file')
      const row = await inCarTune(build)
      const compared = compareExport(unpackTune(row.document), part, file.data.toString('utf8'))
      const id = randomUUID()
      const value = { tuneId: row.id, fileId, part, offS, ...compared }
      await appendReading(store, build.id, id, { kind: 'unit.export', value }, whoOf(request), { source: 'app', from: { fileId } })
      return reply.code(201).send({ id, ...compared })
    },
  )

  app.post<{ Params: { id: string }; Body: z.infer<typeof LearnedBody> }>(
    '/api/builds/:id/unit/learned',
    {
      schema: docs({
        summary: 'Bring a unit’s learned table: any grid as CSV, with its form and sign',
        tags: ['unit'],
        params: BuildParams,
        body: LearnedBody,
        answer: JudgedReadingAnswer,
        answerStatus: 201,
      }),
    },
    async (request, reply) => {
      const { text, form, sign, load, name, takenAt } = request.body
      const build = await store.get(request.params.id)
      const row = await inCarTune(build)
      const table = readLearned(text, { form, sign, load, limitPct: build.choices.unit?.learnLimitPct }, unpackTune(row.document))
      const held = learnedOverDrives(contextOf(build)).findLast((r) => r.value.held)?.value.held
      if (held && looksReversed(table, unpackTune(row.document).axes, held))
        throw new CoreError(
          'LEARNED_INVALID',
          'the sign',
          'it takes where the last log shows that the unit adds, and adds where it takes. Say the other sign, or bring the table of this car',
        )
      const id = randomUUID()
      const value = { tuneId: row.id, ...table, form, name }
      await appendReading(store, build.id, id, { kind: 'unit.learned', value, ...(takenAt ? { takenAt } : {}) }, whoOf(request), {})
      return reply.code(201).send(await recorded(build.id, id))
    },
  )

  app.get<{ Params: { id: string }; Querystring: z.infer<typeof PacketQuery> }>(
    '/api/builds/:id/packet.zip',
    {
      schema: docs({
        summary: 'A packet for help from outside: set-up, unit, tests with results, tune, log, question',
        description: 'The owner’s name is left out unless it is wanted. The same build gives the same bytes.',
        tags: ['unit'],
        params: BuildParams,
        querystring: PacketQuery,
      }),
    },
    async (request, reply) => {
      const { owner, logId, symptom, question } = request.query
      const build = seenFrom(await store.get(request.params.id), 'car')
      const inCar = tuneInCar(build)
      const tune = inCar ? unpackTune((await store.tune(build.id, inCar.id)).document) : null
      const wanted = logId ?? build.logs.findLast((l) => l.source === 'import')?.id
      const log = wanted ? build.logs.find((l) => l.id === wanted) : undefined
      if (logId && !log) throw new Problem(404, 'NOT_FOUND', 'This build has no such log')
      const data = log ? await pool.run({ kind: 'unpack', columns: await LogStore.columns(store, log.id) }, gone(reply)) : null
      const members = helpPacket({
        build,
        tune,
        log: log && data ? { name: log.name, ...data } : null,
        ...{ withOwner: owner === '1', symptom, question },
        words: (kind, value) => entryKinds[kind].says(value as never),
      })
      const zip = zipSync(Object.fromEntries(members.map(({ name, text }) => [name, [strToU8(text), { mtime: FIXED_TIME, level: 6 }]])))
      return reply
        .type('application/zip')
        .header('content-disposition', 'attachment; filename="help-packet.zip"')
        .header('cache-control', 'no-store')
        .send(Buffer.from(zip))
    },
  )
}
