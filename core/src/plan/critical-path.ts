import { CoreError } from '../kernel/index.ts'

/** One activity of a network: how long it takes and what must be finished before it. */
export interface Activity {
  id: string
  duration: number
  after: readonly string[]
}
export interface ScheduledActivity {
  id: string
  earliestStart: number
  earliestFinish: number
  latestStart: number
  latestFinish: number
  slack: number
  critical: boolean
}

/**
 * Critical path of a network of activities: earliest dates forward, latest dates backward, slack between them.
 * @returns activities in an order that respects the constraints, the length, and the ids of one longest chain
 * @throws CoreError SCHEDULE_LOOP naming the activities that wait for each other, SCHEDULE_UNKNOWN for a predecessor that is not in the list
 * @source Kelley and Walker (1959), the critical path method; as in Hillier and Lieberman, Introduction to Operations Research
 */
export function criticalPath(activities: readonly Activity[]): { activities: ScheduledActivity[]; length: number; path: string[] } {
  const byId = new Map(activities.map((a) => [a.id, a]))
  for (const a of activities)
    for (const before of a.after)
      if (!byId.has(before)) throw new CoreError('SCHEDULE_UNKNOWN', a.id, `it waits for "${before}", which is not in the list`)
  const order: Activity[] = []
  const placed = new Set<string>()
  while (order.length < activities.length) {
    const ready = activities.filter((a) => !placed.has(a.id) && a.after.every((id) => placed.has(id)))
    if (!ready.length) {
      const stuck = activities.filter((a) => !placed.has(a.id)).map((a) => a.id)
      throw new CoreError('SCHEDULE_LOOP', stuck[0], `${stuck.join(', ')} wait for each other`)
    }
    for (const a of ready) {
      placed.add(a.id)
      order.push(a)
    }
  }
  const start = new Map<string, number>()
  const finish = new Map<string, number>()
  for (const a of order) {
    const from = Math.max(0, ...a.after.map((id) => finish.get(id)!))
    start.set(a.id, from)
    finish.set(a.id, from + a.duration)
  }
  const length = Math.max(0, ...finish.values())
  const latest = new Map<string, number>(order.map((a) => [a.id, length]))
  for (const a of [...order].reverse())
    for (const before of a.after) latest.set(before, Math.min(latest.get(before)!, latest.get(a.id)! - a.duration))
  const tolerance = 1e-9 * Math.max(1, length)
  const scheduled = order.map((a): ScheduledActivity => {
    const earliestStart = start.get(a.id)!
    const latestFinish = latest.get(a.id)!
    const slack = latestFinish - a.duration - earliestStart
    return {
      id: a.id,
      earliestStart,
      earliestFinish: earliestStart + a.duration,
      latestStart: latestFinish - a.duration,
      latestFinish,
      slack: Math.abs(slack) < tolerance ? 0 : slack,
      critical: slack < tolerance,
    }
  })
  const path: string[] = []
  let at = order.filter((a) => Math.abs(finish.get(a.id)! - length) < tolerance).at(0)
  while (at) {
    path.unshift(at.id)
    const from = start.get(at.id)!
    at = at.after.map((id) => byId.get(id)!).find((b) => Math.abs(finish.get(b.id)! - from) < tolerance && from > 0)
  }
  return { activities: scheduled, length, path }
}

/** A task on a calendar. Work takes a person's free hours; a trade or a wait takes days whoever is free. */
export interface CalendarTask {
  id: string
  kind: 'work' | 'trade' | 'wait'
  /** hours of work; days for a trade or a wait */
  amount: number
  after: readonly string[]
  /** index of the person who does it */
  person: number
  /** earliest day, ISO date */
  notBefore?: string
  /** days that must pass after booking at the start of the job: lead time of an outside trade */
  leadDays?: number
  done?: string
}
export interface CalendarEntry {
  id: string
  start: string
  end: string
  /** work by day: hours; empty for trades and waits */
  days: { date: string; hours: number }[]
  done: boolean
  /** days it could slip without moving the end */
  slackDays: number
  critical: boolean
}

const DAY_MS = 86_400_000
const dayOf = (iso: string): number => Math.round(Date.parse(`${iso}T00:00:00Z`) / DAY_MS)
const isoOf = (day: number): string => new Date(day * DAY_MS).toISOString().slice(0, 10)
/** Monday is 0. 1 January 1970 was a Thursday. */
const weekday = (day: number): number => (((day + 3) % 7) + 7) % 7
/** a mistyped year, not a plan; beyond the year 9999 there are no ISO dates */
const LAST_START = '2199-12-31'
const HORIZON_DAYS = 1500

/**
 * Lays tasks over the free hours of people: each day each person goes on with what they began, else takes the ready task with the least
 * slack. Trades and waits run by the calendar. What is not done is never laid before today.
 * @param hours free hours by person, Monday to Sunday
 * @throws CoreError SCHEDULE_NO_TIME when a task is left to a person who is never free, or the job does not end in four years
 * @source serial schedule generation with a minimum-slack priority; Kolisch, European J. Operational Research 90 (1996)
 */
export function layOverCalendar(
  tasks: readonly CalendarTask[],
  hours: readonly (readonly number[])[],
  start: string,
  today: string,
): { entries: CalendarEntry[]; end: string } {
  const weekly = hours.map((week) => week.reduce((a, b) => a + b, 0))
  const idle = tasks.find((t) => t.kind === 'work' && !t.done && t.amount > 0 && !(weekly[t.person] > 0))
  if (idle) throw new CoreError('SCHEDULE_NO_TIME', idle.id, 'the person it is given to has no free hours in the week')
  const roughDays = (t: CalendarTask): number =>
    t.done ? 0 : t.kind === 'work' ? (7 * t.amount) / Math.max(weekly[t.person], 1e-6) : t.amount + (t.leadDays ?? 0)
  const network = criticalPath(tasks.map((t) => ({ id: t.id, duration: roughDays(t), after: t.after })))
  const latestStart = new Map(network.activities.map((a) => [a.id, a.latestStart]))
  const startDay = dayOf(start)
  const firstDay = Math.max(startDay, dayOf(today))
  if (firstDay > dayOf(LAST_START)) throw new CoreError('OUT_OF_RANGE', 'start', `the job must begin by ${LAST_START}`)
  const left = new Map(tasks.map((t) => [t.id, t.amount]))
  const days = new Map<string, { date: string; hours: number }[]>(tasks.map((t) => [t.id, []]))
  /** first day on which what comes after may begin */
  const freeFrom = new Map<string, number>()
  const began = new Map<string, number>()
  const ended = new Map<string, number>()
  for (const t of tasks)
    if (t.done) {
      began.set(t.id, dayOf(t.done))
      ended.set(t.id, dayOf(t.done))
      freeFrom.set(t.id, dayOf(t.done))
    }
  const readyOn = (t: CalendarTask): number | null => {
    let day = Math.max(firstDay, t.notBefore ? dayOf(t.notBefore) : firstDay, startDay + (t.leadDays ?? 0))
    for (const id of t.after) {
      const from = freeFrom.get(id)
      if (from === undefined) return null
      day = Math.max(day, from)
    }
    return day
  }
  const begunBy = hours.map((): string | null => null)
  for (let day = firstDay; ended.size < tasks.length; day++) {
    if (day - firstDay > HORIZON_DAYS)
      throw new CoreError('SCHEDULE_NO_TIME', tasks.find((t) => !ended.has(t.id))!.id, 'the job does not end within four years')
    const free = hours.map((week) => week[weekday(day)])
    let moved = true
    while (moved) {
      moved = false
      for (const t of tasks) {
        if (ended.has(t.id) || began.has(t.id) || (t.kind === 'work' && t.amount > 0)) continue
        const ready = readyOn(t)
        if (ready === null || ready > day) continue
        const length = t.kind === 'work' ? 0 : Math.ceil(t.amount)
        began.set(t.id, day)
        ended.set(t.id, day + Math.max(0, length - 1))
        freeFrom.set(t.id, day + length)
        moved = true
      }
      for (const [person, available] of free.entries()) {
        if (available <= 1e-9) continue
        const candidates = tasks.filter((t) => {
          if (t.kind !== 'work' || t.person !== person || ended.has(t.id)) return false
          const ready = readyOn(t)
          return ready !== null && ready <= day
        })
        const next =
          candidates.find((t) => t.id === begunBy[person]) ??
          [...candidates].sort((a, b) => latestStart.get(a.id)! - latestStart.get(b.id)!)[0]
        if (!next) continue
        const worked = Math.min(available, left.get(next.id)!)
        free[person] -= worked
        left.set(next.id, left.get(next.id)! - worked)
        const list = days.get(next.id)!
        const same = list.at(-1)?.date === isoOf(day) ? list.at(-1)! : null
        if (same) same.hours += worked
        else list.push({ date: isoOf(day), hours: worked })
        if (!began.has(next.id)) began.set(next.id, day)
        begunBy[person] = next.id
        if (left.get(next.id)! <= 1e-9) {
          ended.set(next.id, day)
          freeFrom.set(next.id, day)
          begunBy[person] = null
        }
        moved = true
      }
    }
  }
  const lastDay = Math.max(firstDay, ...ended.values())
  // slack on the calendar as laid: what follows by order, or because the same person takes it up next
  const followers = new Map<string, string[]>(tasks.map((t) => [t.id, []]))
  for (const t of tasks) for (const id of t.after) followers.get(id)!.push(t.id)
  hours.forEach((_, person) => {
    const own = tasks.filter((t) => t.kind === 'work' && !t.done && t.amount > 0 && t.person === person)
    own.sort((p, q) => began.get(p.id)! - began.get(q.id)! || ended.get(p.id)! - ended.get(q.id)!)
    own.slice(1).forEach((next, i) => followers.get(own[i].id)!.push(next.id))
  })
  /** days a task could still take before a day: of its person's for work, of the calendar for what needs nobody */
  const room = (t: CalendarTask, until: number): number => {
    if (t.kind !== 'work') return Math.max(0, until - freeFrom.get(t.id)!)
    let count = 0
    for (let day = ended.get(t.id)! + 1; day < until; day++) if (hours[t.person][weekday(day)] > 0) count++
    return count
  }
  const byId = new Map(tasks.map((t) => [t.id, t]))
  const slackOf = new Map<string, number>()
  const backward = [...tasks].sort((p, q) => ended.get(q.id)! - ended.get(p.id)! || began.get(q.id)! - began.get(p.id)!)
  const settle = (id: string): number => {
    if (!slackOf.has(id)) {
      slackOf.set(id, 0)
      const rooms = followers.get(id)!.map((f) => room(byId.get(id)!, began.get(f)!) + settle(f))
      slackOf.set(id, Math.min(room(byId.get(id)!, lastDay + 1), ...rooms))
    }
    return slackOf.get(id)!
  }
  for (const t of backward) settle(t.id)
  return {
    end: isoOf(lastDay),
    entries: tasks.map((t) => ({
      id: t.id,
      start: isoOf(began.get(t.id)!),
      end: isoOf(ended.get(t.id)!),
      days: days.get(t.id)!,
      done: t.done !== undefined,
      slackDays: slackOf.get(t.id)!,
      critical: !t.done && slackOf.get(t.id) === 0,
    })),
  }
}
