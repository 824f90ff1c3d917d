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
  type PlanSchedule,
  planSchedule,
  planSizes,
  recommend,
  type ScheduledTask,
  slackSays,
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

/** When free hours begin until somebody moves the event: evenings after work, whole days in the morning. Minutes of the day. */
const EVENING_MIN = 18 * 60
const MORNING_MIN = 9 * 60
const EVENING_LASTS_H = 5
const isWeekend = (iso: string): boolean => [0, 6].includes(new Date(`${iso}T00:00:00Z`).getUTCDay())

/** Hours of work as timed events, one after another for each person; trades and waits as whole days that keep nobody busy. */
function eventsOf({ tasks }: PlanSchedule, build: Build): EventAttributes[] {
  const open = tasks.filter((t) => !t.done && (t.amount > 0 || t.kind !== 'work'))
  const hoursOn = new Map<string, number>()
  const key = (person: string | null, date: string) => `${person}|${date}`
  for (const t of open) for (const d of t.days) hoursOn.set(key(t.person, d.date), (hoursOn.get(key(t.person, d.date)) ?? 0) + d.hours)
  const begun = new Map<string, number>()
  const about = (t: ScheduledTask, amount: string, part: number): EventAttributes =>
    ({
      uid: `${t.id}-${part}-${build.id}@vectum`,
      title: `${build.title}: ${t.title}`,
      description: [amount, t.helper ? 'needs a helper' : '', slackSays(t)].filter(Boolean).join('; '),
      categories: [t.kind],
      productId: 'vectum/schedule',
    }) as EventAttributes
  const inOrder = [...open].sort((a, b) => a.start.localeCompare(b.start) || a.end.localeCompare(b.end))
  return inOrder.flatMap((t): EventAttributes[] => {
    if (!t.days.length)
      return [
        {
          ...about(t, t.kind === 'trade' ? 'outside trade' : 'waiting time', 0),
          start: icsDate(t.start),
          end: icsDate(dayAfter(t.end)),
          busyStatus: 'FREE',
        },
      ]
    return t.days.map(({ date, hours }, i) => {
      const day = key(t.person, date)
      const from = begun.get(day) ?? (isWeekend(date) || hoursOn.get(day)! > EVENING_LASTS_H ? MORNING_MIN : EVENING_MIN)
      const minutes = Math.max(1, Math.round(60 * hours))
      begun.set(day, from + minutes)
      return {
        ...about(t, `${hours.toFixed(1)} h, ${t.person ?? ''}`, i),
        start: [...icsDate(date), Math.floor(from / 60), from % 60],
        startInputType: 'local',
        startOutputType: 'local',
        duration: { hours: Math.floor(minutes / 60), minutes: minutes % 60 },
        busyStatus: 'BUSY',
      }
    })
  })
}

/** The schedule as iCalendar, RFC 5545, in the local time of who opens it. */
function calendarOf(build: Build, today: string | undefined): string {
  const { error, value } = createEvents(eventsOf(scheduleOf(build, today), build))
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
