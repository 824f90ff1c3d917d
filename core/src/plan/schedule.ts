import type { JudgedContext } from '../kernel/index.ts'
import type { Person, TaskEntry } from './choices.ts'
import type { PlanTask } from './contribution.ts'
import { type CalendarEntry, type CalendarTask, endOnCalendar, layOverCalendar } from './calendar.ts'
import { partsList } from './parts.ts'
import { planTasks, taskAmount } from './tasks.ts'

/** Free hours taken until the person says theirs: two evenings and the weekend. */
export const defaultPeople: Person[] = [{ name: 'Me', hours: [0, 2, 0, 2, 0, 5, 4] }]

/** Who does it, and who stands by: the first of the others who is free on a day with them. */
function handsOf({ helper }: PlanTask, own: TaskEntry | undefined, people: readonly Person[]): { person: number; helper?: number } {
  const person = Math.min(own?.person ?? 0, people.length - 1)
  const together = (other: number): boolean =>
    other !== person && people[other].hours.some((free, day) => free > 0 && people[person].hours[day] > 0)
  const found = helper ? [...people.keys()].find(together) : undefined
  return { person, ...(found === undefined ? {} : { helper: found }) }
}

export interface ScheduledTask extends PlanTask, CalendarEntry {
  amount: number
  low: number
  high: number
  person: string | null
  notBefore: string | null
  proven: boolean
}
export interface PlanSchedule {
  start: string
  tasks: ScheduledTask[]
  /** the chain that holds the end, by order of work and by hands, first to last */
  criticalPath: string[]
  hours: { low: number; mid: number; high: number }
  end: { low: string; mid: string; high: string }
  /** stand-ins in use */
  assumed: string[]
}

/**
 * The job over the calendar: what is done stays where it was done, what is late moves to today and pushes the rest.
 * @param today ISO date; the core has no clock
 * @throws CoreError SCHEDULE_NO_TIME when a person with tasks has no free hours
 */
export function planSchedule(c: JudgedContext, today: string): PlanSchedule {
  const { plan } = c
  const tasks = planTasks(c)
  const people = plan.people ?? defaultPeople
  const who = plan.experience ?? 'before'
  const start = plan.start ?? today
  const parts = partsList(c)
  const arrival = parts
    .map((p) => p.arrives)
    .filter((d): d is string => d !== null)
    .sort()
    .at(-1)
  const allHere = parts.length > 0 && parts.every((p) => p.status === 'have' || p.status === 'fitted')
  const calendarTasks = (spread: 'low' | 'mid' | 'high'): CalendarTask[] =>
    tasks.map((t) => {
      const own = plan.tasks?.[t.id]
      const done = own?.done ?? t.provenDone ?? (t.id === 'parts-arrive' && allHere ? today : undefined)
      const arrives = t.id === 'mock-up' ? arrival : undefined
      const notBefore = [own?.notBefore, arrives]
        .filter((d): d is string => d !== undefined)
        .sort()
        .at(-1)
      return {
        id: t.id,
        kind: t.kind,
        amount: t.id === 'parts-arrive' && arrival ? 0 : taskAmount(t, own, who, spread),
        after: t.after,
        ...handsOf(t, own, people),
        ...(own?.booked ? { booked: own.booked } : {}),
        ...(own?.sundays ? { sundays: true } : {}),
        ...(notBefore ? { notBefore } : {}),
        ...(t.leadDays !== undefined ? { leadDays: own?.leadDays ?? t.leadDays } : {}),
        ...(done ? { done } : {}),
      }
    })
  const hours = people.map((p) => p.hours)
  const mid = calendarTasks('mid')
  const laid = layOverCalendar(mid, hours, start, today)
  const low = calendarTasks('low')
  const high = calendarTasks('high')
  const work = (list: CalendarTask[]) => list.filter((t) => t.kind === 'work').reduce((all, t) => all + t.amount, 0)
  return {
    start,
    criticalPath: laid.chain,
    hours: { low: work(low), mid: work(mid), high: work(high) },
    end: { low: endOnCalendar(low, hours, start, today), mid: laid.end, high: endOnCalendar(high, hours, start, today) },
    assumed: [
      ...(plan.people ? [] : ['two evenings and the weekend free']),
      ...(plan.start ? [] : ['begins today']),
      ...(plan.experience ? [] : ['hands that have done it before']),
      ...tasks
        .filter((t, i) => t.helper && !mid[i].done && mid[i].helper === undefined)
        .map((t) => `a helper from elsewhere for “${t.title}”`),
    ],
    tasks: tasks.map((t, i) => ({
      ...t,
      ...laid.entries[i],
      amount: mid[i].amount,
      low: low[i].amount,
      high: high[i].amount,
      person: t.kind === 'work' ? people[mid[i].person].name : null,
      notBefore: mid[i].notBefore ?? null,
      proven: t.provenDone !== undefined,
    })),
  }
}

/** Whether a task holds the end, in words. */
export const slackSays = ({ critical, slackDays }: Pick<ScheduledTask, 'critical' | 'slackDays'>): string => {
  const later = `may begin ${slackDays} ${slackDays === 1 ? 'day' : 'days'} later`
  if (!critical) return later
  return slackDays ? `on the critical chain, ${later}` : 'on the critical chain'
}
