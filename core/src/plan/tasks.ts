import type { Context, JudgedContext } from '../kernel/index.ts'
import type { Experience, TaskEntry } from './choices.ts'
import type { PlanTask } from './contribution.ts'
import { schoolOf } from './ways.ts'

/** Hours grow or shrink with who does it, and so does how far they may miss (handbook 01; the spread is our own). */
export const experience: Record<Experience, { label: string; factor: number; low: number; high: number }> = {
  first: { label: 'first conversion', factor: 1.8, low: 0.8, high: 1.6 },
  before: { label: 'done before', factor: 1, low: 0.85, high: 1.35 },
  shop: { label: 'shop', factor: 0.7, low: 0.9, high: 1.25 },
}
const DELIVERY_DAYS = 7
const DYNO_LEAD_DAYS = 14
/** Tasks of the plan itself, and of stations that have no screen yet. Base hours are those of handbook 01. */
export function ownTasks(c: Context): PlanTask[] {
  const { facts } = c
  const dyno: PlanTask[] =
    schoolOf(c, 'learning') === 'b'
      ? [
          {
            id: 'dyno-day',
            title: 'Dynamometer: steady states, cell by cell',
            station: 'learn',
            kind: 'trade',
            base: 1,
            after: ['idle'],
            before: ['learning'],
            leadDays: DYNO_LEAD_DAYS,
            because: 'learning on a dyno',
          },
        ]
      : []
  return [
    { id: 'parts-arrive', title: 'Parts delivered', station: 'plan', kind: 'wait', base: DELIVERY_DAYS, after: [] },
    {
      id: 'mock-up',
      title: 'Mock-up: check contents, lay out, fix positions before anything is removed',
      station: 'plan',
      kind: 'work',
      base: 2,
      after: ['parts-arrive'],
    },
    ...dyno,
    {
      id: 'proving',
      title: facts.place?.onStand
        ? 'Proving on the stand: timing, oil, leaks, hot restart'
        : 'Proving: timing, before and after, hot restart',
      station: 'prove',
      kind: 'work',
      base: 2,
      after: ['learning', 'idle', 'hot-leak-check'],
    },
  ]
}

/** Links "before" to "after", leaves out what this job does not have, and puts each task behind what it waits for. */
function inOrder(tasks: readonly PlanTask[]): PlanTask[] {
  const ids = new Set(tasks.map((t) => t.id))
  const linked = tasks.map(({ before: _, ...task }) => ({
    ...task,
    after: [...task.after, ...tasks.filter((t) => t.before?.includes(task.id)).map((t) => t.id)].filter((id) => ids.has(id)),
  }))
  const placed = new Set<string>()
  const ordered: PlanTask[] = []
  while (ordered.length < linked.length) {
    const next = linked.find((t) => !placed.has(t.id) && t.after.every((id) => placed.has(id)))
    // a circle is left to the schedule, which refuses it by name
    if (!next) return [...ordered, ...linked.filter((t) => !placed.has(t.id))]
    placed.add(next.id)
    ordered.push(next)
  }
  return ordered
}

/** Tasks that want a road under the engine: one on a stand has none of them, and is proven at the stand. */
const ROAD_TASKS: ReadonlySet<string> = new Set(['learning', 'first-week', 'week-leak-check'])

/** Tasks of the conversion, from all stations, with what must come before each and what the record proves done. */
export function planTasks(c: JudgedContext): PlanTask[] {
  const tasks = inOrder(c.contributed('tasks').filter((t) => !(c.facts.place?.onStand && ROAD_TASKS.has(t.id))))
  // what is proven done proves what it waited for: an engine that ran was wired
  const byId = new Map(tasks.map((t) => [t.id, t]))
  const doneOn = new Map<string, string>()
  const settle = (id: string, on: string): void => {
    if (!doneOn.has(id) || doneOn.get(id)! > on) {
      doneOn.set(id, on)
      for (const before of byId.get(id)!.after) settle(before, on)
    }
  }
  for (const { id, provenDone } of tasks) if (provenDone) settle(id, provenDone.slice(0, 10))
  return tasks.map((t) => (doneOn.has(t.id) ? { ...t, provenDone: doneOn.get(t.id)! } : t))
}

/** Hours (or days) a task is taken for, with what the person said of it. */
export function taskAmount(task: PlanTask, entry: TaskEntry | undefined, who: Experience, spread: 'low' | 'mid' | 'high'): number {
  if (task.kind !== 'work') return entry?.hours ?? task.base
  const stretch = spread === 'mid' ? 1 : experience[who][spread]
  if (entry?.hoursLeft !== undefined) return entry.hoursLeft * stretch
  return (entry?.hours ?? task.base * experience[who].factor) * stretch
}

/** All hours of work, as a span: never one figure. */
export function planHours(c: JudgedContext): { low: number; mid: number; high: number } {
  const who = c.plan.experience ?? 'before'
  const sum = (spread: 'low' | 'mid' | 'high') =>
    planTasks(c)
      .filter((t) => t.kind === 'work')
      .reduce((all, t) => all + taskAmount(t, c.plan.tasks?.[t.id], who, spread), 0)
  return { low: sum('low'), mid: sum('mid'), high: sum('high') }
}
