import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import {
  Reading,
  entryKinds,
  entryWords,
  STORED_VERSION,
  type ReadingInput,
  zodErrors,
  LogbookPage,
  ReadingAnswer,
  Readings,
} from '@vectum/core'
import { BuildEntity, LogbookEntity, ReadingEntity, type ReadingRow } from '../db/entities.ts'
import { InvalidInput, Problem } from '../http/problem.ts'
import { BuildParams, docs } from '../http/schema.ts'
import { whoOf } from '../http/who.ts'
import { readingOf, type BuildStore } from './store.ts'

const ReadingParams = z.object({ id: z.uuid(), readingId: z.uuid() })
const LogbookQuery = z.object({
  before: z.coerce.number().int().positive().optional(),
  limit: z.coerce.number().int().min(1).max(500).default(100),
  kind: z.string().max(40).optional(),
  q: z.string().max(100).optional(),
})

/** Appends one reading; the same id with the same content again is no second record. */
export async function appendReading(
  store: BuildStore,
  buildId: string,
  readingId: string,
  input: ReadingInput,
  who: string,
): Promise<{ created: boolean; row: ReadingRow }> {
  const value = entryKinds[input.kind].schema.safeParse(input.value)
  if (!value.success) throw new InvalidInput(zodErrors(value.error).map((e) => ({ ...e, path: e.path ? `value.${e.path}` : 'value' })))
  const repository = store.db.getRepository(ReadingEntity)
  const content = JSON.stringify(value.data)
  const same = async () => {
    const found = await repository.findOneBy({ id: readingId })
    if (!found) return null
    if (found.buildId === buildId && found.kind === input.kind && found.value === content) return { created: false, row: found }
    throw new Problem(409, 'READING_EXISTS', 'Another reading has this id. Readings are never changed: send a new one that supersedes it.')
  }
  const before = await same()
  if (before) return before
  if (!(await store.db.getRepository(BuildEntity).existsBy({ id: buildId })))
    throw new Problem(404, 'NOT_FOUND', 'There is no build with this id')
  if (input.supersedes && !(await repository.existsBy({ id: input.supersedes, buildId })))
    throw new InvalidInput([{ path: 'supersedes', message: 'names no reading of this build' }])
  const row: Omit<ReadingRow, 'seq'> & { seq?: number } = {
    id: readingId,
    buildId,
    kind: input.kind,
    value: content,
    instrument: input.instrument ?? null,
    who: input.who ?? who,
    takenAt: input.takenAt ? new Date(input.takenAt) : new Date(),
    schemaVersion: STORED_VERSION,
    conditions: input.conditions ?? null,
    supersedes: input.supersedes ?? null,
    receivedAt: new Date(),
  }
  try {
    await store.db.transaction(async (manager) => {
      // the note first: it takes the build's row lock, which the insert would otherwise ask for second and deadlock over
      await store.note(
        manager,
        buildId,
        input.who ?? who,
        'reading',
        `${input.supersedes ? 'Superseded: ' : ''}${entryWords(input.kind, value.data)}`,
        {
          readingId,
          kind: input.kind,
          value: value.data,
          instrument: input.instrument ?? null,
          supersedes: input.supersedes ?? null,
          takenAt: row.takenAt,
        },
      )
      await manager.getRepository(ReadingEntity).insert(row)
    })
  } catch (error) {
    // the same retry arrived twice at once
    if ((error as { driverError?: { code?: string } }).driverError?.code === 'ER_DUP_ENTRY') {
      const after = await same()
      if (after) return after
    }
    throw error
  }
  return { created: true, row: row as ReadingRow }
}

export function readingRoutes(app: FastifyInstance, store: BuildStore): void {
  app.get<{ Params: { id: string } }>(
    '/api/builds/:id/readings',
    { schema: docs({ summary: 'All readings, oldest first', tags: ['job'], answer: Readings, params: BuildParams }) },
    async (request) => (await store.get(request.params.id)).readings,
  )

  app.put<{ Params: { id: string; readingId: string }; Body: ReadingInput }>(
    '/api/builds/:id/readings/:readingId',
    {
      schema: docs({
        summary: 'Append one reading; sending it again records nothing twice',
        description: `\`value\` by kind:\n\n${Object.entries(entryKinds)
          .map(([kind, { schema }]) => `- \`${kind}\`: ${Object.keys(schema.shape).join(', ')}`)
          .join('\n')}`,
        tags: ['job'],
        answer: ReadingAnswer,
        params: ReadingParams,
        body: Reading,
      }),
    },
    async (request, reply) => {
      const { id, readingId } = request.params
      const { created, row } = await appendReading(store, id, readingId, request.body, whoOf(request))
      return reply.code(created ? 201 : 200).send(readingOf(row))
    },
  )

  app.get<{ Params: { id: string }; Querystring: z.infer<typeof LogbookQuery> }>(
    '/api/builds/:id/logbook',
    {
      schema: docs({
        summary: 'The logbook, newest first',
        tags: ['job'],
        answer: LogbookPage,
        params: BuildParams,
        querystring: LogbookQuery,
      }),
    },
    async (request) => {
      const { before, limit, kind, q } = request.query
      const query = store.db
        .getRepository(LogbookEntity)
        .createQueryBuilder('l')
        .where('l.buildId = :id', { id: request.params.id })
        .orderBy('l.seq', 'DESC')
        .take(limit + 1)
      if (before) query.andWhere('l.seq < :before', { before })
      if (kind) query.andWhere('l.kind = :kind', { kind })
      if (q) query.andWhere('(l.summary LIKE :q OR l.who LIKE :q)', { q: `%${q.replace(/[\\%_]/g, '\\$&')}%` })
      const rows = await query.getMany()
      return {
        entries: rows.slice(0, limit).map((row) => ({
          seq: Number(row.seq),
          at: row.at.toISOString(),
          who: row.who,
          kind: row.kind,
          summary: row.summary,
          detail: JSON.parse(row.detail) as unknown,
        })),
        more: rows.length > limit,
      }
    },
  )
}
