import { CoreError } from '../kernel/index.ts'
import { criticalPath } from './critical-path.ts'

/** A task on a calendar. Work takes a person's free hours, and a helper's with them; a trade takes its working days, a wait days whoever is free. */
export interface CalendarTask {
  id: string
  kind: 'work' | 'trade' | 'wait'
  /** hours of work; days for a trade or a wait */
  amount: number
  after: readonly string[]
  /** index of the person who does it */
  person: number
  /** index of the person who must be there at the same hours */
  helper?: number
  /** earliest day, ISO date */
  notBefore?: string
  /** days that must pass after booking: lead time of an outside trade */
  leadDays?: number
  /** day on which it was booked, ISO date; left out: when the job begins, today at the earliest */
  booked?: string
  /** a trade that works on Sundays too */
  sundays?: boolean
  done?: string
}
export interface CalendarEntry {
  id: string
  start: string
  end: string
  /** work by day: hours; empty for trades and waits */
  days: { date: string; hours: number }[]
  done: boolean
  /** days it can begin later without moving the end */
  slackDays: number
  /** it has the least slack of all: none, or what the last day leaves over */
  critical: boolean
}

const DAY_MS = 86_400_000
const dayOf = (iso: string): number => Math.round(Date.parse(`${iso}T00:00:00Z`) / DAY_MS)
const isoOf = (day: number): string => new Date(day * DAY_MS).toISOString().slice(0, 10)
/** Monday is 0. 1 January 1970 was a Thursday. */
const weekday = (day: number): number => (((day + 3) % 7) + 7) % 7
const SUNDAY = 6
/** a mistyped year, not a plan; beyond the year 9999 there are no ISO dates */
const LAST_START = '2199-12-31'
const HORIZON_DAYS = 1500
/** hours below which nothing is left to do */
const NOTHING_H = 1e-9

interface Frame {
  tasks: readonly CalendarTask[]
  hours: readonly (readonly number[])[]
  firstDay: number
  latestStart: ReadonlyMap<string, number>
}
interface Laid {
  days: Map<string, { day: number; hours: number }[]>
  began: Map<string, number>
  ended: Map<string, number>
  lastDay: number
}

function frameOf(tasks: readonly CalendarTask[], hours: readonly (readonly number[])[], start: string, today: string): Frame {
  const weekly = hours.map((week) => week.reduce((a, b) => a + b, 0))
  const idle = tasks.find((t) => t.kind === 'work' && !t.done && t.amount > 0 && !(weekly[t.person] > 0))
  if (idle) throw new CoreError('SCHEDULE_NO_TIME', idle.id, 'the person it is given to has no free hours in the week')
  const roughDays = (t: CalendarTask): number =>
    t.done ? 0 : t.kind === 'work' ? (7 * t.amount) / Math.max(weekly[t.person], 1e-6) : t.amount + (t.leadDays ?? 0)
  const network = criticalPath(tasks.map((t) => ({ id: t.id, duration: roughDays(t), after: t.after })))
  const firstDay = Math.max(dayOf(start), dayOf(today))
  if (firstDay > dayOf(LAST_START)) throw new CoreError('OUT_OF_RANGE', 'start', `the job must begin by ${LAST_START}`)
  return { tasks, hours, firstDay, latestStart: new Map(network.activities.map((a) => [a.id, a.latestStart])) }
}

/** Days a trade takes from a day on: its Sundays do not count. */
function tradeEnds(from: number, amount: number, sundays: boolean): { begins: number; ends: number } {
  const works = (day: number): boolean => sundays || weekday(day) !== SUNDAY
  let begins = from
  while (!works(begins)) begins++
  let ends = begins
  for (let left = Math.ceil(amount) - 1; left > 0;) if (works(++ends)) left--
  return { begins, ends }
}

/** Each day each person goes on with what they began, else takes the ready task with the least slack. `delayed` begins no earlier than its day. */
function lay({ tasks, hours, firstDay, latestStart }: Frame, delayed?: { id: string; day: number }): Laid {
  const left = new Map(tasks.map((t) => [t.id, t.amount]))
  const days = new Map<string, { day: number; hours: number }[]>(tasks.map((t) => [t.id, []]))
  /** first day on which what comes after may begin */
  const freeFrom = new Map<string, number>()
  const began = new Map<string, number>()
  const ended = new Map<string, number>()
  const settle = (id: string, from: number, to: number, free: number): void => {
    began.set(id, from)
    ended.set(id, to)
    freeFrom.set(id, free)
  }
  for (const t of tasks) if (t.done) settle(t.id, dayOf(t.done), dayOf(t.done), dayOf(t.done))
  const earliest = new Map(
    tasks.map((t) => [
      t.id,
      Math.max(
        firstDay,
        t.notBefore ? dayOf(t.notBefore) : firstDay,
        t.leadDays === undefined ? firstDay : (t.booked ? dayOf(t.booked) : firstDay) + t.leadDays,
        delayed?.id === t.id ? delayed.day : firstDay,
      ),
    ]),
  )
  const readyOn = (t: CalendarTask): number | null => {
    let day = earliest.get(t.id)!
    for (const id of t.after) {
      const from = freeFrom.get(id)
      if (from === undefined) return null
      day = Math.max(day, from)
    }
    return day
  }
  const begunBy = hours.map((): string | null => null)
  let open = tasks.filter((t) => !t.done)
  for (let day = firstDay; ended.size < tasks.length; day++) {
    if (day - firstDay > HORIZON_DAYS)
      throw new CoreError('SCHEDULE_NO_TIME', open[0].id, 'the job does not end within four years: nobody is free, or not with the helper')
    const free = hours.map((week) => week[weekday(day)])
    const availableTo = (t: CalendarTask): number => Math.min(free[t.person], t.helper === undefined ? Infinity : free[t.helper])
    let moved = true
    while (moved) {
      moved = false
      open = open.filter((t) => !ended.has(t.id))
      const ready = open.filter((t) => !(ended.has(t.id) || (readyOn(t) ?? Infinity) > day))
      for (const t of ready) {
        if (t.kind === 'work' && t.amount > 0) continue
        const { begins, ends } =
          t.kind === 'trade' && t.amount > 0
            ? tradeEnds(day, t.amount, t.sundays === true)
            : { begins: day, ends: day + Math.max(0, Math.ceil(t.kind === 'work' ? 0 : t.amount) - 1) }
        settle(t.id, begins, ends, t.amount > 0 && t.kind !== 'work' ? ends + 1 : day)
        moved = true
      }
      for (const person of free.keys()) {
        if (free[person] <= NOTHING_H) continue
        const candidates = ready.filter(
          (t) => t.kind === 'work' && t.person === person && !ended.has(t.id) && availableTo(t) > NOTHING_H && left.get(t.id)! > NOTHING_H,
        )
        const next =
          candidates.find((t) => t.id === begunBy[person]) ??
          candidates.sort((a, b) => latestStart.get(a.id)! - latestStart.get(b.id)!).at(0)
        if (!next) continue
        const worked = Math.min(availableTo(next), left.get(next.id)!)
        free[person] -= worked
        if (next.helper !== undefined) free[next.helper] -= worked
        left.set(next.id, left.get(next.id)! - worked)
        const list = days.get(next.id)!
        if (list.at(-1)?.day === day) list.at(-1)!.hours += worked
        else list.push({ day, hours: worked })
        if (!began.has(next.id)) began.set(next.id, day)
        begunBy[person] = next.id
        if (left.get(next.id)! <= NOTHING_H) {
          settle(next.id, began.get(next.id)!, day, day)
          begunBy[person] = null
        }
        moved = true
      }
    }
  }
  return { days, began, ended, lastDay: Math.max(firstDay, ...ended.values()) }
}

/** Last day of the job, ISO date: the calendar without its slacks. */
export const endOnCalendar = (
  tasks: readonly CalendarTask[],
  hours: readonly (readonly number[])[],
  start: string,
  today: string,
): string => isoOf(lay(frameOf(tasks, hours, start, today)).lastDay)

/** How many days later a task may begin before the job ends later: found by beginning it later. */
function slackOf(frame: Frame, laid: Laid, id: string): number {
  const from = laid.began.get(id)!
  let [holds, moves] = [0, laid.lastDay - from + 1]
  while (moves - holds > 1) {
    const middle = Math.floor((holds + moves) / 2)
    if (lay(frame, { id, day: from + middle }).lastDay > laid.lastDay) moves = middle
    else holds = middle
  }
  return holds
}

/** The chain that holds the end, by order of work and by the hands that do it, first to last. */
function chainOf({ tasks }: Frame, laid: Laid, critical: ReadonlySet<string>): string[] {
  const byId = new Map(tasks.map((t) => [t.id, t]))
  const hands = (t: CalendarTask): number[] => (t.kind === 'work' ? [t.person, ...(t.helper === undefined ? [] : [t.helper])] : [])
  const later = (a: string, b: string): number => laid.ended.get(b)! - laid.ended.get(a)! || laid.began.get(b)! - laid.began.get(a)!
  const before = (id: string, chain: readonly string[]): string | undefined => {
    const task = byId.get(id)!
    const own = hands(task)
    return [...critical]
      .filter(
        (other) =>
          !chain.includes(other) &&
          laid.ended.get(other)! <= laid.began.get(id)! &&
          (task.after.includes(other) || hands(byId.get(other)!).some((h) => own.includes(h))),
      )
      .sort(later)
      .at(0)
  }
  const chainTo = (last: string): string[] => {
    const chain: string[] = []
    for (let at: string | undefined = last; at !== undefined; at = before(at, chain)) chain.unshift(at)
    return chain
  }
  const lastEnd = Math.max(...[...critical].map((id) => laid.ended.get(id)!))
  // of several that end last, the chain that reaches furthest back
  return (
    [...critical]
      .filter((id) => laid.ended.get(id) === lastEnd)
      .map(chainTo)
      .sort((p, q) => laid.began.get(p[0])! - laid.began.get(q[0])! || q.length - p.length)
      .at(0) ?? []
  )
}

/**
 * Lays tasks over the free hours of people. Trades and waits run by the calendar. What is not done is never laid before today. Slack is what the
 * end bears: each task is begun later until the job ends later.
 * @param hours free hours by person, Monday to Sunday
 * @returns entries in the order of the tasks, the last day, and the critical chain: its tasks wait for each other by order or by hands
 * @throws CoreError SCHEDULE_NO_TIME when a task is left to a person who is never free, or the job does not end in four years
 * @source serial schedule generation with a minimum-slack priority; Kolisch, European J. Operational Research 90 (1996)
 */
export function layOverCalendar(
  tasks: readonly CalendarTask[],
  hours: readonly (readonly number[])[],
  start: string,
  today: string,
): { entries: CalendarEntry[]; end: string; chain: string[] } {
  const frame = frameOf(tasks, hours, start, today)
  const laid = lay(frame)
  const slacks = new Map(tasks.map((t) => [t.id, t.done ? 0 : slackOf(frame, laid, t.id)]))
  const open = tasks.filter((t) => !t.done)
  const least = Math.min(...open.map((t) => slacks.get(t.id)!))
  const critical = new Set(open.filter((t) => slacks.get(t.id) === least).map((t) => t.id))
  return {
    end: isoOf(laid.lastDay),
    chain: chainOf(frame, laid, critical),
    entries: tasks.map((t) => ({
      id: t.id,
      start: isoOf(laid.began.get(t.id)!),
      end: isoOf(laid.ended.get(t.id)!),
      days: laid.days.get(t.id)!.map(({ day, hours: worked }) => ({ date: isoOf(day), hours: worked })),
      done: t.done !== undefined,
      slackDays: slacks.get(t.id)!,
      critical: critical.has(t.id),
    })),
  }
}
