import { type Network, voltageDrop, wiringNetwork } from '../electrics/index.ts'
import { type JudgedContext, latest, readingsOf } from '../kernel/index.ts'
import { wiringOf } from './car-plan.ts'
import { type CarState, carStates } from './circuit.ts'
import { type Harness, harnessOf, jointsOhm, type Wire } from './harness.ts'
import { LEAST_DRAIN_MIN, USABLE_CHARGE, USUAL_BATTERY_AH } from './limits.ts'

/** Battery at rest, its inner resistance with the posts, and what a charged one takes of more; what an alternator holds and its slope; own figures for usual parts. */
const BATTERY = { restV: 12.6, ohm: 0.008, crankingV: 10.3, chargedOhm: 0.15 } as const
const CHARGING = { volt: 14.2, ohm: 0.015, usualA: 45, idleShare: 0.4, dynamoIdleShare: 0.1 } as const
/** Straps while nobody measured a drop over them, ohm, and the current at which one is measured while cranking, A. */
const STRAP_OHM = { engine: 0.002, body: 0.003 } as const
const STARTER_A = 150
/** What the old car draws beside the harness, A. */
const OLD_CAR_A: Record<CarState, number> = { off: 0.02, accessory: 4, cranking: 3, idle: 24, cruise: 20 }
/** A control unit draws no steady ampere less than so much, so that a node never hangs in the air. */
const LEAK_OHM = 1e6

export interface StateSupply {
  state: CarState
  /** by node of the network, V over the battery's minus post */
  nodes: Readonly<Record<string, number>>
  loadA: number
  chargingA: number
  /** out of the battery; under zero it is charged, A */
  batteryA: number
  /** until the battery no longer starts the car; null: it is not drained */
  drainMin: number | null
  /** that is too soon */
  drains: boolean
  /** volts between plus and ground of each load, and what its wires lost */
  loads: { id: string; name: string; volt: number; lostV: number; limitV: number }[]
  /** what stands for what nobody told */
  assumed: string[]
}

const ohmOf = (w: Wire): number =>
  (w.size
    ? voltageDrop.run({ currentA: 1, lengthM: w.lengthM, areaMm2: w.size.areaMm2, temperatureC: w.size.copperC, returnThroughWire: false })
        .dropV
    : 0.05) + jointsOhm(w.circuit)
const draws = (w: Wire, state: CarState): boolean =>
  w.circuit.states.includes(state) && w.circuit.kind !== 'ground' && w.circuit.kind !== 'signal'
const BODY = new Set(['body', 'body-front', 'body-rear'])
const nodeOf = (place: string): string =>
  place === 'battery' ? 'minus' : place === 'block' ? 'engine' : BODY.has(place) ? 'body' : `${place} ground`

/** Volts lost over the straps as they were last measured, over the current they were measured at, ohm. */
function strapOhm(c: JudgedContext, which: 'engine' | 'body'): number {
  const last = readingsOf(c.readings, 'wiring.ground-drop')
    .filter((r) => r.value.which === which)
    .at(-1)
  return last
    ? Math.max(1e-4, last.value.dropV / (last.value.currentA ?? (last.value.state === 'cranking' ? STARTER_A : OLD_CAR_A.idle)))
    : STRAP_OHM[which]
}

/** A load with the nodes it hangs between. */
interface Hung {
  wire: Wire
  plus: string
  back: string
}
type Elements = Network['elements']
/** Battery and charging in one state. */
function sourcesOf(c: JudgedContext, state: CarState, chargingLimitA: number | null, charged: boolean): Elements {
  const { restV, crankingV, charging } = c.facts.electrics ?? {}
  const emf = state === 'cranking' ? (crankingV ?? BATTERY.crankingV) : (restV ?? BATTERY.restV)
  const battery = { id: 'battery', from: 'minus', to: 'plus', volt: emf, ohm: charged ? BATTERY.chargedOhm : BATTERY.ohm }
  if (state !== 'idle' && state !== 'cruise') return [battery]
  return [
    battery,
    chargingLimitA === null
      ? { id: charging === 'dynamo' ? 'dynamo' : 'alternator', from: 'engine', to: 'plus', volt: CHARGING.volt, ohm: CHARGING.ohm }
      : { id: 'alternator', from: 'engine', to: 'plus', amp: chargingLimitA },
  ]
}
/** The rest of the network in one state: straps, the wires of the harness, and what hangs on them. */
function hangingOf(c: JudgedContext, state: CarState): { elements: Elements; hung: Hung[] } {
  const hung: Hung[] = []
  const { wires } = harnessOf(c)
  const elements: Elements = [
    { id: 'engine strap', from: 'engine', to: 'minus', ohm: strapOhm(c, 'engine') },
    { id: 'body strap', from: 'body', to: 'minus', ohm: strapOhm(c, 'body') },
    { id: 'old car', from: 'plus', to: 'body', amp: OLD_CAR_A[state] },
  ]
  const wire = (w: Wire, from: string, to: string): void => void elements.push({ id: `wire ${w.circuit.id}`, from, to, ohm: ohmOf(w) })
  const by = new Map(wires.map((w) => [w.circuit.id, w]))
  const ground = by.get('unit-ground')
  if (ground) wire(ground, 'unit ground', nodeOf(ground.circuit.to))
  const main = by.get('main-feed')
  if (main) wire(main, 'plus', 'fuses')
  const sourceOf = (w: Wire): string => (w.circuit.feed === 'battery' && w.circuit.from === 'fuses' && main ? 'fuses' : 'plus')
  // a load goes back by the wire that is its ground, else by the unit where it is switched there, else by the engine
  const returns = (w: Wire): string => {
    const own = by.get(`${w.circuit.id}-ground`)
    if (own) return `${w.circuit.to} ground`
    if (w.circuit.kind === 'output' || w.circuit.to === 'unit') return ground ? 'unit ground' : 'body'
    return ['coil', 'coils', 'block'].includes(w.circuit.to) ? 'engine' : ground ? 'unit ground' : 'body'
  }
  for (const w of wires) {
    const { circuit } = w
    if (
      circuit.kind === 'ground' &&
      circuit.id.endsWith('-ground') &&
      circuit.id !== 'unit-ground' &&
      by.has(circuit.id.replace(/-ground$/, ''))
    )
      wire(w, `${circuit.from} ground`, nodeOf(circuit.to))
    if (circuit.kind !== 'feed' || circuit.id === 'main-feed') continue
    wire(w, sourceOf(w), `${circuit.id} load`)
    const back = returns(w)
    elements.push({ id: `held ${circuit.id}`, from: `${circuit.id} load`, to: back, ohm: LEAK_OHM })
    hung.push({ wire: w, plus: `${circuit.id} load`, back })
    if (draws(w, state) && circuit.continuousA > 0)
      elements.push({ id: `load ${circuit.id}`, from: `${circuit.id} load`, to: back, amp: circuit.continuousA })
  }
  return { elements, hung }
}

/** What charging can give: rated while cruising, less at idle; assumed where it is not told. */
export function chargingA(c: JudgedContext, state: CarState): { amps: number; assumed: string | null } {
  const { charging, chargingRatedA, chargingIdleA } = c.facts.electrics ?? {}
  const rated = chargingRatedA ?? CHARGING.usualA
  if (state === 'cruise') return { amps: rated, assumed: chargingRatedA === undefined ? `charging of ${CHARGING.usualA} A, usual` : null }
  if (state !== 'idle') return { amps: 0, assumed: null }
  const share = charging === 'dynamo' ? CHARGING.dynamoIdleShare : CHARGING.idleShare
  return {
    amps: chargingIdleA ?? rated * share,
    assumed: chargingIdleA === undefined ? `${(100 * share).toFixed(0)} % of rated at idle` : null,
  }
}

const solvedBefore = new WeakMap<Harness, Map<string, StateSupply>>()
/** One state solved. An alternator asked for more than it gives is held at what it gives, and the battery makes up the rest. */
export function solveState(c: JudgedContext, state: CarState): StateSupply {
  const harness = harnessOf(c)
  const known = solvedBefore.get(harness) ?? new Map<string, StateSupply>()
  solvedBefore.set(harness, known)
  const key = JSON.stringify([state, strapOhm(c, 'engine'), strapOhm(c, 'body'), wiringOf(c).batteryAh, c.facts.electrics])
  const supply = known.get(key) ?? solve(c, state)
  known.set(key, supply)
  return supply
}
function solve(c: JudgedContext, state: CarState): StateSupply {
  const { amps: limit, assumed } = chargingA(c, state)
  const source = c.facts.electrics?.charging === 'dynamo' ? 'dynamo' : 'alternator'
  const { elements: hanging, hung } = hangingOf(c, state)
  const solved = (held: number | null, charged: boolean) =>
    wiringNetwork.run({ groundNode: 'minus', elements: [...sourcesOf(c, state, held, charged), ...hanging] })
  // a charged battery takes little; one that gives does so through its own resistance alone
  const settled = (held: number | null) => {
    const charging = solved(held, true)
    return charging.elements.battery <= 0 ? charging : solved(held, false)
  }
  const free = settled(null)
  const wanted = free.elements[source] ?? 0
  const given = Math.min(wanted, limit)
  const { nodes, elements } = wanted > limit ? settled(limit) : free
  const loads = hung
    .filter(({ wire: { circuit } }) => `load ${circuit.id}` in elements)
    .map(({ wire: { circuit }, plus, back }) => ({
      id: circuit.id,
      name: circuit.name,
      volt: nodes[plus] - nodes[back],
      lostV: nodes.plus - nodes[plus],
      limitV: circuit.dropLimitV,
    }))
  const batteryA = elements.battery
  const ah = wiringOf(c).batteryAh ?? USUAL_BATTERY_AH
  const drainMin = batteryA > 0.01 && state !== 'cranking' ? (60 * ah * USABLE_CHARGE) / batteryA : null
  return {
    state,
    nodes,
    loadA: given + batteryA,
    chargingA: given,
    batteryA,
    drainMin,
    drains: (state === 'idle' || state === 'cruise') && drainMin !== null && drainMin < LEAST_DRAIN_MIN,
    loads,
    assumed: [`${OLD_CAR_A[state]} A for the old car beside the harness`, ...(assumed ? [assumed] : [])],
  }
}
export const supplyOf = (c: JudgedContext): StateSupply[] => carStates.map((state) => solveState(c, state))

/** Volts at the unit while cranking: measured, else the battery's less what the wires take; null while neither is known. */
export function crankingAtUnitV(c: JudgedContext): { volt: number; measured: boolean } | null {
  const reading = latest(c.readings, 'wiring.crank-volts')
  if (reading) return { volt: reading.value.atUnitV, measured: true }
  if (c.facts.electrics?.crankingV === undefined) return null
  const at = solveState(c, 'cranking').loads.find((l) => l.id === 'unit-feed')
  return at ? { volt: at.volt, measured: false } : null
}
