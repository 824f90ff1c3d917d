import type { JudgedContext } from '../kernel/index.ts'
import { controlsTiming } from '../spark/index.ts'
import type { Port, PortKind } from './choices.ts'
import { fitupOf, individual } from './fitup-of.ts'
import { LARGE_PORT_MM, LEFT_KPA, SMALL_PORT_MM, STROKES } from './limits.ts'

/** What takes vacuum or air from the throttle body or manifold, and what it wants. */
export interface Consumer {
  id: string
  name: string
  wants: PortKind
  leastMm: number
  /** shares its port with nothing */
  alone: boolean
  why: string
  /** a wrong port is a stop: brakes, or what the mixture is worked out from */
  vital: boolean
}
const small = { leastMm: SMALL_PORT_MM, alone: false, vital: false }
/** Consumers of this car: by plan, survey and fuel, and what the person knows of. */
export function consumersOf(c: JudgedContext): Consumer[] {
  const { plan, facts, fuel } = c
  const own = fitupOf(c).vacuum?.own ?? {}
  const can = facts.ignition?.vacuumSource
  // where the unit times the spark the can is locked and off
  const canStays = can !== undefined && can !== 'none' && !controlsTiming(c)
  const list: (Consumer | false)[] = [
    plan.brakeBooster !== false && {
      id: 'booster',
      name: 'Brake booster',
      wants: 'manifold',
      leastMm: LARGE_PORT_MM,
      alone: true,
      vital: true,
      why: 'full vacuum, a large bore, a check valve: the brakes hang on it',
    },
    {
      id: 'pcv',
      name: 'Crankcase ventilation',
      wants: 'manifold',
      leastMm: LARGE_PORT_MM,
      alone: true,
      vital: false,
      why: 'full vacuum through its valve, and large: the crankcase breathes by it',
    },
    {
      id: 'map',
      name: 'Pressure sensor',
      wants: 'manifold',
      ...small,
      alone: true,
      vital: true,
      why: 'load is read from it: a port of its own, the hose short and downhill',
    },
    fuel.regulator?.reference === 'manifold' && {
      id: 'regulator',
      name: 'Fuel regulator',
      wants: 'manifold',
      ...small,
      why: 'the pressure over the injectors follows it',
    },
    canStays && {
      id: 'advance-can',
      name: 'Advance can',
      wants: can === 'ported' ? 'ported' : 'manifold',
      ...small,
      why: can === 'ported' ? 'ported before, so ported again: else the idle advances' : 'on full vacuum before, so again',
    },
    facts.fuel?.canister === true && {
      id: 'canister',
      name: 'Evaporative canister',
      wants: 'ported',
      ...small,
      why: 'shut at idle: its vapour upsets idle and learning',
    },
    plan.electronicThrottle !== true && {
      id: 'idle-valve',
      name: 'Idle valve, air to it',
      wants: 'clean',
      leastMm: LARGE_PORT_MM,
      alone: false,
      vital: false,
      why: 'filtered air from before the plates, never from the bay',
    },
  ]
  return [
    ...list.filter((x): x is Consumer => x !== false),
    ...Object.entries(own).map(([id, o]): Consumer => ({
      id: `own-${id}`,
      name: o.name,
      wants: o.wants,
      leastMm: o.large ? LARGE_PORT_MM : SMALL_PORT_MM,
      alone: o.large === true,
      vital: false,
      why: 'told',
    })),
  ]
}

/** Ports that a usual throttle body has, while nobody told its own. */
const USUAL_PORTS: Record<string, Port> = {
  'rear-large': { name: 'rear, large', kind: 'manifold', boreMm: 10 },
  'front-large': { name: 'front, large', kind: 'manifold', boreMm: 10 },
  'side-small': { name: 'side, small', kind: 'manifold', boreMm: 4 },
  'side-small-two': { name: 'side, second small', kind: 'manifold', boreMm: 4 },
  edge: { name: 'at the plates’ edge', kind: 'ported', boreMm: 4 },
  neck: { name: 'in the neck', kind: 'clean', boreMm: 12 },
}
export const portsOf = (c: JudgedContext): Record<string, Port> => fitupOf(c).vacuum?.ports ?? USUAL_PORTS

/** One thing about the map that is not as it must be. */
interface PortProblem {
  consumer: string | null
  port: string | null
  severity: 'stop' | 'warn' | 'note'
  what: string
  because: string
  remedy: string
}
export interface VacuumMap {
  consumers: (Consumer & { port: string | null })[]
  ports: (Port & { id: string; used: string[] })[]
  problems: PortProblem[]
}
const kindWords: Record<PortKind, string> = { manifold: 'full vacuum', ported: 'ported vacuum', clean: 'clean air', runner: 'one runner' }

/** Which consumer hangs on which port, and what is wrong with that. */
export function vacuumMap(c: JudgedContext): VacuumMap {
  const told = fitupOf(c).vacuum ?? {}
  const ports = portsOf(c)
  const consumers = consumersOf(c).map((x) => {
    const port = told.joined?.[x.id]
    return { ...x, port: port !== undefined && ports[port] ? port : null }
  })
  const list = Object.entries(ports).map(([id, p]) => ({ ...p, id, used: consumers.filter((x) => x.port === id).map((x) => x.id) }))
  const problems: PortProblem[] = []
  for (const x of consumers) problems.push(...consumerProblems(x, x.port === null ? null : ports[x.port], told.collector === true))
  const name = (id: string): string => consumers.find((x) => x.id === id)!.name
  for (const p of list) {
    if (p.used.length > 1) {
      const pair = p.used.every((id) => id === 'map' || id === 'regulator')
      const alone = consumers.find((x) => p.used.includes(x.id) && x.alone)
      if (pair)
        problems.push({
          consumer: 'map',
          port: p.id,
          severity: 'note',
          what: 'Pressure sensor and regulator share a port',
          because: 'On a short tee this is well: the regulator takes no air.',
          remedy: 'Keep the tee at the port, both hoses short.',
        })
      else if (alone)
        problems.push({
          consumer: alone.id,
          port: p.id,
          severity: alone.vital ? 'stop' : 'warn',
          what: `${alone.name} shares the port “${p.name}”`,
          because: `${p.used
            .filter((id) => id !== alone.id)
            .map(name)
            .join(', ')} hangs on it too, and disturbs it.`,
          remedy: 'A port of its own.',
        })
    }
    if (!p.used.length && !p.capped)
      problems.push({
        consumer: null,
        port: p.id,
        severity: p.kind === 'clean' ? 'note' : 'warn',
        what: `Port “${p.name}” is open`,
        because:
          p.kind === 'clean'
            ? 'Nothing hangs on it: unfiltered air goes in there.'
            : 'Nothing hangs on it: false air, a lean idle that no tune mends.',
        remedy: 'Cap it with a cap of its size and a clamp.',
      })
    if (p.used.length && p.capped)
      problems.push({
        consumer: p.used[0],
        port: p.id,
        severity: 'warn',
        what: `Port “${p.name}” is capped and used`,
        because: `${name(p.used[0])} is drawn to it.`,
        remedy: 'Take the cap off, or the hose.',
      })
  }
  return { consumers, ports: list, problems }
}
function consumerProblems(x: Consumer, port: Port | null, collector: boolean): PortProblem[] {
  const problem = (severity: PortProblem['severity'], what: string, because: string, remedy: string): PortProblem => ({
    consumer: x.id,
    port: null,
    severity,
    what,
    because,
    remedy,
  })
  if (!port)
    return [
      problem(
        x.vital ? 'stop' : 'warn',
        `${x.name} hangs on no port`,
        `It wants ${kindWords[x.wants]}: ${x.why}.`,
        'Lead it to a port, or say that it is not there.',
      ),
    ]
  const out: PortProblem[] = []
  if (port.kind === 'runner' && !(collector && x.wants === 'manifold'))
    out.push(
      problem(
        x.vital ? 'stop' : 'warn',
        `${x.name} hangs on one runner`,
        'It sees one cylinder’s pulses, and makes that cylinder run lean.',
        'A small bore from every runner into a collector, and the consumer on that.',
      ),
    )
  else if (port.kind !== x.wants && !(port.kind === 'runner' && collector))
    out.push(
      problem(
        x.vital ? 'stop' : 'warn',
        `${x.name} hangs on ${kindWords[port.kind]}`,
        `It wants ${kindWords[x.wants]}: ${x.why}.`,
        `A port with ${kindWords[x.wants]}.`,
      ),
    )
  if (port.boreMm !== undefined && port.boreMm < x.leastMm)
    out.push(
      problem(
        'warn',
        `${x.name}: its port is small`,
        `${port.boreMm} mm inside; ${x.leastMm} mm is the least.`,
        'A larger port, or two that are joined.',
      ),
    )
  return out
}
/** Ports that hang on nothing and have no cap, with the hole that each is, mm2; clean air does no harm. */
export const openPorts = (c: JudgedContext): { name: string; areaMm2: number }[] =>
  vacuumMap(c)
    .ports.filter((p) => !p.used.length && !p.capped && p.kind !== 'clean')
    .map((p) => ({ name: p.name, areaMm2: (Math.PI / 4) * (p.boreMm ?? 0) ** 2 }))

/** What a full application of a usual booster takes, L. */
const USUAL_BOOSTER_L = 1.2
export interface Reservoir {
  /** L; null: no reservoir helps, the engine gives too little */
  wantedL: number | null
  idleVacuumKpa: number
  strokes: number
  leftKpa: number
  boosterL: number
}
/**
 * Reservoir from which a booster can be applied so often with the engine giving nothing.
 * @source Boyle: each application lets the booster's volume of outside air into the reservoir; vacuum falls by V / (V + Vb) each time
 */
export function reservoirOf(c: JudgedContext): Reservoir {
  const boosterL = fitupOf(c).vacuum?.boosterL ?? USUAL_BOOSTER_L
  const idleVacuumKpa = c.resolved.barometerKpa - c.resolved.idleMapKpa
  return { wantedL: reservoirL(boosterL, idleVacuumKpa), idleVacuumKpa, strokes: STROKES, leftKpa: LEFT_KPA, boosterL }
}
export const reservoirL = (boosterL: number, vacuumKpa: number): number | null =>
  vacuumKpa <= LEFT_KPA ? null : boosterL / ((vacuumKpa / LEFT_KPA) ** (1 / STROKES) - 1)
/** Individual runners feed a booster from no steady vacuum: collector and reservoir are part of the job. */
export const wantsReservoir = (c: JudgedContext): boolean => individual(c) && c.plan.brakeBooster !== false
