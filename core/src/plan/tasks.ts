import { hasSump } from '../fuel/circuit.ts'
import { leakState } from '../fuel/joints.ts'
import type { Context } from '../job/context.ts'
import type { StationId } from '../job/finding.ts'
import { latest, readingsOf } from '../job/readings.ts'
import { CONVERGED_RMS_PCT, CONVERGED_TIME_PCT } from '../learn/findings.ts'
import type { Experience, TaskEntry } from './choices.ts'

/** Where a task belongs on the job line; stations without a screen yet count too. */
export type TaskStation = StationId | 'wiring' | 'fitup' | 'idle' | 'prove'
export interface PlanTask {
  id: string
  title: string
  station: TaskStation
  kind: 'work' | 'trade' | 'wait'
  /** base: hours of experienced hands at home; days for a trade or a wait */
  base: number
  after: string[]
  leadDays?: number
  helper?: boolean
  /** what brought this task in, when it is not part of every conversion */
  because?: string
  /** day on which the logbook proves it was done: no tick needed */
  provenDone?: string
}

/** Hours grow or shrink with who does it, and so does how far they may miss (handbook 01; the spread is our own). */
export const experience: Record<Experience, { label: string; factor: number; low: number; high: number }> = {
  first: { label: 'first conversion', factor: 1.8, low: 0.8, high: 1.6 },
  before: { label: 'done before', factor: 1, low: 0.85, high: 1.35 },
  shop: { label: 'shop', factor: 0.7, low: 0.9, high: 1.25 },
}
const DELIVERY_DAYS = 7
const WELDER_LEAD_DAYS = 10
const TANK_LEAD_DAYS = 14
const CURE_DAYS = 1
const FIRST_WEEK_DAYS = 7
const BASE_CIRCUITS = 8
const HOURS_PER_CIRCUIT = 0.4

/** Circuits of the new loom, for the wiring hours. */
const circuits = (c: Context): number =>
  8 +
  (c.plan.timingControl ? 1 : 0) +
  (c.plan.electronicThrottle ? 2 : 0) +
  (c.facts.electrics?.fan === 'electric' ? 1 : 0) +
  (c.fuel.liftPump?.kind === 'electric' ? 1 : 0)

/** Tasks of the conversion from choices and findings, with what must come before. Base hours are those of handbook 01. */
export function planTasks(c: Context): PlanTask[] {
  const { plan, fuel, spark, facts, readings } = c
  const tasks: PlanTask[] = []
  const have = new Set<string>()
  const add = (task: PlanTask): void => {
    have.add(task.id)
    tasks.push(task)
  }
  const only = (...ids: string[]) => ids.filter((id) => have.has(id))
  add({
    id: 'mock-up',
    title: 'Mock-up: check contents, lay out, fix positions before anything is removed',
    station: 'plan',
    kind: 'work',
    base: 2,
    after: ['parts-arrive'],
  })
  tasks.unshift({ id: 'parts-arrive', title: 'Parts delivered', station: 'plan', kind: 'wait', base: DELIVERY_DAYS, after: [] })
  have.add('parts-arrive')
  // sub-jobs the findings bring
  const extra = (id: string, title: string, hours: number, because: string, station: TaskStation = 'survey') =>
    add({ id, title, station, kind: 'work', base: hours, after: [], because })
  if (facts.electrics?.polarity === 'positive-earth') extra('polarity', 'Convert the car to negative earth', 4, 'positive earth')
  if (facts.electrics?.charging === 'dynamo') extra('alternator', 'Fit an alternator', 3, 'dynamo')
  if (facts.ignition?.leads === 'solid-core' || facts.ignition?.plugs === 'plain')
    extra('leads-plugs', 'Resistive leads and resistor plugs', 0.7, 'interference')
  if (facts.fuel?.tankVented === false) extra('tank-vent', 'Vent the tank with a roll-over valve', 1.5, 'tank not vented', 'fuel')
  if (facts.health?.vacuumLeaks || facts.exhaust?.leaks) extra('leaks', 'Cure vacuum and exhaust leaks', 2, 'leaks found')
  if (facts.health?.valveLashSet === false) extra('valve-lash', 'Set the valves', 1.5, 'valve lash')
  const repairs = only('polarity', 'alternator', 'leads-plugs', 'tank-vent', 'leaks', 'valve-lash')

  // outside trades are booked first, so that they are done before fitting begins
  const trades: string[] = []
  if (facts.exhaust?.bung !== 'after-merge') {
    add({
      id: 'sensor-boss',
      title: 'Welder: boss for the exhaust sensor',
      station: 'fitup',
      kind: 'trade',
      base: 1,
      after: [],
      leadDays: WELDER_LEAD_DAYS,
    })
    trades.push('sensor-boss')
  }
  if (fuel.pumpPlace === 'in-tank' && fuel.layout && !hasSump(fuel.layout)) {
    add({
      id: 'tank-work',
      title: 'Tank trade: opening, baffle and flange for the pump',
      station: 'fuel',
      kind: 'trade',
      base: 2,
      after: [],
      leadDays: TANK_LEAD_DAYS,
    })
    trades.push('tank-work')
  }
  add({
    id: 'removal',
    title: 'Battery off, fuel drained, carburettor and old parts off',
    station: 'fitup',
    kind: 'work',
    base: 1.5,
    after: ['mock-up', ...trades, ...repairs],
  })

  const layout = fuel.layout ?? 'return'
  const fuelHours = { return: 8, returnless: 5, 'lift-sump': 4, 'surge-tank': 4 }[layout]
  add({
    id: 'fuel-system',
    title: 'Fuel system: pump, lines, filters, regulator',
    station: 'fuel',
    kind: 'work',
    base: fuelHours,
    after: ['removal'],
  })
  add({ id: 'sealant', title: 'Sealant cures', station: 'fuel', kind: 'wait', base: CURE_DAYS, after: ['fuel-system'] })
  const route = plan.route ?? 'throttle-body'
  const routeHours = { 'throttle-body': 2, 'multi-port': 7, 'individual-runner': 10 }[route]
  add({
    id: 'induction',
    title: {
      'throttle-body': 'Throttle body on, linkage, air cleaner',
      'multi-port': 'Manifold, rail and throttle on',
      'individual-runner': 'Throttles on, linkage balanced',
    }[route],
    station: 'fitup',
    kind: 'work',
    base: routeHours,
    after: ['removal'],
  })
  if (plan.electronicThrottle)
    add({
      id: 'pedal',
      title: 'Pedal sensor and throttle motor',
      station: 'fitup',
      kind: 'work',
      base: 2.5,
      after: ['induction'],
      because: 'electronic throttle',
    })
  if (spark.trigger === 'crank-cam' || spark.trigger === 'toothed-wheel')
    add({ id: 'trigger', title: 'Crank trigger and its signals', station: 'spark', kind: 'work', base: 7, after: ['removal'] })
  else if (spark.trigger && spark.trigger !== 'speed-signal')
    add({ id: 'trigger', title: 'Distributor swap or lock-out', station: 'spark', kind: 'work', base: 3, after: ['removal'] })
  const extraCircuits = Math.max(0, circuits(c) - BASE_CIRCUITS)
  add({
    id: 'wiring',
    title: 'Wiring: circuits, grounds, relays',
    station: 'wiring',
    kind: 'work',
    base: 6 + HOURS_PER_CIRCUIT * extraCircuits,
    after: ['removal', ...only('trigger', 'pedal')],
  })
  add({ id: 'tune', title: 'Base tune computed and looked over', station: 'tune', kind: 'work', base: 0.5, after: [] })
  add({
    id: 'leak-check',
    title: 'Prime and leak check, joint by joint',
    station: 'fuel',
    kind: 'work',
    base: 1,
    after: ['sealant', 'wiring', 'induction'],
    helper: true,
  })
  add({
    id: 'first-start',
    title: 'First start and timing',
    station: 'start',
    kind: 'work',
    base: 2,
    after: ['leak-check', 'tune', ...only('trigger', 'pedal')],
    helper: true,
  })
  add({ id: 'idle', title: 'Idle set', station: 'idle', kind: 'work', base: 1, after: ['first-start'] })
  add({ id: 'learning', title: 'Learning drives', station: 'learn', kind: 'work', base: 3, after: ['idle'], helper: true })
  add({ id: 'hot-leak-check', title: 'Leak check, hot, after the first drive', station: 'fuel', kind: 'work', base: 0.4, after: ['idle'] })
  add({
    id: 'proving',
    title: 'Proving: timing, before and after, hot restart',
    station: 'prove',
    kind: 'work',
    base: 2,
    after: ['learning', 'hot-leak-check'],
  })
  add({ id: 'tidy', title: 'Loom hidden, tidy', station: 'wiring', kind: 'work', base: 4, after: ['first-start'] })
  add({ id: 'hand-over', title: 'Hand-over', station: 'handover', kind: 'work', base: 1, after: ['proving', 'tidy'] })
  add({ id: 'first-week', title: 'First week of use', station: 'fuel', kind: 'wait', base: FIRST_WEEK_DAYS, after: ['proving'] })
  add({ id: 'week-leak-check', title: 'Leak check after the first week', station: 'fuel', kind: 'work', base: 0.4, after: ['first-week'] })

  const proofs: Record<string, string | undefined> = {
    'first-start': latest(readings, 'start.ran')?.takenAt,
    'hand-over': latest(readings, 'handover.signed')?.takenAt,
    'leak-check': leakState(c).passed ? (leakState(c).lastAt ?? undefined) : undefined,
    learning: learned(c),
    'hot-leak-check': rechecked(c, 'hot'),
    'week-leak-check': rechecked(c, 'first-week'),
    tune: c.build.tunes.find((t) => t.status === 'in-car' || t.status === 'ready')?.createdAt,
  }
  // what is proven done proves what it waited for: an engine that ran was wired
  const byId = new Map(tasks.map((t) => [t.id, t]))
  const doneOn = new Map<string, string>()
  const settle = (id: string, on: string): void => {
    if (!doneOn.has(id) || doneOn.get(id)! > on) {
      doneOn.set(id, on)
      for (const before of byId.get(id)!.after) settle(before, on)
    }
  }
  for (const [id, at] of Object.entries(proofs)) if (at && byId.has(id)) settle(id, at.slice(0, 10))
  return tasks.map((t) => (doneOn.has(t.id) ? { ...t, provenDone: doneOn.get(t.id)! } : t))
}

/** Day on which learning was seen to have converged. */
const learned = (c: Context): string | undefined =>
  readingsOf(c.readings, 'learn.result').find(
    (r) => (r.value.provenTimePct ?? 0) >= CONVERGED_TIME_PCT && (r.value.errorRmsPct ?? 99) <= CONVERGED_RMS_PCT,
  )?.takenAt
const rechecked = (c: Context, when: 'hot' | 'first-week'): string | undefined =>
  readingsOf(c.readings, 'fuel.recheck').find((r) => r.value.when === when && r.value.dry)?.takenAt

/** Hours (or days) a task is taken for, with what the person said of it. */
export function taskAmount(task: PlanTask, entry: TaskEntry | undefined, who: Experience, spread: 'low' | 'mid' | 'high'): number {
  if (task.kind !== 'work') return entry?.hours ?? task.base
  const stretch = spread === 'mid' ? 1 : experience[who][spread]
  if (entry?.hoursLeft !== undefined) return entry.hoursLeft * stretch
  return (entry?.hours ?? task.base * experience[who].factor) * stretch
}

/** All hours of work, as a span: never one figure. */
export function planHours(c: Context): { low: number; mid: number; high: number } {
  const who = c.plan.experience ?? 'before'
  const sum = (spread: 'low' | 'mid' | 'high') =>
    planTasks(c)
      .filter((t) => t.kind === 'work')
      .reduce((all, t) => all + taskAmount(t, c.plan.tasks?.[t.id], who, spread), 0)
  return { low: sum('low'), mid: sum('mid'), high: sum('high') }
}
