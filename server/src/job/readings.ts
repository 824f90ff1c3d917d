import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import {
  Reading,
  entryKinds,
  type EntryKind,
  entryWords,
  isRehearsed,
  JudgedReadingAnswer,
  ReadingAnswer,
  readChoices,
  readFacts,
  rehearsedChoices,
  type Source,
  STORED_VERSION,
  type StoredReading,
  wordsOf,
  type ReadingInput,
  type VerdictFrom,
  zodErrors,
  LogbookPage,
  Readings,
} from '@vectum/core'
import { BuildEntity, LogbookEntity, ReadingEntity, type ReadingRow } from '../db/entities.ts'
import { InvalidInput, Problem } from '../http/problem.ts'
import { BuildParams, docs } from '../http/schema.ts'
import { namedBy, whoOf } from '../people/identity.ts'
import { type Build, type BuildStore, evaluated, readingOf } from './store.ts'

const ReadingParams = z.object({ id: z.uuid(), readingId: z.uuid() })
const Withdraw = z.strictObject({ reason: z.string().trim().min(3, 'must say why, in 3 characters or more').max(400) })
const LogbookQuery = z.object({
  before: z.coerce.number().int().positive().optional(),
  limit: z.coerce.number().int().min(1).max(500).default(100),
  kind: z.string().max(40).optional(),
  q: z.string().max(100).optional(),
})

const MAX_AHEAD_MIN = 5
/** What a client says of the time is for people to read; one that is ahead would only mislead them. */
function checkClock(takenAt: string | undefined): void {
  const aheadMin = takenAt ? (Date.parse(takenAt) - Date.now()) / 60_000 : 0
  if (aheadMin <= MAX_AHEAD_MIN) return
  const message = `is ${Math.round(aheadMin)} min ahead of the server; at most ${MAX_AHEAD_MIN} min is taken`
  throw new Problem(400, 'CLOCK_AHEAD', `takenAt ${message}. Set the clock of this device.`, { errors: [{ path: 'takenAt', message }] })
}
/** Why an entry does not replace another: it must be one's own, of the same kind, about the same thing. */
function mayReplace(old: ReadingRow | null, input: ReadingInput, who: string): string | null {
  if (!old) return 'names no reading of this build'
  if (old.kind !== input.kind) return `names an entry of another kind (${old.kind}); only one of the same kind is replaced`
  const subject = (value: unknown): string => entryKinds[input.kind].proof?.subject?.(value as never) ?? ''
  if (subject(JSON.parse(old.value)) !== subject(input.value)) return 'names an entry about something else'
  return old.who === who ? null : `names an entry of ${old.who}; withdraw it with a reason instead`
}
/** A person’s, unless its instrument is the bench’s or it was made while practising. */
const sourceOf = ({ instrument, view }: ReadingInput): Source =>
  view === 'rehearsal' || instrument?.startsWith('bench') ? 'bench' : 'person'
/** The slice of the car, or of the rehearsal's, that a proof is taken on, read under the build's row lock; null for a kind that proves nothing. */
async function basisNow(
  manager: EntityManager,
  { buildId, kind }: { buildId: string; kind: EntryKind },
  value: unknown,
  rehearsed: boolean,
): Promise<string | null> {
  const proof = entryKinds[kind].proof
  if (!proof) return null
  const row = await manager.getRepository(BuildEntity).findOneByOrFail({ id: buildId })
  const choices = readChoices(row.schemaVersion, JSON.parse(row.choices)).value
  const told = {
    facts: readFacts(row.schemaVersion, JSON.parse(row.facts)).value,
    choices: rehearsed ? rehearsedChoices(choices) : choices,
  }
  return JSON.stringify(proof.basis(told, value as never))
}
/** What the server itself says of an entry: who or what witnessed it, what it was worked out from, whether it is the rehearsal's. */
interface Made {
  source?: Source
  from?: VerdictFrom
  rehearsed?: boolean
}

/** An entry with what it is worth on the car as it is now. */
export function judgedReading(build: Build, reading: StoredReading) {
  const standing = evaluated(build, isRehearsed(reading, build) ? 'rehearsal' : 'car').standings.get(reading.id)
  return {
    ...reading,
    stands: standing?.stands ?? null,
    ...(standing?.because == null ? {} : { voidBecause: wordsOf(standing.because) }),
    ...(standing?.withdrawn ? { withdrawn: standing.withdrawn } : {}),
  }
}
export async function judgedById(store: BuildStore, buildId: string, readingId: string) {
  const build = await store.get(buildId)
  const reading = build.readings.find((r) => r.id === readingId)
  if (!reading) throw new Problem(404, 'NOT_FOUND', 'There is no reading with this id on this build')
  return judgedReading(build, reading)
}

/** Appends one reading; the same id with the same content again is no second record. */
export async function appendReading(
  store: BuildStore,
  buildId: string,
  readingId: string,
  input: ReadingInput,
  who: string,
  { source = sourceOf(input), from, rehearsed = source === 'bench' || (input.instrument?.startsWith('bench') ?? false) }: Made = {},
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
  checkClock(input.takenAt)
  if (input.supersedes) {
    const old = await repository.findOneBy({ id: input.supersedes, buildId })
    const refused = mayReplace(old, input, who)
    if (refused) throw new InvalidInput([{ path: 'supersedes', message: refused }])
  }
  const row: Omit<ReadingRow, 'seq'> = {
    id: readingId,
    buildId,
    kind: input.kind,
    value: content,
    instrument: input.instrument ?? null,
    who: who,
    takenAt: input.takenAt ? new Date(input.takenAt) : new Date(),
    schemaVersion: STORED_VERSION,
    conditions: input.conditions ?? null,
    supersedes: input.supersedes ?? null,
    receivedAt: new Date(),
    buildSeq: 0,
    source,
    seen: input.seen ?? null,
    client: input.client ?? null,
    clientSeq: input.clientSeq ?? null,
    basis: null,
    workedFrom: from ? JSON.stringify(from) : null,
  }
  try {
    await store.db.transaction(async (manager) => {
      // the note first: it takes the build's row lock, which the insert would otherwise ask for second and deadlock over
      await store.note(manager, buildId, who, 'reading', `${input.supersedes ? 'Superseded: ' : ''}${entryWords(input.kind, value.data)}`, {
        readingId,
        kind: input.kind,
        value: value.data,
        instrument: input.instrument ?? null,
        supersedes: input.supersedes ?? null,
        takenAt: row.takenAt,
      })
      row.buildSeq = await store.nextSeq(manager, buildId)
      row.basis = await basisNow(manager, { buildId, kind: input.kind }, value.data, rehearsed)
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
    async (request) => {
      const build = await store.get(request.params.id)
      return build.readings.map((reading) => judgedReading(build, reading))
    },
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
      const { kind } = request.body
      if (entryKinds[kind].writtenBy)
        throw new Problem(
          403,
          'APP_ONLY',
          `${entryKinds[kind].title}: entries of the kind ${kind} are written by the app alone, from what it has seen itself. Ask for a verdict with POST .../verdicts.`,
        )
      const { created, row } = await appendReading(store, id, readingId, request.body, namedBy(request, request.body.who))
      // what it is worth is asked for with the readings: judging the whole build for every write would cost four times the write
      return reply.code(created ? 201 : 200).send(readingOf(row))
    },
  )

  app.post<{ Params: { id: string; readingId: string }; Body: z.infer<typeof Withdraw> }>(
    '/api/builds/:id/readings/:readingId/withdraw',
    {
      schema: docs({
        summary: 'Withdraw an entry with a reason: it stays in the logbook, struck through, and no longer counts',
        description: 'Sending it again changes nothing. Withdrawing a failure never brings an earlier proof back.',
        tags: ['job'],
        answer: JudgedReadingAnswer,
        params: ReadingParams,
        body: Withdraw,
      }),
    },
    async (request) => {
      const { id, readingId } = request.params
      const reading = await judgedById(store, id, readingId)
      if (reading.withdrawn) return reading
      if (entryKinds[reading.kind].writtenBy === 'server')
        throw new Problem(
          409,
          'NOT_WITHDRAWABLE',
          'It stands for what was done to the record itself; what is wrong now is put right by a new entry.',
        )
      await appendReading(
        store,
        id,
        randomUUID(),
        { kind: 'entry.withdrawn', value: { entryId: readingId, reason: request.body.reason } },
        whoOf(request),
      )
      return judgedById(store, id, readingId)
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
