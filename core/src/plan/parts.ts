import { hasSump, sectionsOf, sizeOfBore } from '../fuel/circuit.ts'
import { elementLabel } from '../fuel/joints.ts'
import type { Context } from '../job/context.ts'
import { coilCount, coilsOf, hasCamSignal } from '../spark/ways.ts'
import type { PartEntry, PartStatus } from './choices.ts'
import { type PlanChoices } from './choices.ts'
import { injectorsFor, planSizes } from './sizes.ts'
import type { z } from 'zod'

export interface Part {
  id: string
  name: string
  /** specification, never a make */
  spec: string
  quantity: number
  unit: 'pc' | 'm'
  used: string
  price: number
  status: z.infer<typeof PartStatus>
  arrives: string | null
  note: string | null
}

/** Starting prices of the workshop's price book, made up; each can be changed for the build at hand. Lengths per metre. */
export const priceBook = {
  'throttle-body': 520,
  'mp-throttle': 210,
  'ir-throttle': 145,
  rail: 120,
  injector: 48,
  manifold: 480,
  'etb-body': 260,
  'etb-pedal': 95,
  unit: 640,
  'unit-phased': 180,
  loom: 160,
  sensors: 130,
  'o2-sensor': 115,
  'o2-bung': 12,
  pump: 140,
  'lift-pump': 60,
  'in-tank-module': 190,
  sump: 150,
  'surge-pot': 180,
  regulator: 85,
  filter: 32,
  strainer: 15,
  'check-valve': 24,
  'line-hard': 9,
  'hose-injection': 14,
  'hose-braided': 26,
  'hose-carburettor': 4,
  fitting: 8,
  relay: 14,
  'crash-switch': 38,
  'stall-cut-off': 45,
  wire: 2,
  distributor: 240,
  'lock-plate': 35,
  'crank-wheel': 85,
  'cam-sensor': 70,
  coil: 75,
  'coil-per-cylinder': 42,
  leads: 65,
  plugs: 6,
  alternator: 230,
  'vacuum-reservoir': 55,
  gaskets: 40,
} as const
export type PriceId = keyof typeof priceBook
export const priceOf = (plan: z.infer<typeof PlanChoices>, id: PriceId): number => plan.prices?.[id] ?? priceBook[id]

/** Every part that the choices ask for, with its specification, quantity and place. */
export function partsList(c: Context): Part[] {
  const { plan, fuel, facts, resolved } = c
  const parts: Part[] = []
  const size = new Map(planSizes(c).map((s) => [s.sizeId, s.value]))
  const fixed = (value: number | null | undefined, decimals = 0) =>
    value === null || value === undefined ? 'size not known yet' : value.toFixed(decimals)
  const add = (id: string, price: PriceId, name: string, spec: string, quantity: number, used: string, unit: 'pc' | 'm' = 'pc'): void => {
    const own: z.infer<typeof PartEntry> = plan.parts?.[id] ?? {}
    parts.push({
      id,
      name,
      spec,
      quantity: own.quantity ?? quantity,
      unit,
      used,
      price: own.price ?? priceOf(plan, price),
      status: own.status ?? 'to-buy',
      arrives: own.arrives ?? null,
      note: own.note ?? null,
    })
  }
  const { route } = plan
  if (!route) return parts
  const cylinders = resolved.cylinders ?? 4
  const injectors = plan.injectors ?? injectorsFor(route, resolved.cylinders)
  const bore = fixed(size.get('throttle'))
  if (route === 'throttle-body')
    add('throttle-body', 'throttle-body', 'Throttle body with injector seats', `bores of ${bore} mm or more each`, 1, 'carburettor flange')
  if (route === 'multi-port') {
    add('mp-throttle', 'mp-throttle', 'Single throttle', `${bore} mm or more`, 1, 'plenum inlet')
    add(
      'manifold',
      'manifold',
      'Manifold with injector bosses',
      `${cylinders} ports${facts.engine?.siamesedInlets ? ', siamesed' : ''}`,
      1,
      'head',
    )
  }
  if (route === 'individual-runner') add('ir-throttle', 'ir-throttle', 'Throttle with own runner', `${bore} mm or more`, cylinders, 'head')
  if (route !== 'throttle-body')
    add('rail', 'rail', 'Fuel rail', `${cylinders} injector seats, rated for ${fixed(plan.fuelPressureKpa ?? 300)} kPa`, 1, 'manifold')
  add(
    'injector',
    'injector',
    'Injector',
    `${fixed(plan.injectorCcMin ?? size.get('injector'))} cc/min at ${fixed(plan.injectorRatedKpa ?? 300)} kPa`,
    injectors,
    route === 'throttle-body' ? 'throttle body' : 'rail',
  )
  if (plan.electronicThrottle) {
    add('etb-body', 'etb-body', 'Motor for the throttle, two position tracks', 'fails closed', 1, 'throttle')
    add('etb-pedal', 'etb-pedal', 'Pedal sensor', 'two independent tracks', 1, 'pedal')
  }
  add(
    'unit',
    'unit',
    'Control unit',
    `${injectors} injector outputs${plan.timingControl ? ', timing control' : ''}`,
    1,
    facts.place?.unitPlace === 'bay' ? 'engine bay' : 'cabin',
  )
  if (plan.phased)
    add('unit-phased', 'unit-phased', 'Phased injection', `${injectors} separate outputs and a cam signal`, 1, 'control unit')
  add('loom', 'loom', 'Loom with connectors', 'fused, sealed in the bay', 1, 'unit to engine')
  add('sensors', 'sensors', 'Sensors', 'coolant, intake air, manifold pressure, throttle position', 1, 'engine')
  add('o2-sensor', 'o2-sensor', 'Wide-band exhaust sensor', 'heated', 1, 'exhaust')
  if (facts.exhaust?.bung !== 'after-merge')
    add('o2-bung', 'o2-bung', 'Sensor boss with plug', 'weld-in, mild or stainless as the pipe', 1, 'exhaust, after the merge')
  add(
    'pump',
    'pump',
    'Pressure pump',
    `${fixed(size.get('pump'))} L/h at ${fixed(fuel.regulator?.setKpa ?? plan.fuelPressureKpa ?? 300)} kPa and 13.5 V`,
    1,
    fuel.pumpPlace === 'in-tank' ? 'tank' : 'below the fuel level',
  )
  if (fuel.pumpPlace === 'in-tank')
    add('in-tank-module', 'in-tank-module', 'In-tank carrier', 'sealed flange, fuel-proof wiring', 1, 'tank')
  if (fuel.layout && hasSump(fuel.layout)) {
    add(
      'sump',
      fuel.layout === 'surge-tank' ? 'surge-pot' : 'sump',
      fuel.layout === 'surge-tank' ? 'Surge pot' : 'Sump',
      `${fixed(fuel.sump?.volumeL ?? 1, 1)} L, vented to the tank`,
      1,
      'engine bay, away from heat',
    )
    if (fuel.liftPump?.kind === 'electric') add('lift-pump', 'lift-pump', 'Lift pump', 'low pressure', 1, 'under the car')
  }
  add(
    'regulator',
    'regulator',
    'Regulator',
    `${fixed(fuel.regulator?.setKpa ?? plan.fuelPressureKpa ?? 300)} kPa${fuel.regulator?.reference === 'manifold' ? ', manifold reference' : ''}`,
    1,
    fuel.layout === 'returnless' ? 'by the tank' : 'after the injectors',
  )
  // lines and fittings as the circuit has them, equal ones summed
  const runs = new Map<string, { price: PriceId; name: string; spec: string; metres: number; sections: Set<string> }>()
  let fittings = 0
  for (const { id: section } of fuel.layout ? sectionsOf(fuel.layout) : [])
    for (const e of fuel[section] ?? []) {
      if (e.kind === 'line') {
        const price: PriceId =
          e.material === 'hard'
            ? 'line-hard'
            : e.hose === 'braided'
              ? 'hose-braided'
              : e.hose === 'carburettor'
                ? 'hose-carburettor'
                : 'hose-injection'
        const key = `${price}-${Math.round(e.boreMm * 10)}`
        const run = runs.get(key) ?? {
          price,
          name: elementLabel(e),
          spec: `${sizeOfBore(e.material, e.boreMm) ?? `${e.boreMm} mm bore`}, rated for injection pressure`,
          metres: 0,
          sections: new Set<string>(),
        }
        run.metres += e.lengthM
        run.sections.add(section)
        runs.set(key, run)
      } else if (e.kind === 'fitting') fittings += e.count
      else if (e.kind === 'filter')
        add(
          `${section}-${e.id}`.toLowerCase().replace(/[^a-z0-9-]/g, '-'),
          e.micron >= 50 ? 'strainer' : 'filter',
          e.micron >= 50 ? 'Strainer' : 'Fine filter',
          `${e.micron} µm, ${e.body}`,
          1,
          section,
        )
      else
        add(
          `${section}-${e.id}`.toLowerCase().replace(/[^a-z0-9-]/g, '-'),
          'check-valve',
          'Check valve',
          `opens at ${e.openingKpa} kPa`,
          1,
          section,
        )
    }
  for (const [key, run] of runs) add(key, run.price, run.name, run.spec, Math.ceil(run.metres * 11) / 10, [...run.sections].join(', '), 'm')
  if (fittings) add('fittings', 'fitting', 'Fittings', 'as the circuit shows, rated for the pressure', fittings, 'fuel lines')
  if (!fuel.layout)
    add('line-hard-80', 'line-hard', 'hard line', `${fixed(size.get('feed-bore'), 1)} mm bore or more`, 8, 'feed and return', 'm')
  add('relay', 'relay', 'Relay with fuse and holder', '30 A', 3, 'pump, unit, coils')
  add('crash-switch', 'crash-switch', 'Inertia or roll-over switch', 'opens the pump supply', 1, 'pump supply')
  add('stall-cut-off', 'stall-cut-off', 'Cut-off on lost speed', 'stops the pump within 2 s, apart from the control unit', 1, 'pump supply')
  add('wire', 'wire', 'Wire', 'thin-wall, by the circuit list', 25, 'loom', 'm')
  addIgnition(c, cylinders, add)
  if (facts.ignition?.leads === 'solid-core') add('leads', 'leads', 'Resistive leads, set', `${cylinders} and coil`, 1, 'ignition')
  if (facts.ignition?.plugs === 'plain') add('plugs', 'plugs', 'Resistor plugs', 'heat range as before', cylinders, 'head')
  const charging = facts.electrics?.chargingRatedA
  const needA = size.get('alternator') ?? 0
  if (facts.electrics?.charging === 'dynamo' || (charging !== undefined && charging < needA))
    add('alternator', 'alternator', 'Alternator', `${Math.ceil(needA / 5) * 5} A or more`, 1, 'engine')
  if (route === 'individual-runner' && plan.brakeBooster !== false)
    add('vacuum-reservoir', 'vacuum-reservoir', 'Vacuum reservoir', 'with check valve', 1, 'brake booster')
  add('gaskets', 'gaskets', 'Gaskets and sealants', 'fuel-proof; no silicone near the exhaust sensor', 1, 'engine')
  return parts
}

type AddPart = (id: string, price: PriceId, name: string, spec: string, quantity: number, used: string) => void

function addIgnition(c: Context, cylinders: number, add: AddPart): void {
  const { plan, spark, facts, resolved } = c
  const coils = coilsOf(c)
  if (!plan.timingControl && coils === 'single') return
  if (coils !== 'single') {
    add('crank-wheel', 'crank-wheel', 'Trigger wheel and crank sensor', 'with bracket', 1, 'damper')
    if (hasCamSignal(c)) add('cam-sensor', 'cam-sensor', 'Cam sync sensor', 'one pulse a cycle', 1, 'distributor bore or cam')
    const paired = coils === 'paired'
    add(
      'coils',
      'coil-per-cylinder',
      'Coil',
      paired ? 'two towers, one for each pair' : 'one for each cylinder',
      coilCount(coils, cylinders),
      'near the plugs',
    )
    return
  }
  if (spark.trigger === 'locked-magnetic') add('lock-plate', 'lock-plate', 'Lock-out plate', 'for the old distributor', 1, 'distributor')
  else if (spark.trigger === 'own-curve')
    add('distributor', 'distributor', 'Distributor with its own curve', 'rotation and drive as the old one', 1, 'engine')
  else if (spark.trigger !== 'speed-signal' && facts.ignition?.kind !== 'hall')
    add('distributor', 'distributor', 'Hall distributor, locked', 'rotation and drive as the old one', 1, 'engine')
  add('coil', 'coil', 'Ignition coil', `${resolved.coilPrimaryOhm.toFixed(2)} ohm primary`, 1, 'bay')
}

/** What is still to be paid, and the whole. */
export function partsCost(parts: readonly Part[]): { total: number; toBuy: number } {
  const cost = (list: readonly Part[]) => list.reduce((all, p) => all + p.price * p.quantity, 0)
  return { total: cost(parts), toBuy: cost(parts.filter((p) => p.status === 'to-buy')) }
}
