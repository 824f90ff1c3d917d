import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import {
  computeBaseTune,
  checkTune,
  tableFromCsv,
  tableNames,
  tableToCsv,
  TuneDocument,
  TuneStatus,
  withTable,
  type TableName,
  type TuneSummary,
  TuneAnswer,
  Tunes,
} from '@vectum/core'
import { TuneEntity, type TuneRow } from '../db/entities.ts'
import { InvalidInput, Problem } from '../http/problem.ts'
import { BuildParams, docs } from '../http/schema.ts'
import { whoOf } from '../people/identity.ts'
import { tuneSummaryOf, unpackTune, type BuildStore } from '../job/store.ts'

const NewTune = z
  .strictObject({
    id: z.uuid().optional(),
    name: z.string().trim().min(1).max(120).optional(),
    document: TuneDocument.optional().describe('left out: computed from the facts'),
    origin: z.enum(['edited', 'learned', 'imported']).optional(),
    parentId: z.uuid().optional(),
    logId: z.uuid().optional(),
  })
  .optional()
const TunePatch = z.strictObject({
  name: z.string().trim().min(1).max(120).optional(),
  status: TuneStatus.optional(),
  view: z.literal('rehearsal').optional().describe('with in-car: into the bench’s unit, while the car keeps its own'),
})
const TuneParams = z.object({ id: z.uuid(), tuneId: z.uuid() })
const TableParams = z.object({ id: z.uuid(), tuneId: z.uuid(), file: z.string() })

const answerOf = (row: TuneRow) => ({ ...tuneSummaryOf(row), document: unpackTune(row.document) })

function tableName(file: string): TableName {
  const name = file.replace(/\.csv$/, '')
  if (!file.endsWith('.csv') || !tableNames.includes(name as TableName))
    throw new Problem(404, 'NOT_FOUND', `Tables are ${tableNames.map((n) => `${n}.csv`).join(', ')}`)
  return name as TableName
}

/** A log corrects only the tune it was driven on, once: what already carries its correction is not corrected by it again. */
function refuseSecondTime(tunes: readonly (TuneSummary & { logId?: string | null })[], logId: string, parentId: string | undefined): void {
  for (let at = tunes.find((t) => t.id === parentId); at; at = tunes.find((t) => t.id === at!.parentId))
    if (at.logId === logId)
      throw new Problem(
        409,
        'LOG_APPLIED',
        `Version ${at.number} was already learned from this log, and this tune comes from it. Drive on the tune that is in the car and bring the new log.`,
      )
}

export function tuneRoutes(app: FastifyInstance, store: BuildStore): void {
  app.get<{ Params: { id: string } }>(
    '/api/builds/:id/tunes',
    { schema: docs({ summary: 'Tune versions', tags: ['tune'], answer: Tunes, params: BuildParams }) },
    async (request) => (await store.get(request.params.id)).tunes,
  )

  app.post<{ Params: { id: string }; Body: z.infer<typeof NewTune> }>(
    '/api/builds/:id/tunes',
    {
      schema: docs({
        summary: 'Compute a base tune from the facts, or store a given one',
        tags: ['tune'],
        answer: TuneAnswer,
        answerStatus: 201,
        params: BuildParams,
        body: NewTune,
      }),
    },
    async (request, reply) => {
      const build = await store.get(request.params.id)
      const { id, document, name, origin, parentId, logId } = request.body ?? {}
      const tune = document ?? computeBaseTune(build.facts, build.choices)
      if (id) {
        // a retry of a save whose answer was lost
        const existing = await store.db.getRepository(TuneEntity).findOneBy({ id })
        if (existing && existing.buildId === build.id && JSON.stringify(unpackTune(existing.document)) === JSON.stringify(tune))
          return reply.code(200).send(answerOf(existing))
        if (existing) throw new Problem(409, 'ALREADY_EXISTS', 'A tune with this id exists')
      }
      if (origin === 'learned' && logId) refuseSecondTime(build.tunes, logId, parentId)
      const tuneId = await store.addTune(
        build,
        { id, name, document: tune, origin: document ? (origin ?? 'imported') : 'computed', parentId, logId },
        whoOf(request),
      )
      return reply.code(201).send(answerOf(await store.tune(build.id, tuneId)))
    },
  )

  app.get<{ Params: { id: string; tuneId: string } }>(
    '/api/builds/:id/tunes/:tuneId',
    { schema: docs({ summary: 'One tune with its tables', tags: ['tune'], answer: TuneAnswer, params: TuneParams }) },
    async (request) => answerOf(await store.tune(request.params.id, request.params.tuneId)),
  )

  app.patch<{ Params: { id: string; tuneId: string }; Body: z.infer<typeof TunePatch> }>(
    '/api/builds/:id/tunes/:tuneId',
    {
      schema: docs({
        summary: 'Rename, mark ready, or put in the car (one at a time)',
        tags: ['tune'],
        answer: TuneAnswer,
        params: TuneParams,
        body: TunePatch,
      }),
    },
    async (request) => {
      const { id, tuneId } = request.params
      const { name, status, view } = request.body
      if (name === undefined && status === undefined)
        throw new InvalidInput([{ path: '', message: 'must name what is to change: name or status' }])
      const row = await store.tune(id, tuneId)
      // against the car as it is now, not as it was when the tune was stored
      const stop = checkTune(unpackTune(row.document), await store.get(id)).find((p) => p.severity === 'stop')
      if ((status === 'in-car' || status === 'ready') && stop)
        throw new Problem(409, 'GATE_SHUT', `${stop.message}: ${stop.because} ${stop.remedy}`)
      const who = whoOf(request)
      if (view) {
        if (status !== 'in-car') throw new InvalidInput([{ path: 'view', message: 'goes with status in-car alone' }])
        await store.rehearseTune(id, tuneId, who)
        return answerOf(await store.tune(id, tuneId))
      }
      await store.db.transaction(async (manager) => {
        await manager.query('SELECT id FROM build WHERE id = ? FOR UPDATE', [id])
        const tunes = manager.getRepository(TuneEntity)
        if (status === 'in-car') await tunes.update({ buildId: id, status: 'in-car' }, { status: 'ready', inCarSince: null })
        await tunes.update(
          { id: tuneId },
          { ...(name ? { name } : {}), ...(status ? { status, inCarSince: status === 'in-car' ? new Date() : null } : {}) },
        )
        if (status && status !== row.status)
          await store.note(
            manager,
            id,
            who,
            'tune',
            {
              'in-car': `Tune ${row.number} put in the car`,
              ready: `Tune ${row.number} marked ready`,
              draft: `Tune ${row.number} back to draft`,
              retired: `Tune ${row.number} retired`,
            }[status],
            { tuneId },
          )
        if (name && name !== row.name) await store.note(manager, id, who, 'tune', `Tune ${row.number} named ${name}`, { tuneId })
      })
      return answerOf(await store.tune(id, tuneId))
    },
  )

  app.get<{ Params: { id: string; tuneId: string; file: string } }>(
    '/api/builds/:id/tunes/:tuneId/tables/:file',
    { schema: docs({ summary: 'A table as CSV: speeds across, manifold pressures down', tags: ['tune'], params: TableParams }) },
    async (request, reply) => {
      const row = await store.tune(request.params.id, request.params.tuneId)
      const name = tableName(request.params.file)
      return reply
        .type('text/csv; charset=utf-8')
        .header('content-disposition', `attachment; filename="${name}-tune-${row.number}.csv"`)
        .send(tableToCsv(unpackTune(row.document), name))
    },
  )

  app.put<{ Params: { id: string; tuneId: string; file: string }; Body: string }>(
    '/api/builds/:id/tunes/:tuneId/tables/:file',
    {
      schema: docs({
        summary: 'Load a table from CSV: a new version; the stored one never changes',
        description: 'The same table as stored answers 200 with that version.',
        answerStatus: 201,
        tags: ['tune'],
        answer: TuneAnswer,
        params: TableParams,
        consumes: ['text/csv', 'text/plain'],
      }),
    },
    async (request, reply) => {
      const { id, tuneId, file } = request.params
      const name = tableName(file)
      if (typeof request.body !== 'string' || request.body.trim() === '')
        throw new InvalidInput([{ path: 'body', message: 'must be CSV text (content type text/csv)' }])
      const row = await store.tune(id, tuneId)
      const document = unpackTune(row.document)
      const { axes, cells } = tableFromCsv(request.body, name)
      for (const axis of ['rpm', 'mapKpa'] as const)
        if (axes[axis].join() !== document.axes[axis].join())
          throw new InvalidInput([{ path: axis, message: `axis must be the tune's own: ${document.axes[axis].join(', ')}` }])
      if (cells.join() === document.tables[name].join()) return reply.code(200).send(answerOf(row))
      const next = withTable(document, name, cells, `loaded from CSV by ${whoOf(request)}`)
      const build = await store.get(id)
      const made = await store.addTune(
        build,
        { document: next, origin: 'edited', parentId: tuneId, name: `${name} from CSV` },
        whoOf(request),
      )
      return reply.code(201).send(answerOf(await store.tune(id, made)))
    },
  )
}
