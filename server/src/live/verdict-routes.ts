import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { IsNull } from 'typeorm'
import { z } from 'zod'
import {
  BenchHeldAt,
  benchReading,
  type BenchReadingKind,
  benchReadingKinds,
  contextOf,
  type EntryKind,
  carIdleOptions,
  isRehearsed,
  JudgedReadingAnswer,
  learnSetupOf,
  logsTogether,
  logDoubtsSaid,
  type StoredReading,
  VerdictFrom,
  type VerdictEvidence,
  verdictKinds,
  verdictOf,
  verdictWants,
  type VerdictKind,
  type View,
  wordsOf,
} from '@vectum/core'
import { FileEntity } from '../db/entities.ts'
import type { HeavyPool } from '../heavy/pool.ts'
import { InvalidInput, Problem } from '../http/problem.ts'
import { BuildParams, docs } from '../http/schema.ts'
import { whoOf } from '../people/identity.ts'
import { appendReading, judgedReading } from '../job/readings.ts'
import { type Build, type BuildStore, evaluated, seenFrom, unpackTune } from '../job/store.ts'
import { LogStore } from '../logfile/store.ts'
import type { LiveSessions } from './routes.ts'
import { liveReadingKinds } from './bench-instruments.ts'
import { logOfFrames } from './trace.ts'

const AskVerdict = z.strictObject({ kind: z.enum(verdictKinds), from: VerdictFrom })
const benchKinds = [...new Set([...benchReadingKinds, ...liveReadingKinds])] as [EntryKind, ...EntryKind[]]
const AskBench = z.strictObject({ kind: z.enum(benchKinds), at: BenchHeldAt.optional() })

type From = z.infer<typeof VerdictFrom>
/** of a session, the idle is judged on so much of its end, s */
const IDLE_LOOK_S = 75
const KINDS_WITH_FRAMES = new Set<VerdictKind>(['start.dry-crank', 'start.attempt'])

/** Verdicts that the server works out from what is named, and readings that it takes from the bench's instruments for the person. */
export function verdictRoutes(app: FastifyInstance, store: BuildStore, pool: HeavyPool, sessions: LiveSessions): void {
  /** The entries named, each of this build and still counting. */
  function entriesOf(build: Build, ids: readonly string[]): StoredReading[] {
    return ids.map((id, i) => {
      const entry = build.readings.find((r) => r.id === id)
      if (!entry) throw new InvalidInput([{ path: `from.entryIds.${i}`, message: 'names no entry of this build' }])
      if (!evaluated(build, isRehearsed(entry, build) ? 'rehearsal' : 'car').standings.get(id)?.counts)
        throw new InvalidInput([{ path: `from.entryIds.${i}`, message: 'names an entry that no longer counts' }])
      return entry
    })
  }
  async function fileText(buildId: string, fileId: string): Promise<string> {
    const row = await store.db
      .getRepository(FileEntity)
      .findOne({ where: { id: fileId, buildId, removedAt: IsNull() }, select: { id: true, data: true } })
    if (!row) throw new InvalidInput([{ path: 'from.fileId', message: 'names no file of this build' }])
    return row.data.toString('utf8')
  }
  async function logOf(build: Build, logId: string) {
    const log = build.logs.find((l) => l.id === logId)
    if (!log) throw new InvalidInput([{ path: 'from.logId', message: 'names no log of this build' }])
    const doubts = logDoubtsSaid(contextOf(build), log).map((said) => wordsOf(said))
    if (doubts.length) throw new Problem(409, 'OTHER_CAR', `${doubts.join(' ')} Say first that it was driven with this car.`, { logId })
    return log
  }

  /** What a verdict is worked out from, and in which of the two views. */
  async function gather(
    build: Build,
    kind: VerdictKind,
    from: From,
  ): Promise<{ evidence: VerdictEvidence; view: View; instrument?: string }> {
    const entries = entriesOf(build, from.entryIds ?? [])
    const evidence: VerdictEvidence = { entries, frames: null, learned: null, idle: null, trace: null }
    let rehearsed = entries.some((r) => isRehearsed(r, build))
    let instrument: string | undefined
    if (from.sessionId) {
      const seen = await sessions.seenBy(build.id, from.sessionId)
      rehearsed ||= seen.device === 'bench'
      instrument = seen.device === 'bench' ? 'bench unit' : seen.name.slice(0, 80)
      if (KINDS_WITH_FRAMES.has(kind)) evidence.frames = seen.frames
      else {
        // an idle is what it is now, not what it was before the screw was turned
        const since = (seen.frames.at(-1)?.timeS ?? 0) - IDLE_LOOK_S
        const frames = seen.frames.filter((f) => f.timeS >= since)
        const columns = await pool.run({ kind: 'pack', ...(await logOfFrames(frames)) })
        evidence.idle = await pool.run({ kind: 'idle', columns, options: carIdleOptions(seenFrom(build, rehearsed ? 'rehearsal' : 'car')) })
      }
    }
    if (from.logId) {
      const log = await logOf(build, from.logId)
      rehearsed ||= log.source === 'bench'
      const view = rehearsed ? 'rehearsal' : 'car'
      if (kind === 'idle.verdict') {
        const seen = seenFrom(build, view)
        const ran = seen.tunes.find((t) => t.id === log.tuneId) ?? null
        evidence.tuneId = ran?.id ?? null
        evidence.idle = await pool.run({
          kind: 'idle',
          columns: await LogStore.columns(store, log.id),
          options: carIdleOptions(seen, ran ?? undefined),
        })
      } else {
        const { tuneId } = await LogStore.get(store, log.id)
        const tune = tuneId ? await store.tune(build.id, tuneId) : await store.tuneInUse(build, view)
        const c = contextOf(seenFrom(build, view))
        const setup = learnSetupOf(c, tune ? unpackTune(tune.document) : null, log.id)
        const logs = await LogStore.several(store, logsTogether(c, log.id))
        evidence.learned = {
          logId: log.id,
          tuneId: tune?.id ?? null,
          before: setup.before,
          result: await pool.run({ kind: 'learn', logs, setup }),
        }
      }
    }
    if (from.fileId) evidence.trace = await pool.run({ kind: 'scope', text: await fileText(build.id, from.fileId) })
    return { evidence, view: rehearsed ? 'rehearsal' : 'car', instrument }
  }

  /** What came of it, as the judgement of now has it. */
  async function recorded(buildId: string, readingId: string) {
    await sessions.changed(buildId)
    const build = await store.get(buildId)
    return judgedReading(
      build,
      build.readings.find((r) => r.id === readingId)!,
    )
  }

  app.post<{ Params: { id: string }; Body: z.infer<typeof AskVerdict> }>(
    '/api/builds/:id/verdicts',
    {
      schema: docs({
        summary: 'Work a verdict out from entries, a log, a file or the live session, and record it',
        description: `What each kind may be worked out from:\n\n${verdictKinds.map((k) => `- \`${k}\`: ${verdictWants(k).join(', ')}`).join('\n')}`,
        tags: ['job'],
        answer: JudgedReadingAnswer,
        answerStatus: 201,
        params: BuildParams,
        body: AskVerdict,
      }),
    },
    async (request, reply) => {
      const { kind, from } = request.body
      const wants = verdictWants(kind)
      if (!wants.some((one) => (one === 'entryIds' ? from.entryIds?.length : from[one])))
        throw new InvalidInput([
          { path: 'from', message: `must name ${wants.join(' or ')}: a verdict of the kind ${kind} is worked out from that` },
        ])
      const build = await store.get(request.params.id)
      const { evidence, view, instrument } = await gather(build, kind, from)
      const value = verdictOf(kind, contextOf(seenFrom(build, view)), evidence)
      const id = randomUUID()
      const rehearsed = view === 'rehearsal'
      await appendReading(store, build.id, id, { kind, value: { ...value }, ...(instrument ? { instrument } : {}) }, whoOf(request), {
        source: 'app',
        from,
        rehearsed,
      })
      return reply.code(201).send(await recorded(build.id, id))
    },
  )

  app.post<{ Params: { id: string }; Body: z.infer<typeof AskBench> }>(
    '/api/builds/:id/bench/readings',
    {
      schema: docs({
        summary: 'Read one of the bench’s instruments for the person, and record it: the rehearsal’s entry',
        tags: ['live'],
        answer: JudgedReadingAnswer,
        answerStatus: 201,
        params: BuildParams,
        body: AskBench,
      }),
    },
    async (request, reply) => {
      const { kind, at = {} } = request.body
      const build = await store.get(request.params.id)
      const live = at.live || !(benchReadingKinds as readonly EntryKind[]).includes(kind)
      const { live: _, ...held } = at
      const read = live
        ? await (await sessions.open(build.id)).readBench(kind)
        : benchReading(seenFrom(build, 'rehearsal'), kind as BenchReadingKind, held)
      const id = randomUUID()
      const input = { kind, value: { ...read.value } as Record<string, unknown>, instrument: `bench: ${read.instrument}` }
      await appendReading(store, build.id, id, input, whoOf(request), { source: 'bench' })
      return reply.code(201).send(await recorded(build.id, id))
    },
  )
}
