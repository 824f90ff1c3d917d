import type { JudgedContext } from '../kernel/index.ts'
import type { Person } from './choices.ts'
import type { PlanTask } from './contribution.ts'
import { type CalendarEntry, type CalendarTask, criticalPath, layOverCalendar } from './critical-path.ts'
import { partsList } from './parts.ts'
import { planTasks, taskAmount } from './tasks.ts'

/** Free hours taken until the person says theirs: two evenings and the weekend. */
export const defaultPeople: Person[] = [{ name: 'Me', hours: [0, 2, 0, 2, 0, 5, 4] }]

export interface ScheduledTask extends PlanTask, CalendarEntry {
  amount: number
  low: number
  high: number
  person: string | null
  /** latest finish less earliest, in hours of work, in the network without a calendar */
  notBefore: string | null
  proven: boolean
}
export interface PlanSchedule {
  start: string
  tasks: ScheduledTask[]
  /** the chain without slack, in order */
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
        person: Math.min(own?.person ?? 0, people.length - 1),
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
  const weekly = hours.map((week) => week.reduce((a, b) => a + b, 0))
  const network = criticalPath(
    mid.map((t) => ({
      id: t.id,
      duration: t.done ? 0 : t.kind === 'work' ? (7 * t.amount) / Math.max(weekly[t.person], 1e-6) : t.amount + (t.leadDays ?? 0),
      after: t.after,
    })),
  )
  return {
    start,
    criticalPath: network.path,
    hours: { low: work(low), mid: work(mid), high: work(high) },
    end: { low: layOverCalendar(low, hours, start, today).end, mid: laid.end, high: layOverCalendar(high, hours, start, today).end },
    assumed: [
      ...(plan.people ? [] : ['two evenings and the weekend free']),
      ...(plan.start ? [] : ['begins today']),
      ...(plan.experience ? [] : ['hands that have done it before']),
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
