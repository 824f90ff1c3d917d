import { asSaying, type JudgedContext, kPa, mm, say, type Saying, wordsOf } from '../kernel/index.ts'
import type { PartStatus } from './choices.ts'
import type { PartNeed, SizeProposal } from './contribution.ts'
import { priceOf } from './prices.ts'
import { boltsTo } from './route-reasons.ts'
import { injectorsFor, planSizes } from './sizes.ts'
import { schoolOf } from './ways.ts'

export interface Part {
  id: string
  name: string
  /** specification, never a make; metric text, and the same with its quantities apart */
  spec: string
  said: Saying
  quantity: number
  unit: 'pc' | 'm'
  used: string
  price: number
  status: PartStatus
  arrives: string | null
  note: string | null
}

/** What the plan's own parts are told by. */
interface PartsAt {
  c: JudgedContext
  cylinders: number
  injectors: number
  size: (id: SizeProposal['sizeId']) => number | null
}
interface OwnPart extends Omit<PartNeed, 'spec' | 'quantity' | 'used'> {
  when: (at: PartsAt) => boolean
  spec: (at: PartsAt) => Saying | string
  quantity?: (at: PartsAt) => number
  used: string | ((at: PartsAt) => string)
}

export const NOT_SIZED = 'size not known yet'
const boreOf = ({ size }: PartsAt): Saying => {
  const bore = size('throttle')
  return bore === null ? asSaying(NOT_SIZED) : say`${mm(bore, 0)}`
}
const onRoute =
  (...routes: string[]) =>
  ({ c }: PartsAt): boolean =>
    routes.includes(c.plan.route!)
const pressureOf = ({ c }: PartsAt) => kPa(c.plan.fuelPressureKpa ?? 300)
const always = (): boolean => true

/** The plan's own parts, an entry each; what a station asks for comes from its contributions. */
const ownParts: readonly OwnPart[] = [
  {
    id: 'throttle-body',
    price: 'throttle-body',
    name: 'Throttle body with injector seats',
    when: onRoute('throttle-body'),
    spec: (at) => say`bores of ${boreOf(at)} or more each`,
    used: 'carburettor flange',
  },
  {
    id: 'mp-throttle',
    price: 'mp-throttle',
    name: 'Single throttle',
    when: onRoute('multi-port'),
    spec: (at) => say`${boreOf(at)} or more`,
    used: 'plenum inlet',
  },
  {
    id: 'manifold',
    price: 'manifold',
    name: 'Manifold with injector bosses',
    when: onRoute('multi-port'),
    spec: ({ c, cylinders }) => `${cylinders} ports${c.facts.engine?.siamesedInlets ? ', siamesed' : ''}`,
    used: 'head',
  },
  {
    id: 'ir-throttle',
    price: 'ir-throttle',
    name: 'Throttle with own runner',
    when: onRoute('individual-runner'),
    spec: (at) => say`${boreOf(at)} or more`,
    quantity: ({ cylinders }) => cylinders,
    used: 'head',
  },
  {
    id: 'rail',
    price: 'rail',
    name: 'Fuel rail',
    when: onRoute('multi-port', 'individual-runner'),
    spec: (at) => say`${at.cylinders} injector seats, rated for ${pressureOf(at)}`,
    used: 'manifold',
  },
  {
    id: 'injector',
    price: 'injector',
    name: 'Injector',
    when: always,
    spec: (at) => {
      const flow = at.c.plan.injectorCcMin ?? at.size('injector')
      return say`${flow === null ? NOT_SIZED : `${flow.toFixed(0)} cc/min`} at ${kPa(at.c.plan.injectorRatedKpa ?? 300)}`
    },
    quantity: ({ injectors }) => injectors,
    used: ({ c }) => (c.plan.route === 'throttle-body' ? 'throttle body' : 'rail'),
  },
  {
    id: 'etb-body',
    price: 'etb-body',
    name: 'Motor for the throttle, two position tracks',
    when: ({ c }) => c.plan.electronicThrottle === true,
    spec: () => 'fails closed',
    used: 'throttle',
  },
  {
    id: 'etb-pedal',
    price: 'etb-pedal',
    name: 'Pedal sensor',
    when: ({ c }) => c.plan.electronicThrottle === true,
    spec: () => 'two independent tracks',
    used: 'pedal',
  },
  {
    id: 'unit',
    price: 'unit',
    name: 'Control unit',
    when: always,
    spec: ({ c, injectors }) => `${injectors} injector outputs${c.plan.timingControl ? ', timing control' : ''}`,
    used: ({ c }) => (c.facts.place?.unitPlace === 'bay' ? 'engine bay' : 'cabin'),
  },
  {
    id: 'unit-phased',
    price: 'unit-phased',
    name: 'Phased injection',
    when: ({ c }) => c.plan.phased === true,
    spec: ({ injectors }) => `${injectors} separate outputs and a cam signal`,
    used: 'control unit',
  },
  { id: 'loom', price: 'loom', name: 'Loom with connectors', when: always, spec: () => 'fused, sealed in the bay', used: 'unit to engine' },
  {
    id: 'sensors',
    price: 'sensors',
    name: 'Sensors',
    when: always,
    spec: () => 'coolant, intake air, manifold pressure, throttle position',
    used: 'engine',
  },
  { id: 'o2-sensor', price: 'o2-sensor', name: 'Wide-band exhaust sensor', when: always, spec: () => 'heated', used: 'exhaust' },
  {
    id: 'o2-bung',
    price: 'o2-bung',
    name: 'Sensor boss with plug',
    when: ({ c }) => wantsBoss(c) && schoolOf(c, 'boss') === 'a',
    spec: () => 'weld-in, mild or stainless as the pipe',
    used: 'exhaust, after the merge',
  },
  {
    id: 'o2-clamp',
    price: 'o2-clamp',
    name: 'Clamp-on sensor seat',
    when: ({ c }) => wantsBoss(c) && schoolOf(c, 'boss') === 'b',
    spec: () => 'for the pipe’s diameter, with gasket and two bands',
    used: 'exhaust, after the merge',
  },
  {
    id: 'flange-adapter',
    price: 'flange-adapter',
    name: 'Flange adapter',
    when: ({ c }) => c.plan.route === 'throttle-body' && c.facts.place?.flange !== undefined && !boltsTo('throttle-body', c),
    spec: ({ c }) => `from the ${c.facts.place!.flange!.replace('-', ' ')} flange to the body, with gaskets`,
    used: 'manifold',
  },
  {
    id: 'idle-valve',
    price: 'idle-valve',
    name: 'Idle valve',
    when: ({ c }) => c.plan.electronicThrottle !== true,
    spec: () => 'in the body, or beside it with a hose',
    used: 'throttle',
  },
  {
    id: 'fasteners',
    price: 'fasteners',
    name: 'Studs, bolts, clamps',
    when: always,
    spec: () => 'of the graded kind that came off, new lock washers',
    used: 'engine and lines',
  },
]
/** Wire to the nearer and the farther ground, m. */
const GROUND_M = { near: 1.5, far: 5 }
const wantsBoss = ({ facts }: JudgedContext): boolean => facts.exhaust?.bung !== 'after-merge'

/** Parts that close the list, after those of the stations. */
const lastParts: readonly OwnPart[] = [
  {
    id: 'leads',
    price: 'leads',
    name: 'Resistive leads, set',
    when: ({ c }) => c.facts.ignition?.leads === 'solid-core',
    spec: ({ cylinders }) => `${cylinders} and coil`,
    used: 'ignition',
  },
  {
    id: 'plugs',
    price: 'plugs',
    name: 'Resistor plugs',
    when: ({ c }) => c.facts.ignition?.plugs === 'plain',
    spec: () => 'heat range as before',
    quantity: ({ cylinders }) => cylinders,
    used: 'head',
  },
  {
    id: 'ground-wire',
    price: 'ground-wire',
    name: 'Ground of the unit',
    when: always,
    spec: ({ c }) =>
      schoolOf(c, 'unit-ground') === 'a'
        ? '6 mm² to the battery’s post, nothing else on it'
        : '6 mm² to the block, and a strap from block to body',
    quantity: ({ c }) => (schoolOf(c, 'unit-ground') === 'a' && c.facts.electrics?.batteryPlace === 'boot' ? GROUND_M.far : GROUND_M.near),
    unit: 'm',
    used: 'control unit',
  },
  {
    id: 'lead-caps',
    price: 'lead-caps',
    name: 'Caps for spare leads',
    when: ({ c }) => schoolOf(c, 'spare-leads') === 'a',
    spec: () => 'sealed, each lead by itself',
    used: 'loom',
  },
  {
    id: 'alternator',
    price: 'alternator',
    name: 'Alternator',
    when: ({ c, size }) => {
      const rated = c.facts.electrics?.chargingRatedA
      return c.facts.electrics?.charging === 'dynamo' || (rated !== undefined && rated < (size('alternator') ?? 0))
    },
    spec: ({ size }) => `${Math.ceil((size('alternator') ?? 0) / 5) * 5} A or more`,
    used: 'engine',
  },
  {
    id: 'gaskets',
    price: 'gaskets',
    name: 'Gaskets and sealants',
    when: always,
    spec: () => 'fuel-proof; no silicone near the exhaust sensor',
    used: 'engine',
  },
]

const needOf = (part: OwnPart, at: PartsAt): PartNeed => ({
  ...part,
  spec: asSaying(part.spec(at)),
  quantity: part.quantity?.(at) ?? 1,
  used: typeof part.used === 'string' ? part.used : part.used(at),
})

/** Every part that the choices ask for, with its specification, quantity and place; what a person said of a part goes over it. */
export function partsList(c: JudgedContext): Part[] {
  const { plan, resolved } = c
  if (!plan.route) return []
  const sizes = new Map(planSizes(c).map((s) => [s.sizeId, s.value]))
  const at: PartsAt = {
    c,
    cylinders: resolved.cylinders ?? 4,
    injectors: plan.injectors ?? injectorsFor(plan.route, resolved.cylinders),
    size: (id) => sizes.get(id) ?? null,
  }
  const listed = (parts: readonly OwnPart[]) => parts.filter((p) => p.when(at)).map((p) => needOf(p, at))
  return [...listed(ownParts), ...c.contributed('parts'), ...listed(lastParts)].map((need): Part => {
    const own = plan.parts?.[need.id] ?? {}
    return {
      id: need.id,
      name: need.name,
      spec: wordsOf(need.spec),
      said: need.spec,
      quantity: own.quantity ?? need.quantity,
      unit: need.unit ?? 'pc',
      used: need.used,
      price: own.price ?? priceOf(plan, need.price),
      status: own.status ?? 'to-buy',
      arrives: own.arrives ?? null,
      note: own.note ?? null,
    }
  })
}

/** A part of the list that a person has marked fitted. */
export const isFitted = ({ plan }: Pick<JudgedContext, 'plan'>, id: string): boolean => plan.parts?.[id]?.status === 'fitted'

/** What is still to be paid, and the whole. */
export function partsCost(parts: readonly Part[]): { total: number; toBuy: number } {
  const cost = (list: readonly Part[]) => list.reduce((all, p) => all + p.price * p.quantity, 0)
  return { total: cost(parts), toBuy: cost(parts.filter((p) => p.status === 'to-buy')) }
}
