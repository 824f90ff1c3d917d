import type { Context } from '../kernel/index.ts'
import type { WiringChoices } from './choices.ts'
import { PLACES, type Share, type Zone } from './places.ts'

/** A point of the plan: behind the front axle and right of the middle, mm. */
export interface Point {
  xMm: number
  yMm: number
}
export interface Place extends Point {
  id: string
  label: string
  zone: Zone
  /** where it usually sits: nobody has moved it yet */
  usual: boolean
}
export interface WayPoint extends Point {
  id: string
  zone: Zone
  /** the hole between two zones */
  panel?: true
}
/** What a run keeps away from: a line on the plan. */
export interface Hazard {
  kind: 'highTension' | 'exhaust' | 'moving'
  label: string
  from: Point
  to: Point
}

export const wiringOf = (c: Pick<Context, 'build'>): WiringChoices => c.build.choices.wiring ?? {}

/** Wheelbase while nobody measured it, by the kind of car, mm. */
const WHEELBASE_MM = { 'small-saloon': 2200, saloon: 2550, 'large-saloon': 2800, sports: 2300, 'pick-up': 2900 } as const
export const wheelbaseMm = (c: Context): number => wiringOf(c).wheelbaseMm ?? WHEELBASE_MM[c.facts.car?.class ?? 'saloon']

const WAY_POINTS: Record<string, { at: Share; zone: Zone; panel?: true }> = {
  front: { at: [-0.17, 0], zone: 'bay' },
  'front-left': { at: [-0.13, -0.22], zone: 'bay' },
  'front-right': { at: [-0.13, 0.22], zone: 'bay' },
  'wing-left': { at: [0.08, -0.25], zone: 'bay' },
  'wing-right': { at: [0.08, 0.25], zone: 'bay' },
  'engine-left': { at: [0.08, -0.06], zone: 'bay' },
  'engine-right': { at: [0.08, 0.065], zone: 'bay' },
  'corner-left': { at: [0.26, -0.23], zone: 'bay' },
  'corner-right': { at: [0.26, 0.23], zone: 'bay' },
  bulkhead: { at: [0.27, 0], zone: 'bay' },
  'hole-left': { at: [0.29, -0.17], zone: 'bay', panel: true },
  'hole-right': { at: [0.29, 0.17], zone: 'bay', panel: true },
  'dash-left': { at: [0.36, -0.17], zone: 'cabin' },
  dash: { at: [0.36, 0], zone: 'cabin' },
  'dash-right': { at: [0.36, 0.17], zone: 'cabin' },
  'sill-left': { at: [0.65, -0.26], zone: 'cabin' },
  'sill-right': { at: [0.65, 0.26], zone: 'cabin' },
  tunnel: { at: [0.6, 0], zone: 'cabin' },
  'hole-floor': { at: [0.47, 0.06], zone: 'cabin', panel: true },
  'hole-seat': { at: [0.88, -0.2], zone: 'cabin', panel: true },
  boot: { at: [1.12, -0.12], zone: 'boot' },
  'hole-boot': { at: [1.1, 0.08], zone: 'boot', panel: true },
  'under-mid': { at: [0.5, 0.1], zone: 'under' },
  'under-rear': { at: [1.06, 0.16], zone: 'under' },
}
const EDGES: readonly (readonly [string, string])[] = [
  ['front', 'front-left'],
  ['front', 'front-right'],
  ['front-left', 'wing-left'],
  ['front-right', 'wing-right'],
  ['wing-left', 'corner-left'],
  ['wing-right', 'corner-right'],
  ['wing-left', 'engine-left'],
  ['wing-right', 'engine-right'],
  ['engine-left', 'corner-left'],
  ['engine-right', 'corner-right'],
  ['engine-left', 'bulkhead'],
  ['engine-right', 'bulkhead'],
  ['corner-left', 'bulkhead'],
  ['bulkhead', 'corner-right'],
  ['corner-left', 'hole-left'],
  ['bulkhead', 'hole-left'],
  ['bulkhead', 'hole-right'],
  ['corner-right', 'hole-right'],
  ['hole-left', 'dash-left'],
  ['hole-right', 'dash-right'],
  ['dash-left', 'dash'],
  ['dash', 'dash-right'],
  ['dash-left', 'sill-left'],
  ['dash-right', 'sill-right'],
  ['dash', 'tunnel'],
  ['dash', 'hole-floor'],
  ['tunnel', 'hole-floor'],
  ['hole-floor', 'under-mid'],
  ['under-mid', 'under-rear'],
  ['sill-left', 'hole-seat'],
  ['tunnel', 'hole-seat'],
  ['hole-seat', 'boot'],
  ['boot', 'hole-boot'],
  ['hole-boot', 'under-rear'],
]

const BATTERY: Record<string, { at: Share; zone: Zone }> = {
  boot: { at: [1.15, -0.18], zone: 'boot' },
  cabin: { at: [0.75, -0.2], zone: 'cabin' },
}

function usualOf(c: Context, id: string): { at: Share; zone: Zone } {
  const { electrics, fuel, place } = c.facts
  if (id === 'battery') {
    const other = BATTERY[electrics?.batteryPlace ?? 'bay']
    if (other) return other
    if (wiringOf(c).batterySide === 'right') return { at: [0.18, 0.22], zone: 'bay' }
  }
  if (id === 'pump' && fuel?.tankPlace === 'front') return { at: [-0.1, 0.15], zone: 'bay' }
  if (id === 'unit' && place?.unitPlace === 'bay') return { at: [0.22, 0.24], zone: 'bay' }
  return PLACES[id]
}
const scaled = ([x, y]: Share, base: number): Point => ({ xMm: Math.round(x * base), yMm: Math.round(y * base) })

/** Where everything of the harness is on this car: as moved by a person, else where it usually sits. */
export function placesOf(c: Context): ReadonlyMap<string, Place> {
  const base = wheelbaseMm(c)
  const moved = wiringOf(c).places ?? {}
  return new Map(
    Object.entries(PLACES).map(([id, { label }]) => {
      const { at, zone } = usualOf(c, id)
      return [id, { id, label, zone, usual: !(id in moved), ...(moved[id] ?? scaled(at, base)) }]
    }),
  )
}

export interface WayGraph {
  points: ReadonlyMap<string, WayPoint>
  edges: readonly (readonly [string, string])[]
}
export function wayGraph(c: Context): WayGraph {
  const base = wheelbaseMm(c)
  if (lastGraph?.base !== base) lastGraph = { base, graph: graphOf(base) }
  return lastGraph.graph
}
/** the same car is asked for again and again */
let lastGraph: { base: number; graph: WayGraph } | null = null
function graphOf(base: number): WayGraph {
  return {
    points: new Map(
      Object.entries(WAY_POINTS).map(([id, { at, zone, panel }]) => [id, { id, zone, ...(panel ? { panel } : {}), ...scaled(at, base) }]),
    ),
    edges: EDGES,
  }
}

/** Sides of the car on which the exhaust leaves the heads: told, else both of a vee or a flat engine, and the right of one in line. */
function exhaustSides(c: Context): readonly (-1 | 1)[] {
  const told = wiringOf(c).exhaustSide ?? (c.facts.engine?.layout === 'inline' ? 'right' : 'both')
  return told === 'both' ? [-1, 1] : told === 'left' ? [-1] : [1]
}
/** What wires keep away from on this car. */
export function hazardsOf(c: Context, places: ReadonlyMap<string, Place>, distributor: boolean): Hazard[] {
  const base = wheelbaseMm(c)
  const at = (x: number, y: number): Point => scaled([x, y], base)
  const coil = places.get(distributor ? 'coil' : 'coils')!
  const list: Hazard[] = [
    { kind: 'moving', label: 'fan and belts', from: at(-0.09, -0.1), to: at(-0.09, 0.1) },
    ...exhaustSides(c).map((side): Hazard => ({
      kind: 'exhaust',
      label: 'exhaust',
      from: at(0.02, 0.135 * side),
      to: at(0.2, 0.135 * side),
    })),
  ]
  if (distributor) {
    const cap = places.get('distributor')!
    list.push({ kind: 'highTension', label: 'lead from coil to cap', from: coil, to: cap })
  }
  list.push({ kind: 'highTension', label: 'plug leads', from: at(0.02, 0.03), to: at(0.18, 0.03) })
  return list
}
