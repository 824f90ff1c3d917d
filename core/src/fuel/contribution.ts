import { bsfcGKwh, fuels, PUMP_MARGIN_PCT } from '../injection/index.ts'
import { asSaying, type Context, kPa, litres, litresPerHour, mm, say } from '../kernel/index.ts'
import {
  type Load,
  NOT_SIZED,
  type PairCheck,
  schoolOf,
  type PartNeed,
  type PlanTask,
  type PriceId,
  type SizeProposal,
} from '../plan/index.ts'
import { assumedLabels, boosted } from '../survey/index.ts'
import { boreTable, type FuelElement, hasSump, sectionsOf, sizeOfBore, stockLine } from './circuit.ts'
import { CHARGING_HIGH_V, designOf, withBore } from './design.ts'
import { returnFloor } from './flow-findings.ts'
import { elementLabel, jointsOf, latestRecheck, leakState } from './joints.ts'
import { FEED_LIMIT_M_S, RETURN_SHARE } from './limits.ts'
import { velocityIn } from './line-drop.ts'
import { pumpDemand } from './pump-demand.ts'
import { pumpOf } from './pump.ts'

/** Draw taken for a pump whose sheet is not known, A. */
const USUAL_PUMP_A = 6

/** Flow the pump must give at pressure, L/h, with what it was worked from; null while the power is not known. */
function pumpWanted({ resolved: r, facts }: Context) {
  if (r.sizing === null) return null
  const input = {
    powerKw: r.sizing.pumpKw,
    bsfcGKwh: bsfcGKwh(r.fuelKind, boosted({ facts })),
    fuelDensityKgL: fuels[r.fuelKind].densityKgL,
    marginPct: PUMP_MARGIN_PCT,
  }
  return { input, ...pumpDemand.run(input) }
}
/** Least bore at which a flow keeps under a velocity, mm: d = sqrt(4 Q / (pi v)). */
const leastBoreMm = (flowLph: number, limitMS: number): number => Math.sqrt(velocityIn(flowLph, 1) / limitMS)

/** What a feed carries, L/h: all of the pump's flow where what is not used goes back past the injectors. */
function feedCarriesLph(c: Context, wantedLph: number): number {
  const design = designOf(c)
  return design ? Math.max(...design.solutions.map((s) => s.sections.find((x) => x.id === 'feed')!.flowLph)) : wantedLph
}

/** Pump, feed and return as the plan lists them. */
export function fuelSizes(c: Context): SizeProposal[] {
  const sizes: SizeProposal[] = []
  const wanted = pumpWanted(c)
  if (wanted) {
    sizes.push({
      sizeId: 'pump',
      label: 'Pump wanted at pressure',
      computed: wanted.flowLph,
      dimension: 'pumpFlow',
      formula: pumpDemand.formula,
      source: pumpDemand.source,
      inputs: wanted.input,
      assumed: assumedLabels(c.resolved, 'engine.powerKw', 'fuel.kind'),
    })
    const carried = feedCarriesLph(c, wanted.flowLph)
    const boreMm = leastBoreMm(carried, FEED_LIMIT_M_S)
    sizes.push({
      sizeId: 'feed-bore',
      label: 'Feed line, least bore',
      computed: boreMm,
      stock: stockLine(boreMm) ?? undefined,
      dimension: 'length',
      formula: 'd = sqrt(4 Q / (pi v)), Q all that goes through it: what is used and what goes back',
      source: 'Continuity; 3 m/s at most in the feed',
      inputs: { flowLph: carried, velocityMS: FEED_LIMIT_M_S },
    })
  }
  const design = designOf(c)
  if (design) {
    const { setKpa } = design.circuit.regulator
    const withReturn = (boreMm: number) => ({
      ...design.circuit,
      sections: { ...design.circuit.sections, return: withBore(design.circuit.sections.return ?? [], boreMm) },
    })
    const returnMm = boreTable.find((b) => returnFloor(design, withReturn(b.boreMm)) < RETURN_SHARE * setKpa)?.boreMm ?? null
    sizes.push({
      sizeId: 'return-bore',
      label: 'Return line, least bore',
      computed: returnMm,
      stock: returnMm === null ? undefined : (stockLine(returnMm) ?? undefined),
      dimension: 'length',
      formula: 'smallest of the table with which a wide-open regulator stays 10 % under the set pressure',
      source: 'Circuit solver',
      inputs: { setKpa, supplyV: CHARGING_HIGH_V },
      assumed: design.assumed,
    })
  }
  return sizes
}

export function fuelLoads(c: Context): Load[] {
  const amps = designOf(c)?.solutions.find((s) => s.state === 'full')?.pumpA ?? null
  return [amps === null ? { name: 'pump', amps: USUAL_PUMP_A, assumed: 'pump current' } : { name: 'pump', amps }]
}

const partId = (section: string, e: FuelElement): string => `${section}-${e.id}`.toLowerCase().replace(/[^a-z0-9-]/g, '-')
const hosePrice = (e: FuelElement & { kind: 'line' }): PriceId =>
  e.material === 'hard'
    ? 'line-hard'
    : e.hose === 'braided'
      ? 'hose-braided'
      : e.hose === 'carburettor'
        ? 'hose-carburettor'
        : 'hose-injection'

/** Lines and fittings as the circuit has them, equal ones summed; filters and valves one by one. */
function circuitParts({ fuel }: Context): PartNeed[] {
  const runs = new Map<string, PartNeed & { sections: Set<string> }>()
  const single: PartNeed[] = []
  let fittings = 0
  for (const { id: section } of fuel.layout ? sectionsOf(fuel.layout) : [])
    for (const e of fuel[section] ?? [])
      if (e.kind === 'line') {
        const price = hosePrice(e)
        const id = `${price}-${Math.round(e.boreMm * 10)}`
        const size = sizeOfBore(e.material, e.boreMm)
        const run = runs.get(id) ?? {
          id,
          price,
          name: elementLabel(e),
          spec: say`${size ?? say`${mm(e.boreMm)} bore`}, rated for injection pressure`,
          quantity: 0,
          unit: 'm' as const,
          used: '',
          sections: new Set<string>(),
        }
        run.quantity += e.lengthM
        run.sections.add(section)
        runs.set(id, run)
      } else if (e.kind === 'fitting') fittings += e.count
      else if (e.kind === 'filter') {
        const coarse = e.micron >= STRAINER_MICRON
        single.push({
          id: partId(section, e),
          price: coarse ? 'strainer' : 'filter',
          name: coarse ? 'Strainer' : 'Fine filter',
          spec: asSaying(`${e.micron} µm, ${e.body}`),
          quantity: 1,
          used: section,
        })
      } else
        single.push({
          id: partId(section, e),
          price: 'check-valve',
          name: 'Check valve',
          spec: say`opens at ${kPa(e.openingKpa)}`,
          quantity: 1,
          used: section,
        })
  const lines = [...runs.values()].map(({ sections, ...run }): PartNeed => ({
    ...run,
    quantity: Math.ceil(run.quantity * SPARE_LENGTH * 10) / 10,
    used: [...sections].join(', '),
  }))
  const loose: PartNeed[] = fittings
    ? [
        {
          id: 'fittings',
          price: 'fitting',
          name: 'Fittings',
          spec: asSaying('as the circuit shows, rated for the pressure'),
          quantity: fittings,
          used: 'fuel lines',
        },
      ]
    : []
  return [...single, ...lines, ...loose]
}
/** A screen of this mesh or coarser guards the pump's inlet, µm. */
const STRAINER_MICRON = 50
/** Line bought over what is measured: a tenth for bends and cuts. */
const SPARE_LENGTH = 1.1
/** Line taken while no circuit is laid out, m. */
const USUAL_LINE_M = 8
const USUAL_SET_KPA = 300
/** Lines as near as this to the exhaust get a sleeve, mm: twice the distance at which an unshielded one is a stop. */
const SLEEVE_WITHIN_MM = 200

/** Sleeve over what runs near the exhaust. */
function sleeve({ fuel }: Context): PartNeed[] {
  const nearM = [...(fuel.feed ?? []), ...(fuel.return ?? []), ...(fuel.delivery ?? [])].reduce(
    (all, e) => all + (e.kind === 'line' && e.exhaustMm !== undefined && e.exhaustMm < SLEEVE_WITHIN_MM ? e.lengthM : 0),
    0,
  )
  return nearM > 0
    ? [
        {
          id: 'heat-sleeve',
          price: 'heat-sleeve',
          name: 'Heat sleeve',
          spec: asSaying('reflective, over lines near the exhaust'),
          quantity: Math.ceil(nearM * 10) / 10,
          unit: 'm',
          used: 'fuel lines',
        },
      ]
    : []
}
/** Line bought while no circuit says where it runs, of the school chosen. */
function unlaidLine(c: Context): PartNeed {
  const braided = schoolOf(c, 'lines') === 'b'
  const wanted = pumpWanted(c)
  const boreMm = c.plan.overrides?.['feed-bore']?.value ?? (wanted ? leastBoreMm(wanted.flowLph, FEED_LIMIT_M_S) : null)
  const stock = boreMm === null ? null : stockLine(boreMm)
  return {
    id: braided ? 'line-braided' : 'line-hard-80',
    price: braided ? 'hose-braided' : 'line-hard',
    name: braided ? 'braided hose' : 'hard line',
    spec: boreMm === null ? asSaying(NOT_SIZED) : say`${stock ?? say`${mm(boreMm)} bore or more`}; what the pump sends round decides`,
    quantity: USUAL_LINE_M,
    unit: 'm',
    used: 'feed and return',
  }
}

export function fuelParts(c: Context): PartNeed[] {
  const { fuel, plan } = c
  const parts: PartNeed[] = []
  const setKpa = fuel.regulator?.setKpa ?? plan.fuelPressureKpa ?? USUAL_SET_KPA
  const inTank = fuel.pumpPlace === 'in-tank'
  const flowLph = plan.overrides?.pump?.value ?? pumpWanted(c)?.flowLph ?? null
  parts.push({
    id: 'pump',
    price: 'pump',
    name: 'Pressure pump',
    spec: say`${flowLph === null ? NOT_SIZED : say`${litresPerHour(flowLph)}`} at ${kPa(setKpa)} and 13.5 V`,
    quantity: 1,
    used: inTank ? 'tank' : 'below the fuel level',
  })
  if (inTank)
    parts.push({
      id: 'in-tank-module',
      price: 'in-tank-module',
      name: 'In-tank carrier',
      spec: asSaying('sealed flange, fuel-proof wiring'),
      quantity: 1,
      used: 'tank',
    })
  if (fuel.layout && hasSump(fuel.layout)) {
    const pot = fuel.layout === 'surge-tank'
    parts.push({
      id: 'sump',
      price: pot ? 'surge-pot' : 'sump',
      name: pot ? 'Surge pot' : 'Sump',
      spec: say`${litres(fuel.sump?.volumeL ?? 1, 1)}, vented to the tank`,
      quantity: 1,
      used: 'engine bay, away from heat',
    })
    if (fuel.liftPump?.kind === 'electric')
      parts.push({
        id: 'lift-pump',
        price: 'lift-pump',
        name: 'Lift pump',
        spec: asSaying('low pressure'),
        quantity: 1,
        used: 'under the car',
      })
  }
  parts.push({
    id: 'regulator',
    price: 'regulator',
    name: 'Regulator',
    spec: say`${kPa(setKpa)}${fuel.regulator?.reference === 'manifold' ? ', manifold reference' : ''}`,
    quantity: 1,
    used: fuel.layout === 'returnless' ? 'by the tank' : 'after the injectors',
  })
  parts.push(...circuitParts(c))
  if (!fuel.layout) parts.push(unlaidLine(c))
  parts.push(...sleeve(c))
  parts.push({
    id: 'crash-switch',
    price: 'crash-switch',
    name: 'Inertia or roll-over switch',
    spec: asSaying('opens the pump supply'),
    quantity: 1,
    used: 'pump supply',
  })
  parts.push({
    id: 'stall-cut-off',
    price: 'stall-cut-off',
    name: 'Cut-off on lost speed',
    spec: asSaying('stops the pump within 2 s, apart from the control unit'),
    quantity: 1,
    used: 'pump supply',
  })
  return parts
}

/** Hours and days of handbook 01, for experienced hands at home. */
const LAYOUT_HOURS = { return: 8, returnless: 5, 'lift-sump': 4, 'surge-tank': 4 } as const
const TANK_LEAD_DAYS = 14
const CURE_DAYS = 1
const FIRST_WEEK_DAYS = 7

export function fuelTasks(c: Context): PlanTask[] {
  const { fuel, facts } = c
  const leaks = leakState(c)
  const tasks: PlanTask[] = []
  if (facts.fuel?.tankVented === false)
    tasks.push({
      id: 'tank-vent',
      title: 'Vent the tank with a roll-over valve',
      station: 'fuel',
      kind: 'work',
      base: 1.5,
      after: [],
      before: ['removal'],
      because: 'tank not vented',
    })
  if (fuel.pumpPlace === 'in-tank' && fuel.layout && !hasSump(fuel.layout))
    tasks.push({
      id: 'tank-work',
      title: 'Tank trade: opening, baffle and flange for the pump',
      station: 'fuel',
      kind: 'trade',
      base: 2,
      after: [],
      before: ['removal'],
      leadDays: TANK_LEAD_DAYS,
    })
  tasks.push(
    {
      id: 'fuel-system',
      title: 'Fuel system: pump, lines, filters, regulator',
      station: 'fuel',
      kind: 'work',
      base: LAYOUT_HOURS[fuel.layout ?? 'return'],
      after: ['removal'],
    },
    { id: 'sealant', title: 'Sealant cures', station: 'fuel', kind: 'wait', base: CURE_DAYS, after: ['fuel-system'] },
    {
      id: 'leak-check',
      title: 'Prime and leak check, joint by joint',
      station: 'fuel',
      kind: 'work',
      base: 1,
      after: ['sealant', 'wiring', 'induction'],
      helper: true,
      provenDone: leaks.passed ? (leaks.lastAt ?? undefined) : undefined,
    },
    {
      id: 'hot-leak-check',
      title: 'Leak check, hot, after the first drive',
      station: 'fuel',
      kind: 'work',
      base: 0.4,
      after: ['idle'],
      provenDone: latestRecheck(c, 'hot'),
    },
    { id: 'first-week', title: 'First week of use', station: 'fuel', kind: 'wait', base: FIRST_WEEK_DAYS, after: ['proving'] },
    {
      id: 'week-leak-check',
      title: 'Leak check after the first week',
      station: 'fuel',
      kind: 'work',
      base: 0.4,
      after: ['first-week'],
      provenDone: latestRecheck(c, 'first-week'),
    },
  )
  return tasks
}

/** What of the fuel system must go together. */
export function fuelPairs(c: Context): PairCheck[] {
  const { fuel, plan } = c
  const setKpa = fuel.regulator?.setKpa ?? plan.fuelPressureKpa
  const pairs: PairCheck[] = []
  const pump = fuel.pump ? pumpOf(fuel.pump) : null
  const { injectorRatedKpa } = plan
  pairs.push({
    id: 'pump-regulator',
    label: 'Pump and regulator',
    ...(pump === null || setKpa === undefined
      ? { fit: 'open' as const, text: 'curve of the pump or set pressure not told yet' }
      : pump.lastPointKpa < setKpa
        ? { fit: 'no' as const, text: say`the pump’s curve ends at ${kPa(pump.lastPointKpa)}, the regulator holds ${kPa(setKpa)}` }
        : { fit: 'fits' as const, text: say`the curve reaches ${kPa(pump.lastPointKpa)}, ${kPa(setKpa)} are held` }),
  })
  pairs.push({
    id: 'injector-pressure',
    label: 'Injectors and pressure',
    ...(injectorRatedKpa === undefined || setKpa === undefined
      ? { fit: 'open' as const, text: 'rating of the injectors or set pressure not told yet' }
      : setKpa > OVER_RATING * injectorRatedKpa
        ? { fit: 'work' as const, text: say`${kPa(setKpa)} on injectors rated at ${kPa(injectorRatedKpa)}: only if their sheet allows it` }
        : { fit: 'fits' as const, text: say`rated at ${kPa(injectorRatedKpa)}, worked at ${kPa(setKpa)}` }),
  })
  const ends = jointsOf(fuel)
  const bad = ends.filter((j) => j.mismatch)
  pairs.push({
    id: 'ends',
    label: 'Ends of hoses and lines',
    ...(!ends.length
      ? { fit: 'open' as const, text: 'the circuit is not laid out yet' }
      : bad.length
        ? { fit: 'work' as const, text: `${bad.length} of ${ends.length} meet another kind of end: ${bad.map((j) => j.label).join(', ')}` }
        : { fit: 'fits' as const, text: `${ends.length} joints, none known to meet another kind of end` }),
  })
  return pairs
}
/** Injectors are worked so far over the pressure of their rating without asking their maker. */
const OVER_RATING = 1.35

/** The wire to the pump as the station that lays it has it. */
interface PumpFeed {
  lengthM: number
  areaMm2: number
}
declare module '../kernel/told.ts' {
  interface ContributionTable {
    pumpFeed: PumpFeed
  }
}
