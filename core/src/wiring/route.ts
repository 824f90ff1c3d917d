import type { Context } from '../kernel/index.ts'
import { type Hazard, type Place, type Point, type WayGraph, wheelbaseMm } from './car-plan.ts'
import { CROSSES_DEG, CUT_STEP_MM, KEEP_MM, LOOP_MM, PLAN_TO_CAR } from './limits.ts'

/** What a run is laid over. */
export interface Plan {
  graph: WayGraph
  hazards: readonly Hazard[]
  key: string
}
export interface Run {
  /** place, way points, place */
  through: string[]
  points: Point[]
  /** on the plan, without what is left over at its ends, mm */
  planMm: number
  /** panels it goes through */
  panels: string[]
  /** what it comes too near to */
  near: { hazard: Hazard; distanceMm: number }[]
  /** whether a person drew it */
  drawn: boolean
}

const distance = (a: Point, b: Point): number => Math.hypot(a.xMm - b.xMm, a.yMm - b.yMm)

/** Least distance of a point from a line between two, mm. */
function toSegment(p: Point, a: Point, b: Point): number {
  const [dx, dy] = [b.xMm - a.xMm, b.yMm - a.yMm]
  const length2 = dx * dx + dy * dy
  const t = length2 === 0 ? 0 : Math.max(0, Math.min(1, ((p.xMm - a.xMm) * dx + (p.yMm - a.yMm) * dy) / length2))
  return distance(p, { xMm: a.xMm + t * dx, yMm: a.yMm + t * dy })
}
const side = (a: Point, b: Point, p: Point): number => (b.xMm - a.xMm) * (p.yMm - a.yMm) - (b.yMm - a.yMm) * (p.xMm - a.xMm)
const crosses = (a: Point, b: Point, c: Point, d: Point): boolean => side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0
function betweenSegments(a: Point, b: Point, c: Point, d: Point): number {
  if (crosses(a, b, c, d)) return 0
  return Math.min(toSegment(a, c, d), toSegment(b, c, d), toSegment(c, a, b), toSegment(d, a, b))
}
/** Angle between two lines, 0 to 90 degrees. */
function angleDeg(a: Point, b: Point, c: Point, d: Point): number {
  const dot = (b.xMm - a.xMm) * (d.xMm - c.xMm) + (b.yMm - a.yMm) * (d.yMm - c.yMm)
  const cos = Math.abs(dot) / Math.max(1e-9, distance(a, b) * distance(c, d))
  return (Math.acos(Math.min(1, cos)) * 180) / Math.PI
}

const standsIn = (end: Point, hazard: Hazard): boolean => toSegment(end, hazard.from, hazard.to) < KEEP_MM[hazard.kind]

/**
 * How near a piece of a run comes to a hazard, mm; null where it keeps its distance, or crosses a lead squarely.
 * @param ends places at which the piece ends: what plugs in beside a hazard must come there
 */
function tooNear(a: Point, b: Point, hazard: Hazard, ends: readonly Point[]): number | null {
  const mm = betweenSegments(a, b, hazard.from, hazard.to)
  if (mm >= KEEP_MM[hazard.kind] || ends.some((end) => standsIn(end, hazard))) return null
  if (hazard.kind === 'highTension' && crosses(a, b, hazard.from, hazard.to) && angleDeg(a, b, hazard.from, hazard.to) >= CROSSES_DEG)
    return null
  return mm
}

/** A run that comes too near to something counts so many times as long: it is taken only where no other leads there. */
const TIMES_TOO_NEAR = 12
const zones = (graph: WayGraph, zone: Place['zone']) => [...graph.points.values()].filter((p) => p.zone === zone)
const JOINS = 3

/** Runs laid so far: dragging one place asks for those of all the others again. */
const found = new Map<string, Run>()
const FOUND_MOST = 2000
const keyOf = (p: Point & { zone?: string }): string => `${p.xMm},${p.yMm},${p.zone ?? ''}`
/** Scale and hazards of a plan, as far as a way depends on them. */
export const planKey = (c: Context, hazards: readonly Hazard[]): string =>
  [wheelbaseMm(c), ...hazards.map((h) => `${h.kind}${keyOf(h.from)}${keyOf(h.to)}`)].join('|')

/**
 * The shortest way over the plan's way points that keeps its distance; where none does, the one that comes near for the least length.
 * @source E. W. Dijkstra, A note on two problems in connexion with graphs, Numerische Mathematik 1 (1959)
 */
function shortest(graph: WayGraph, from: Place, to: Place, hazards: readonly Hazard[]): string[] {
  const at = new Map<string, Point>([...graph.points, [FROM, from], [TO, to]])
  const links = new Map<string, string[]>([...at.keys()].map((id) => [id, []]))
  const link = (a: string, b: string): void => {
    links.get(a)!.push(b)
    links.get(b)!.push(a)
  }
  for (const [a, b] of graph.edges) link(a, b)
  for (const [id, place] of [
    [FROM, from],
    [TO, to],
  ] as const)
    for (const near of zones(graph, place.zone)
      .sort((p, q) => distance(p, place) - distance(q, place))
      .slice(0, JOINS))
      link(id, near.id)
  if (from.zone === to.zone && distance(from, to) < STRAIGHT_MM) link(FROM, TO)
  const cost = (a: string, b: string): number => {
    const [p, q] = [at.get(a)!, at.get(b)!]
    const ends = [a, b].includes(FROM) || [a, b].includes(TO) ? [p, q] : []
    const near = hazards.some((h) => tooNear(p, q, h, ends) !== null)
    return distance(p, q) * (near ? TIMES_TOO_NEAR : 1)
  }
  const best = new Map<string, number>([[FROM, 0]])
  const before = new Map<string, string>()
  const open = new Set([FROM])
  while (open.size) {
    const here = [...open].reduce((a, b) => (best.get(a)! <= best.get(b)! ? a : b))
    open.delete(here)
    if (here === TO) break
    for (const next of links.get(here)!) {
      const so = best.get(here)! + cost(here, next)
      if (so < (best.get(next) ?? Infinity)) {
        best.set(next, so)
        before.set(next, here)
        open.add(next)
      }
    }
  }
  const way: string[] = []
  for (let id = before.get(TO); id !== undefined && id !== FROM; id = before.get(id)) way.unshift(id)
  return way
}
/** Places so near each other are joined straight, mm; farther apart a wire lies along something. */
const STRAIGHT_MM = 400
const FROM = '(from)'
const TO = '(to)'

/**
 * The run of a circuit over the plan: as drawn by a person, else the shortest that keeps its distance.
 * @param via way points drawn; those that the plan does not have are left out
 */
export function runOf({ graph, hazards, key }: Plan, from: Place, to: Place, via?: readonly string[]): Run {
  const drawn = via !== undefined
  const asked = [key, keyOf(from), keyOf(to), from.id, to.id, via?.join() ?? '*'].join('#')
  const known = found.get(asked)
  if (known) return known
  const way = (via ?? shortest(graph, from, to, hazards)).filter((id) => graph.points.has(id))
  const points: Point[] = [from, ...way.map((id) => graph.points.get(id)!), to]
  const pieces = points.slice(1).map((p, i) => [points[i], p] as const)
  const near = hazards.flatMap((hazard) => {
    const least = Math.min(
      ...pieces.map(
        ([a, b]) =>
          tooNear(
            a,
            b,
            hazard,
            [a, b].filter((p) => p === from || p === to),
          ) ?? Infinity,
      ),
    )
    return least === Infinity ? [] : [{ hazard, distanceMm: least }]
  })
  const run: Run = {
    through: [from.id, ...way, to.id],
    points,
    planMm: pieces.reduce((sum, [a, b]) => sum + distance(a, b), 0),
    panels: way.filter((id) => graph.points.get(id)!.panel),
    near,
    drawn,
  }
  if (found.size >= FOUND_MOST) found.clear()
  found.set(asked, run)
  return run
}

/** Wire to cut, m: the run with what is left over at both ends, up to the next step. */
export const cutLengthM = (planMm: number): number =>
  (Math.ceil((PLAN_TO_CAR * planMm + 2 * LOOP_MM) / CUT_STEP_MM - 1e-9) * CUT_STEP_MM) / 1000
