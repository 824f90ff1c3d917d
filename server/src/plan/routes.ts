import type { FastifyInstance } from 'fastify'
import { createEvents, type EventAttributes } from 'ics'
import { z } from 'zod'
import {
  Choices,
  contextOf,
  CoreError,
  criticalPath,
  effectOf,
  Facts,
  judgeRoutes,
  partsCost,
  partsFromCsv,
  partsList,
  partsToCsv,
  planHours,
  planSchedule,
  planSizes,
  recommend,
  EffectAnswer,
  NetworkAnswer,
  Parts,
  PartsPatched,
  PlanAnswer,
  ScheduleAnswer,
} from '@vectum/core'
import { Problem } from '../http/problem.ts'
import { BuildParams, docs } from '../http/schema.ts'
import { whoOf } from '../people/identity.ts'
import type { Build, BuildStore } from '../job/store.ts'

const ScheduleQuery = z.object({ today: z.iso.date().optional().describe('left out: the server’s date') })
const Network = z.strictObject({
  activities: z
    .array(
      z.strictObject({
        id: z.string().min(1).max(80),
        duration: z.number().min(0).max(1e6),
        after: z.array(z.string().max(80)).max(100).default([]),
      }),
    )
    .min(1)
    .max(1000),
})
const Effect = z.strictObject({ choices: z.record(z.string(), z.unknown()) })

const todayIso = (): string => new Date().toISOString().slice(0, 10)
const scheduleOf = (build: Build, today: string | undefined) => planSchedule(contextOf(build), today ?? todayIso())
type IcsDate = [number, number, number]
const icsDate = (iso: string): IcsDate => iso.split('-').map(Number) as IcsDate
const dayAfter = (iso: string): string => new Date(Date.parse(`${iso}T00:00:00Z`) + 86_400_000).toISOString().slice(0, 10)

/** Runs of days that follow each other, so that work with a pause is not one long event. */
function runsOf(task: {
  start: string
  end: string
  days: { date: string; hours: number }[]
}): { from: string; to: string; hours: number | null }[] {
  if (!task.days.length) return [{ from: task.start, to: task.end, hours: null }]
  const runs: { from: string; to: string; hours: number }[] = []
  for (const { date, hours } of task.days) {
    const last = runs.at(-1)
    if (last && dayAfter(last.to) === date) {
      last.to = date
      last.hours += hours
    } else runs.push({ from: date, to: date, hours })
  }
  return runs
}

/** The schedule as iCalendar, RFC 5545: an all-day event for each run of days of each task still to do. */
function calendarOf(build: Build, today: string | undefined): string {
  const events: EventAttributes[] = scheduleOf(build, today)
    .tasks.filter((t) => !t.done && (t.amount > 0 || t.kind !== 'work'))
    .flatMap((t) =>
      runsOf(t).map((run, i): EventAttributes => ({
        uid: `${t.id}-${i}-${build.id}@vectum`,
        title: `${build.title}: ${t.title}`,
        start: icsDate(run.from),
        end: icsDate(dayAfter(run.to)),
        description: [
          run.hours === null ? (t.kind === 'trade' ? 'outside trade' : 'waiting time') : `${run.hours.toFixed(1)} h, ${t.person ?? ''}`,
          t.helper ? 'needs a helper' : '',
          t.critical ? 'on the critical path' : `may slip ${t.slackDays} days`,
        ]
          .filter(Boolean)
          .join('; '),
        categories: [t.kind],
        busyStatus: t.kind === 'work' ? 'BUSY' : 'FREE',
        productId: 'vectum/schedule',
      })),
    )
  const { error, value } = createEvents(events)
  if (error || !value) throw error ?? new Error('no calendar was made')
  return value
}

export function planRoutes(app: FastifyInstance, store: BuildStore): void {
  app.get<{ Params: { id: string } }>(
    '/api/builds/:id/plan',
    {
      schema: docs({
        summary: 'Routes judged against the car, recommendation, sizes, cost and hours',
        tags: ['plan'],
        answer: PlanAnswer,
        params: BuildParams,
      }),
    },
    async (request) => {
      const c = contextOf(await store.get(request.params.id))
      return {
        routes: judgeRoutes(c),
        recommendation: recommend(c),
        sizes: planSizes(c),
        cost: partsCost(partsList(c)),
        hours: planHours(c),
      }
    },
  )

  app.post<{ Params: { id: string }; Body: z.infer<typeof Effect> }>(
    '/api/builds/:id/plan/effect',
    {
      config: { access: 'reader' },
      schema: docs({
        summary: 'What a change of choices would do to cost, hours and findings; nothing is stored',
        tags: ['plan'],
        answer: EffectAnswer,
        params: BuildParams,
        body: Effect,
      }),
    },
    async (request) => effectOf(await store.get(request.params.id), request.body),
  )

  app.get<{ Params: { id: string } }>(
    '/api/builds/:id/parts',
    { schema: docs({ summary: 'Parts list', tags: ['plan'], answer: Parts, params: BuildParams }) },
    async (request) => partsList(contextOf(await store.get(request.params.id))),
  )
  app.get<{ Params: { id: string } }>(
    '/api/builds/:id/parts.csv',
    { schema: docs({ summary: 'Parts list as CSV', tags: ['plan'], params: BuildParams }) },
    async (request, reply) =>
      reply
        .type('text/csv; charset=utf-8')
        .header('content-disposition', 'attachment; filename="parts.csv"')
        .send(partsToCsv(partsList(contextOf(await store.get(request.params.id))))),
  )
  app.put<{ Params: { id: string }; Body: string }>(
    '/api/builds/:id/parts.csv',
    {
      schema: docs({
        summary: 'Quantity, price, status, arrival and note of each line, by its id',
        tags: ['plan'],
        answer: PartsPatched,
        params: BuildParams,
        consumes: ['text/csv'],
      }),
    },
    async (request) => {
      const build = await store.get(request.params.id)
      if (typeof request.body !== 'string' || request.body.trim() === '')
        throw new Problem(400, 'FILE_MISSING', 'Send the parts list as text/csv.')
      const parts = partsFromCsv(request.body, partsList(contextOf(build)))
      const changed = Object.keys(parts).length
      if (changed)
        await store.patch(build.id, build.version, { choices: { plan: { parts } } }, whoOf(request), 'car', (merged) => ({
          facts: Facts.parse(merged.facts),
          choices: Choices.parse(merged.choices),
        }))
      return { changed, parts: partsList(contextOf(await store.get(build.id))) }
    },
  )

  app.get<{ Params: { id: string }; Querystring: z.infer<typeof ScheduleQuery> }>(
    '/api/builds/:id/schedule',
    {
      schema: docs({
        summary: 'The job over the calendar',
        tags: ['plan'],
        answer: ScheduleAnswer,
        params: BuildParams,
        querystring: ScheduleQuery,
      }),
    },
    async (request) => scheduleOf(await store.get(request.params.id), request.query.today),
  )
  app.get<{ Params: { id: string }; Querystring: z.infer<typeof ScheduleQuery> }>(
    '/api/builds/:id/schedule.ics',
    { schema: docs({ summary: 'The job as iCalendar', tags: ['plan'], params: BuildParams, querystring: ScheduleQuery }) },
    async (request, reply) =>
      reply
        .type('text/calendar; charset=utf-8')
        .header('content-disposition', 'attachment; filename="schedule.ics"')
        .send(calendarOf(await store.get(request.params.id), request.query.today)),
  )

  app.post<{ Body: z.infer<typeof Network> }>(
    '/api/schedule/critical-path',
    {
      config: { access: 'reader' },
      schema: docs({ summary: 'Critical path of any network of activities', tags: ['plan'], answer: NetworkAnswer, body: Network }),
    },
    async (request) => {
      const ids = request.body.activities.map((a) => a.id)
      const twice = ids.find((id, i) => ids.indexOf(id) !== i)
      if (twice) throw new CoreError('OUT_OF_RANGE', 'activities', `"${twice}" stands twice`)
      return criticalPath(request.body.activities)
    },
  )
}
