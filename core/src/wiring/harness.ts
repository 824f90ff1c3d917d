import { ampacityA, LOADED_FROM_SHARE, wireGauge } from '../electrics/index.ts'
import type { JudgedContext } from '../kernel/index.ts'
import { hasDistributor } from '../spark/index.ts'
import { hazardsOf, type Hazard, type Place, placesOf, wayGraph, type WayPoint, wiringOf } from './car-plan.ts'
import type { Circuit } from './circuit.ts'
import { circuitsOf } from './circuits.ts'
import { BAY_C, ELSEWHERE_C, JOINT_OHM, LEAST_AREA_MM2 } from './limits.ts'
import { isBolted } from './places.ts'
import { cutLengthM, type Plan, planKey, type Run, runOf } from './route.ts'
import { sizeWire, type WireSize } from './size.ts'

/** A circuit laid on the car: its way, its wire, its colour, its pins. */
export interface Wire {
  circuit: Circuit
  run: Run
  /** to cut, m, and where it comes from */
  lengthM: number
  measured: boolean
  /** null: no wire that shops have will do */
  size: WireSize | null
  gaugeAwg: number | null
  ambientC: number
  loadedWires: number
  colour: string
  /** pin at each end, by the connector of that place */
  pins: { from: string; to: string }
}
/** A piece of the plan with the wires that lie in it. */
interface Bundle {
  from: string
  to: string
  lengthMm: number
  circuits: string[]
  loadedWires: number
}
export interface Harness {
  wires: Wire[]
  leftOut: Circuit[]
  /** both ends at one place: no wire */
  endless: Circuit[]
  /** what hangs on the fuses’ place is switched and guarded by a box’s channels */
  powerBox: boolean
  places: ReadonlyMap<string, Place>
  wayPoints: ReadonlyMap<string, WayPoint>
  hazards: Hazard[]
  bundles: Bundle[]
}

const TRACERS = ['', '/white', '/yellow', '/green', '/blue', '/grey', '/violet', '/pink', '/black', '/red', '/brown'] as const
const baseColour = (c: Circuit): string => {
  if (c.kind === 'ground') return 'black'
  if (c.kind === 'bus') return 'violet'
  if (c.kind === 'signal') return c.weak ? 'white' : 'grey'
  if (c.kind === 'output') return 'blue'
  return c.feed === 'keyed' ? 'orange' : 'red'
}
/** Colours, so that no two alike meet in one connector; a told one is kept. */
function coloured(circuits: readonly Circuit[]): Map<string, string> {
  const at = new Map<string, Set<string>>()
  const used = (place: string) => at.get(place) ?? at.set(place, new Set()).get(place)!
  const colours = new Map<string, string>()
  const give = (c: Circuit, colour: string): void => {
    colours.set(c.id, colour)
    used(c.from).add(colour)
    used(c.to).add(colour)
  }
  for (const c of circuits) if (c.edit.colour) give(c, c.edit.colour)
  for (const c of circuits) {
    if (c.edit.colour) continue
    const base = baseColour(c)
    const free = TRACERS.map((tracer) => base + tracer).find(
      (colour) => !used(c.from).has(colour) && !used(c.to).has(colour) && !colour.endsWith(`/${base}`),
    )
    give(c, free ?? `${base}, marked ${c.id}`)
  }
  return colours
}

/** The main feed is bolted at the fuses too. */
const eyelet = (x: Circuit, place: string): boolean => isBolted(place) || x.id === 'main-feed'
/** What the joints of a circuit add, ohm: a crimp at each end, a pin at each plug, the contacts of its relay. */
export const jointsOhm = (x: Circuit): number =>
  2 * JOINT_OHM.crimp +
  [x.from, x.to].filter((place) => !eyelet(x, place)).length * JOINT_OHM.pin +
  (x.relay && x.kind === 'feed' ? JOINT_OHM.relay : 0)

const edgeKey = (a: string, b: string): string => (a < b ? `${a} ${b}` : `${b} ${a}`)
const pairs = (through: readonly string[]): (readonly [string, string])[] => through.slice(1).map((id, i) => [through[i], id] as const)

/** Nearest American gauge that is not thinner. */
const awgOf = (areaMm2: number): number => (GAUGES.find((g) => g.areaMm2 >= areaMm2 * 0.97) ?? GAUGES.at(-1)!).gaugeAwg
const GAUGES = Array.from({ length: 26 }, (_, i) => ({ gaugeAwg: 22 - i, ...wireGauge.run({ gaugeAwg: 22 - i }) }))

/**
 * The whole harness: each circuit on its way over the plan, cut, sized and coloured. How many loaded wires lie beside it is counted along its way; a
 * wire counts as loaded by what it would bear alone at the size its current asks for.
 */
export function harnessOf(c: JudgedContext): Harness {
  const known = ofContext.get(c)
  if (known) return known
  const ask = layingOf(c)
  const key = JSON.stringify([ask.circuits, ask.leftOut, ask.bayC, ask.powerBox, [...ask.places.values()], ask.plan.key])
  const harness = laid.get(key) ?? lay(ask)
  laid.delete(key)
  laid.set(key, harness)
  if (laid.size > KEPT) laid.delete(laid.keys().next().value!)
  ofContext.set(c, harness)
  return harness
}
const ofContext = new WeakMap<JudgedContext, Harness>()
/** Harnesses laid so far, by all that they were laid from: a build is judged many times over with other parts of it changed. */
const laid = new Map<string, Harness>()
const KEPT = 24

/** All that a harness is laid from. */
interface Laying {
  circuits: Circuit[]
  leftOut: Circuit[]
  places: ReadonlyMap<string, Place>
  plan: Plan
  bayC: number
  powerBox: boolean
}
function layingOf(c: JudgedContext): Laying {
  const places = placesOf(c)
  const hazards = hazardsOf(c, places, hasDistributor(c))
  const { bayC = BAY_C, powerBox } = wiringOf(c)
  return {
    ...circuitsOf(c),
    places,
    plan: { graph: wayGraph(c), hazards, key: planKey(c, hazards) },
    bayC,
    powerBox: powerBox !== undefined,
  }
}
/** Edits of circuits that the plan no longer asks for: kept, and named. */
export function lostEdits(c: JudgedContext): string[] {
  const edited = Object.keys(wiringOf(c).circuits ?? {})
  if (edited.length === 0) return []
  const { wires, endless, leftOut } = harnessOf(c)
  const there = new Set([...wires.map((w) => w.circuit), ...endless, ...leftOut].map((x) => x.id))
  return edited.filter((id) => !there.has(id))
}
function lay({ circuits, leftOut, places, plan, bayC, powerBox }: Laying): Harness {
  const there = circuits.filter((x) => x.from !== x.to)
  const endless = circuits.filter((x) => x.from === x.to)
  const runs = new Map(there.map((x) => [x.id, runOf(plan, places.get(x.from)!, places.get(x.to)!, x.edit.via)]))
  const inBay = (run: Run): boolean => run.through.some((id) => (places.get(id) ?? plan.graph.points.get(id))?.zone === 'bay')
  const ambientOf = (run: Run): number => (inBay(run) ? bayC : ELSEWHERE_C)
  const lengthOf = (x: Circuit): number => x.edit.measuredM ?? cutLengthM(runs.get(x.id)!.planMm)
  const ask = (x: Circuit, loadedWires: number) => ({
    continuousA: x.continuousA,
    surgeA: x.surgeA,
    lengthM: lengthOf(x),
    ambientC: ambientOf(runs.get(x.id)!),
    loadedWires,
    dropLimitV: x.dropLimitV,
    jointsOhm: jointsOhm(x),
    fused: x.fused,
  })
  const alone = new Map(there.map((x) => [x.id, sizeWire(ask(x, 1), { areaMm2: x.edit.areaMm2 })]))
  const thinnestA = ampacityA({ areaMm2: LEAST_AREA_MM2, ambientC: ELSEWHERE_C })
  const loaded = new Set(there.filter((x) => x.continuousA > LOADED_FROM_SHARE * (alone.get(x.id)?.aloneA ?? thinnestA)).map((x) => x.id))
  const bundles = new Map<string, Bundle>()
  for (const x of there) {
    const { through, points } = runs.get(x.id)!
    pairs(through).forEach(([from, to], i) => {
      const key = edgeKey(from, to)
      const one = bundles.get(key) ?? {
        from,
        to,
        lengthMm: Math.hypot(points[i + 1].xMm - points[i].xMm, points[i + 1].yMm - points[i].yMm),
        circuits: [],
        loadedWires: 0,
      }
      one.circuits.push(x.id)
      if (loaded.has(x.id)) one.loadedWires++
      bundles.set(key, one)
    })
  }
  const colours = coloured(there)
  const pinAt = pinsOf(there)
  const wires = there.map((x): Wire => {
    const run = runs.get(x.id)!
    const most = Math.max(1, ...pairs(run.through).map(([a, b]) => bundles.get(edgeKey(a, b))!.loadedWires))
    const asAlone = most === 1 && x.edit.fuseA === undefined
    const size = asAlone ? alone.get(x.id)! : sizeWire(ask(x, most), { areaMm2: x.edit.areaMm2, fuseA: x.edit.fuseA })
    return {
      circuit: x,
      run,
      lengthM: lengthOf(x),
      measured: x.edit.measuredM !== undefined,
      size,
      gaugeAwg: size && awgOf(size.areaMm2),
      ambientC: ambientOf(run),
      loadedWires: most,
      colour: colours.get(x.id)!,
      pins: pinAt.get(x.id)!,
    }
  })
  return {
    wires,
    leftOut,
    endless,
    powerBox,
    places,
    wayPoints: plan.graph.points,
    hazards: [...plan.hazards],
    bundles: [...bundles.values()],
  }
}

/** Pins in the order of the list at each place; at the unit as marked on it, where that is told. */
function pinsOf(circuits: readonly Circuit[]): Map<string, { from: string; to: string }> {
  const count = new Map<string, number>()
  const next = (place: string): string => {
    const n = (count.get(place) ?? 0) + 1
    count.set(place, n)
    return String(n)
  }
  return new Map(
    circuits.map((x) => {
      const from = next(x.from)
      const to = next(x.to)
      const told = x.edit.pin
      return [x.id, { from: told && x.from === 'unit' ? told : from, to: told && x.to === 'unit' ? told : to }]
    }),
  )
}
