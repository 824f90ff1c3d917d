import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import { Board, BuildAnswer, Choices, type Facts, likeCar, mergePatch, ToldFacts, views, zodErrors } from '@vectum/core'
import { InvalidInput, Problem } from '../http/problem.ts'
import { BuildParams, docs } from '../http/schema.ts'
import { whoOf } from '../people/identity.ts'
import { answerText, evaluated, type BuildStore } from './store.ts'

const ViewQuery = z.object({ view: z.enum(views).default('car').describe('rehearsal: the bench’s entries count as well') })
const Title = z.string().trim().min(1, 'must not be empty').max(120, 'must be at most 120 characters')
const NewBuild = z.strictObject({
  id: z.uuid().optional(),
  title: Title,
  facts: ToldFacts.optional(),
  choices: Choices.optional(),
  like: z.uuid().optional().describe('another build of the shop: its facts are taken over, to be looked at; its proofs and tunes are not'),
})
const Patch = z.strictObject({
  title: Title.optional(),
  facts: z.record(z.string(), z.unknown()).optional(),
  choices: z.record(z.string(), z.unknown()).optional(),
  change: z
    .enum(['car', 'record'])
    .optional()
    .describe('whether it was done on the car (left out), so that proofs taken before may fall, or only the record was wrong'),
})
/** Facts and choices after a merge, or a refusal that names each field with its bound and unit. */
function parseMerged(merged: { facts: unknown; choices: unknown }): { facts: Facts; choices: Choices } {
  const parsed = z.strictObject({ facts: ToldFacts, choices: Choices }).safeParse(merged)
  if (!parsed.success) throw new InvalidInput(zodErrors(parsed.error))
  return parsed.data
}

export function buildRoutes(app: FastifyInstance, store: BuildStore): void {
  app.get(
    '/api/builds',
    { schema: docs({ summary: 'The board: every build, where it stands, what comes next', tags: ['job'], answer: Board }) },
    async () => {
      const builds = await store.all()
      return builds.map((build) => {
        const { stations: reports, next } = evaluated(build)
        const { car } = build.facts
        return {
          id: build.id,
          title: build.title,
          car: car ?? {},
          updatedAt: build.updatedAt,
          stations: reports.map(({ id, title, state, findings }) => ({
            id,
            title,
            state,
            stops: findings.filter((f) => f.severity === 'stop').map((f) => f.message),
          })),
          temporary: reports.flatMap((r) => r.findings).find((f) => f.id === 'unit.temporary')?.because ?? null,
          next,
        }
      })
    },
  )

  app.post<{ Body: z.infer<typeof NewBuild> }>(
    '/api/builds',
    { schema: docs({ summary: 'Open a build', tags: ['job'], body: NewBuild, answer: BuildAnswer, answerStatus: 201 }) },
    async (request, reply) => {
      const { like, ...own } = request.body
      const begun = like ? likeCar(await store.get(like)) : {}
      const build = await store.create(mergePatch(begun, own) as typeof own, whoOf(request))
      return reply.code(201).header('etag', `"${build.version}"`).type('application/json; charset=utf-8').send(answerText(build))
    },
  )

  app.get<{ Params: { id: string }; Querystring: z.infer<typeof ViewQuery> }>(
    '/api/builds/:id',
    {
      schema: docs({ summary: 'One build with findings', tags: ['job'], params: BuildParams, querystring: ViewQuery, answer: BuildAnswer }),
    },
    async (request, reply) => {
      const build = await store.get(request.params.id)
      return reply.header('etag', `"${build.version}"`).type('application/json; charset=utf-8').send(answerText(build, request.query.view))
    },
  )

  app.patch<{ Params: { id: string }; Body: z.infer<typeof Patch> }>(
    '/api/builds/:id',
    {
      schema: docs({
        summary: 'Merge patch of title, facts and choices',
        description:
          'RFC 7396: null takes a field away. `If-Match` carries the version the change was made on; 412 brings the current build in `current`.',
        tags: ['job'],
        params: BuildParams,
        body: Patch,
        answer: BuildAnswer,
        consumes: ['application/json', 'application/merge-patch+json'],
      }),
    },
    async (request, reply) => {
      const match = /^(?:W\/)?"?(\d+)"?$/.exec(request.headers['if-match'] ?? '')
      if (!match)
        throw new Problem(428, 'VERSION_NEEDED', 'Send If-Match with the version of the build that you changed, for example If-Match: "3".')
      const build = await store.patch(
        request.params.id,
        Number(match[1]),
        request.body,
        whoOf(request),
        request.body.change ?? 'car',
        parseMerged,
      )
      return reply.header('etag', `"${build.version}"`).type('application/json; charset=utf-8').send(answerText(build))
    },
  )
}
