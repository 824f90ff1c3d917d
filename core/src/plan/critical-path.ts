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
