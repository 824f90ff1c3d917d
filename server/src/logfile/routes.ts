import { createHash, randomUUID } from 'node:crypto'
import { createWriteStream } from 'node:fs'
import { mkdir, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import {
  contextOf,
  Axes,
  channelIds,
  channelSpecs,
  checkAxis,
  carIdleOptions,
  idleTargetRpm,
  IdleVerdict,
  LearnResult,
  learnSetupOf,
  LogMapping,
  resolveFacts,
  zodErrors,
  ImportedLog,
  LogAnswer,
  SpeedSpikes,
} from '@vectum/core'
import { LogChannelEntity, type LogRow } from '../db/entities.ts'
import { gone, type HeavyPool } from '../heavy/pool.ts'
import { InvalidInput, Problem } from '../http/problem.ts'
import { BuildParams, docs } from '../http/schema.ts'
import { whoOf } from '../people/identity.ts'
import { appendReading } from '../job/readings.ts'
import { seenFrom, unpackTune, type BuildStore } from '../job/store.ts'
import { LogStore } from './store.ts'

const LogParams = z.object({ logId: z.uuid() })
const LearnQuery = z.object({ rpm: z.string().max(600).optional(), mapKpa: z.string().max(600).optional() })
const IdleQuery = z.object({ targetRpm: z.coerce.number().min(300).max(3000).optional().describe('idle speed wanted, rpm') })
const ChannelParams = z.object({ logId: z.uuid(), channel: z.enum(channelIds as [string, ...string[]]) })

function axisFrom(name: 'rpm' | 'mapKpa', text: string | undefined, own: number[]): number[] {
  if (text === undefined) return own
  const values = text.split(',').map((part) => (part.trim() === '' ? NaN : Number(part)))
  const parsed = Axes.shape[name].safeParse(values)
  if (!parsed.success)
    throw new InvalidInput(zodErrors(parsed.error).map((e) => ({ path: e.path ? `${name}.${e.path}` : name, message: e.message })))
  checkAxis(name, parsed.data)
  return parsed.data
}

/** The tune a log was driven on: as told, else the one now in the car; null when there is none. */
function tuneFrom(tunes: readonly { id: string; status: string }[], told: string | undefined): string | null {
  if (told && !tunes.some((t) => t.id === told)) throw new InvalidInput([{ path: 'tuneId', message: 'names no tune of this build' }])
  return told ?? tunes.find((t) => t.status === 'in-car')?.id ?? null
}
/** The same file read with another mapping, or on another tune: what was worked out of the earlier reading no longer counts. */
async function withdrawEarlier(store: BuildStore, log: LogRow, who: string): Promise<void> {
  const earlier = (await LogStore.sameFile(store, log)).map((l) => l.id)
  if (!earlier.length) return
  const { readings } = await store.get(log.buildId)
  const gone = new Set(readings.flatMap((r) => (r.kind === 'entry.withdrawn' ? [r.value.entryId] : [])))
  for (const r of readings)
    if (r.from?.logId && earlier.includes(r.from.logId) && !gone.has(r.id))
      await appendReading(
        store,
        log.buildId,
        randomUUID(),
        { kind: 'entry.withdrawn', value: { entryId: r.id, reason: 'the same file was read again another way' } },
        who,
      )
}
/** Reads the `mapping` part of an upload. */
function mappingFrom(text: string | undefined): LogMapping | null {
  if (!text) return null
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    throw new InvalidInput([{ path: 'mapping', message: 'must be JSON' }])
  }
  const parsed = LogMapping.safeParse(json)
  if (!parsed.success) throw new InvalidInput(zodErrors(parsed.error).map((e) => ({ ...e, path: `mapping.${e.path}` })))
  return parsed.data
}

export function logRoutes(
  app: FastifyInstance,
  store: BuildStore,
  pool: HeavyPool,
  options: { dataDir: string; maxUploadBytes: number },
): void {
  const uploads = join(options.dataDir, 'uploads')

  app.post<{ Params: { id: string } }>(
    '/api/builds/:id/logs',
    {
      schema: docs({
        summary: 'Import a CSV log (multipart: file, optional mapping as JSON, optional id, optional tuneId)',
        tags: ['logs'],
        answer: ImportedLog,
        answerStatus: 201,
        params: BuildParams,
        consumes: ['multipart/form-data'],
      }),
    },
    async (request, reply) => {
      const build = await store.get(request.params.id)
      await mkdir(uploads, { recursive: true })
      const path = join(uploads, randomUUID())
      const fields: Record<string, string> = {}
      let name: string | null = null
      const hash = createHash('sha256')
      try {
        for await (const part of request.parts({ limits: { fileSize: options.maxUploadBytes, files: 1, fieldSize: 65536 } })) {
          if (part.type !== 'file') {
            fields[part.fieldname] = String(part.value)
            continue
          }
          name = part.filename || 'log.csv'
          part.file.on('data', (chunk: Buffer) => hash.update(chunk))
          await pipeline(part.file, createWriteStream(path))
          if (part.file.truncated)
            throw new Problem(
              413,
              'FILE_TOO_LARGE',
              `"${name}" is larger than ${options.maxUploadBytes / 1024 / 1024} MB. Cut the log into pieces, or export fewer channels.`,
            )
        }
        if (name === null) throw new Problem(400, 'FILE_MISSING', 'Send the log as the multipart part "file".')
        const id = fields.id ? z.uuid().safeParse(fields.id) : null
        if (id && !id.success) throw new InvalidInput([{ path: 'id', message: 'must be a UUID' }])
        const tuneId = tuneFrom(build.tunes, fields.tuneId)
        const mapping = mappingFrom(fields.mapping)
        const result = await pool.importLog(
          {
            path,
            mapping,
            remembered: mapping ? {} : await LogStore.remembered(store),
            barometerKpa: contextOf(build).resolved.barometerKpa,
          },
          gone(reply),
        )
        if ('unsure' in result)
          throw new Problem(
            422,
            'MAPPING_UNSURE',
            `What some columns hold is not sure: ${result.unsure.map((u) => `${channelSpecs[u.channel].label}, ${u.because}`).join('; ')}. Send it again with the mapping as it should be.`,
            { proposal: result.proposal, unsure: result.unsure },
          )
        const logId = await LogStore.add(
          store,
          build.id,
          { ...result, id: id?.data, name, source: 'import', remember: mapping !== null, fileHash: hash.digest('hex'), tuneId },
          whoOf(request),
        )
        const kept = await LogStore.get(store, logId)
        await withdrawEarlier(store, kept, whoOf(request))
        return reply.code(201).send({
          id: logId,
          fileHash: kept.fileHash,
          tuneId: kept.tuneId,
          name,
          rows: result.rows,
          durationS: result.durationS,
          rejected: result.rejected,
          channels: result.columns.map((c) => c.channel),
          mapping: result.mapping,
        })
      } finally {
        await rm(path, { force: true })
      }
    },
  )

  app.get<{ Params: { logId: string } }>(
    '/api/logs/:logId',
    { schema: docs({ summary: 'What is known of a log', tags: ['logs'], answer: LogAnswer, params: LogParams }) },
    async (request) => {
      const row = await LogStore.get(store, request.params.logId)
      const channels = await store.db.getRepository(LogChannelEntity).find({ select: { channel: true }, where: { logId: row.id } })
      return {
        id: row.id,
        buildId: row.buildId,
        fileHash: row.fileHash,
        tuneId: row.tuneId,
        name: row.name,
        source: row.source,
        rows: row.rows,
        durationS: row.durationS,
        rejected: JSON.parse(row.rejected) as unknown,
        mapping: JSON.parse(row.mapping) as unknown,
        channels: channels.map((c) => c.channel),
        createdAt: row.createdAt.toISOString(),
      }
    },
  )

  app.get<{ Params: { logId: string; channel: string } }>(
    '/api/logs/:logId/channels/:channel',
    {
      schema: docs({
        summary: 'One channel as stored: raw deflate of byte-shuffled little-endian floats (docs/formats.md)',
        tags: ['logs'],
        params: ChannelParams,
      }),
    },
    async (request, reply) => {
      const row = await store.db.getRepository(LogChannelEntity).findOneBy(request.params as { logId: string; channel: string })
      if (!row) throw new Problem(404, 'NOT_FOUND', 'This log has no such channel')
      return reply.type('application/octet-stream').header('cache-control', 'private, max-age=31536000, immutable').send(row.data)
    },
  )

  app.get<{ Params: { logId: string }; Querystring: z.infer<typeof LearnQuery> }>(
    '/api/logs/:logId/learn',
    {
      schema: docs({
        summary: 'Needed correction, cell by cell',
        tags: ['logs'],
        params: LogParams,
        querystring: LearnQuery,
        answer: LearnResult,
      }),
    },
    async (request, reply) => {
      const row = await LogStore.get(store, request.params.logId)
      const build = await store.get(row.buildId)
      const view = row.source === 'bench' ? 'rehearsal' : 'car'
      const inUse = await store.tuneInUse(build, view)
      const setup = learnSetupOf(contextOf(seenFrom(build, view)), inUse ? unpackTune(inUse.document) : null, row.id)
      const axes = {
        rpm: axisFrom('rpm', request.query.rpm, setup.axes.rpm),
        mapKpa: axisFrom('mapKpa', request.query.mapKpa, setup.axes.mapKpa),
      }
      return pool.run({ kind: 'learn', logs: [{ columns: await LogStore.columns(store, row.id) }], setup: { ...setup, axes } }, gone(reply))
    },
  )

  app.get<{ Params: { logId: string } }>(
    '/api/logs/:logId/spikes',
    {
      schema: docs({
        summary: 'Jumps of the speed signal beyond what the crank can do',
        tags: ['logs'],
        answer: SpeedSpikes,
        params: LogParams,
      }),
    },
    async (request, reply) => pool.run({ kind: 'spikes', columns: await LogStore.columns(store, request.params.logId) }, gone(reply)),
  )

  app.get<{ Params: { logId: string }; Querystring: z.infer<typeof IdleQuery> }>(
    '/api/logs/:logId/idle',
    {
      schema: docs({
        summary: 'What kind of idle the log shows, how sure that is, and what may be behind it',
        description: 'Judged against `targetRpm`, else the target of the tune it ran on, else the survey’s usual one.',
        tags: ['logs'],
        params: LogParams,
        querystring: IdleQuery,
        answer: IdleVerdict,
      }),
    },
    async (request, reply) => {
      const row = await LogStore.get(store, request.params.logId)
      const build = await store.get(row.buildId)
      const { targetRpm } = request.query
      // the tune that it ran on, else the one in the car; without any the survey's
      const ran = build.tunes.find((t) => t.id === row.tuneId)
      const options = carIdleOptions(build, ran)
      const known = build.facts.engine !== undefined || build.facts.cam !== undefined
      const target = targetRpm ?? options.targetRpm ?? (known ? idleTargetRpm(resolveFacts(build)) : undefined)
      return pool.run(
        {
          kind: 'idle',
          columns: await LogStore.columns(store, row.id),
          options: target === undefined ? options : { ...options, targetRpm: target },
        },
        gone(reply),
      )
    },
  )
}
