import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import { contextOf, DrivePlan, learnSetupOf, logForPlan, type TuneDocument, views } from '@vectum/core'
import { gone, type HeavyPool } from '../heavy/pool.ts'
import type { LastLog } from '../heavy/tasks.ts'
import { BuildParams, docs } from '../http/schema.ts'
import { type Build, type BuildStore, seenFrom, unpackTune } from '../job/store.ts'
import { LogStore } from '../logfile/store.ts'

/** The newest log of a build as a view shows it, ready for a plan; null before there is one. */
export async function lastLog(
  store: BuildStore,
  build: Build,
  view: (typeof views)[number],
  tune: TuneDocument | null,
): Promise<LastLog | null> {
  const c = contextOf(build)
  const last = logForPlan(c, view === 'rehearsal')
  if (!last) return null
  return {
    logs: await LogStore.several(store, last.logIds),
    setup: last.counts ? learnSetupOf(c, tune, last.logIds.at(-1)!) : null,
  }
}

const ViewQuery = z.object({ view: z.enum(views).default('car').describe('rehearsal: the bench’s logs count as well') })

export function driveRoutes(app: FastifyInstance, store: BuildStore, pool: HeavyPool): void {
  app.get<{ Params: { id: string }; Querystring: z.infer<typeof ViewQuery> }>(
    '/api/builds/:id/drive-plan',
    {
      schema: docs({
        summary: 'What should be driven next: holds and steady runs on the road, and what is left for a dynamometer',
        tags: ['logs'],
        answer: DrivePlan,
        params: BuildParams,
        querystring: ViewQuery,
      }),
    },
    async (request, reply) => {
      const { view } = request.query
      const build = seenFrom(await store.get(request.params.id), view)
      const tune = await store.tuneInUse(build, view)
      const document = tune && unpackTune(tune.document)
      const { facts, choices } = build
      return pool.run(
        { kind: 'plan-drive', build: { facts, choices }, tune: document, last: await lastLog(store, build, view, document) },
        gone(reply),
      )
    },
  )
}
