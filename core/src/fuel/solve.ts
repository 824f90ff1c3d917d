import { z } from 'zod'
import { rootBetween } from '../kernel/index.ts'
import { FuelElement, FuelLayout, hasSump, LiftPump, LOSS_K, Regulator, ROUGHNESS_UM, type SectionId, sectionsOf } from './circuit.ts'
import { type Fluid, FUEL_HEAT_J_KGK } from './fluid.ts'
import { smoothFriction } from './friction.ts'
import { velocityIn } from './line-drop.ts'
import { pumpOf, PumpSpec } from './pump.ts'

const G = 9.80665
/** A check valve opens over this much flow, so that its opening pressure does not jump at zero. */
const CRACK_LPH = 2
/** Flow below which nothing moves: keeps 64/Re out of the denormal numbers. */
const STILL_LPH = 1e-9
/** A filter finer than this is one that ages by what it holds back. */
const FINE_BELOW_MICRON = 50

/** One element at one flow: what it takes, and how fast the fuel goes through it. */
export interface ElementFlow {
  dropKpa: number
  velocityMS: number | null
  reynolds: number | null
}

/**
 * Pressure an element takes at a flow, kPa; odd in the flow, rising with it, zero at rest.
 * @source lines: Darcy-Weisbach; fittings: loss coefficient times dynamic pressure; filters and valves: squared law through the sheet's point
 */
function elementDropKpa(element: FuelElement, flowLph: number, fluid: Fluid, clogged = 1): number {
  const q = Math.abs(flowLph)
  if (q < STILL_LPH) return 0
  const sign = flowLph < 0 ? -1 : 1
  switch (element.kind) {
    case 'line': {
      const velocityMS = velocityIn(q, element.boreMm)
      const f = smoothFriction(reynoldsOf(velocityMS, element.boreMm, fluid), ROUGHNESS_UM[element.material] / 1000 / element.boreMm)
      return (sign * f * element.lengthM * fluid.densityKgM3 * velocityMS * velocityMS) / 2 / element.boreMm
    }
    case 'fitting':
      return (sign * LOSS_K[element.fitting] * element.count * fluid.densityKgM3 * velocityIn(q, element.boreMm) ** 2) / 2000
    case 'filter':
      return sign * element.dropKpa * (element.micron < FINE_BELOW_MICRON ? clogged : 1) * (q / element.atLph) ** 2
    case 'check-valve':
      return sign * (element.openingKpa * Math.min(1, q / CRACK_LPH) + element.dropKpa * (q / element.atLph) ** 2)
  }
}
const reynoldsOf = (velocityMS: number, boreMm: number, fluid: Fluid): number => (velocityMS * boreMm * 1000) / fluid.viscosityMm2S

/** The same with velocity and Reynolds number, where a bore gives them. */
export function elementFlow(element: FuelElement, flowLph: number, fluid: Fluid, clogged = 1): ElementFlow {
  const dropKpa = elementDropKpa(element, flowLph, fluid, clogged)
  if (element.kind !== 'line' && element.kind !== 'fitting') return { dropKpa, velocityMS: null, reynolds: null }
  const velocityMS = velocityIn(Math.abs(flowLph), element.boreMm)
  return { dropKpa, velocityMS, reynolds: element.kind === 'line' ? reynoldsOf(velocityMS, element.boreMm, fluid) : null }
}

export const fuelStates = [
  { id: 'prime', title: 'Prime', detail: 'priming, no use' },
  { id: 'idle', title: 'Warm idle', detail: 'warm idle' },
  { id: 'cruise', title: 'Cruise', detail: 'cruise' },
  { id: 'full', title: 'Full power', detail: 'full power' },
  { id: 'full-hot', title: 'Full, 11.5 V, hot', detail: 'full power at 11.5 V with hot fuel' },
] as const
export type FuelStateId = (typeof fuelStates)[number]['id']

const fluidSchema = z.strictObject({
  temperatureC: z.number().min(-40).max(90),
  densityKgM3: z.number().min(500).max(1100),
  viscosityMm2S: z.number().min(0.1).max(20),
  vapourKpa: z.number().min(0).max(300).describe('absolute'),
})
/** What the circuit is asked to do in one state. Pressures are kPa over the air (gauge) unless they say absolute. */
export const FuelState = z.strictObject({
  id: z.enum(fuelStates.map((s) => s.id) as [FuelStateId, ...FuelStateId[]]),
  supplyV: z.number().min(4).max(18).describe('voltage of the supply, before the wiring to the pump, V'),
  useLph: z.number().min(0).max(1000).describe('what the injectors take, L/h'),
  referenceKpa: z.number().min(-100).max(300).describe('at the regulator reference port, over the air, kPa'),
  outletKpa: z.number().min(-100).max(300).describe('pressure the injectors spray into, over the air, kPa'),
  fluid: fluidSchema,
})
export type FuelState = z.infer<typeof FuelState>

const heightM = z.number().min(-2).max(5)
const elements = z.array(FuelElement).max(40)
/** A circuit ready to be solved: everything known or assumed. */
export const SolvableCircuit = z.strictObject({
  layout: FuelLayout,
  sections: z.partialRecord(z.enum(['suction', 'delivery', 'feed', 'return', 'lift', 'overflow']), elements),
  pump: PumpSpec,
  liftPump: LiftPump.nullable(),
  regulator: Regulator,
  heights: z.strictObject({ fuelM: heightM, pumpM: heightM, sumpM: heightM, railM: heightM }),
  tankGaugeKpa: z.number().min(-50).max(50),
  barometerKpa: z.number().min(50).max(110),
  wireOhm: z.number().min(0).max(5).describe('resistance of the supply wiring to the pump, both ways, ohm'),
  clogged: z.number().min(0.1).max(100).describe('times the new pressure loss, for fine filters that have aged'),
  tankFuelL: z.number().min(0.1).max(500).describe('fuel in the tank for the warming sum, L'),
})
export type SolvableCircuit = z.infer<typeof SolvableCircuit>

export interface Branch extends ElementFlow {
  section: SectionId
  elementId: string
  flowLph: number
  /** pressure behind the element over the air, kPa; the height is shared out over the lines of a section by their length */
  afterKpa: number
}
interface CircuitNode {
  id: 'tank' | 'sump' | 'inlet' | 'outlet' | 'regulator' | 'rail'
  label: string
  /** over the air, kPa */
  gaugeKpa: number
}
type RegulatorStatus = 'holding' | 'below-minimum' | 'wide-open' | 'closed' | 'starved'

export interface CircuitSolution {
  state: FuelStateId
  supplyV: number
  pumpV: number
  pumpA: number | null
  nodes: CircuitNode[]
  /** each section: the pressure it begins with, over the air, and its flow */
  sections: { id: SectionId; startKpa: number; flowLph: number }[]
  branches: Branch[]
  pumpFlowLph: number
  /** what the injectors really get, L/h: less than asked only when starved */
  useLph: number
  wantedLph: number
  returnLph: number
  pumpRiseKpa: number
  railKpa: number
  /** what the regulator tries to hold at its place, kPa over the air */
  targetKpa: number
  regulatorDropKpa: number
  /** pressure across the injectors, kPa */
  injectorDropKpa: number
  regulator: RegulatorStatus
  /** flow the pump would give at the target pressure, over what is used, less one, %: null when nothing is used */
  marginPct: number | null
  inletAbsKpa: number
  vapourKpa: number
  inletMarginKpa: number
  heatW: number
  tankRiseKPerH: number
  lift: { flowLph: number; riseKpa: number; overflowLph: number; sumpKpa: number } | null
}

const sum = (elements: readonly FuelElement[], flowLph: number, fluid: Fluid, clogged: number): number => {
  let total = 0
  for (const element of elements) total += elementDropKpa(element, flowLph, fluid, clogged)
  return total
}

/** Lift side of a sump: how much comes, how much runs back, and the pressure that leaves in the sump. */
function solveLift(c: SolvableCircuit, state: FuelState, drawnLph: number): NonNullable<CircuitSolution['lift']> {
  const { fluid } = state
  const headKpa = (fluid.densityKgM3 * G * (c.heights.fuelM - c.heights.sumpM)) / 1000
  const lift = c.sections.lift ?? []
  const overflow = c.sections.overflow ?? []
  if (!c.liftPump) return { flowLph: 0, riseKpa: 0, overflowLph: 0, sumpKpa: 0 }
  const pump = pumpOf(c.liftPump)
  const volts = c.liftPump.kind === 'electric' ? state.supplyV : c.liftPump.curves[0].voltageV
  // what comes beyond the draw leaves by the overflow, whose loss is the pressure in the sump; a sump that is not full stands at the air
  const sumpAt = (flowLph: number): number =>
    flowLph > drawnLph ? Math.max(0, c.tankGaugeKpa - headKpa + sum(overflow, flowLph - drawnLph, fluid, c.clogged)) : 0
  const riseNeeded = (flowLph: number) => sumpAt(flowLph) - c.tankGaugeKpa - headKpa + sum(lift, flowLph, fluid, c.clogged)
  const riseKpa = rootBetween((rise) => rise - riseNeeded(pump.flowLph(rise, volts)), -50, pump.stallKpa)
  const flowLph = pump.flowLph(riseKpa, volts)
  return { flowLph, riseKpa, overflowLph: Math.max(0, flowLph - drawnLph), sumpKpa: sumpAt(flowLph) }
}

/**
 * Steady pressures and flows of the circuit in one state. Everything follows from the rise across the pump: the flow falls with it, every
 * loss rises with the flow, so each balance has one root.
 * @source conservation of volume at every node and of energy round every loop; Darcy-Weisbach
 */
export function solveCircuit(c: SolvableCircuit, state: FuelState): CircuitSolution {
  const { fluid, useLph: wantedLph } = state
  const { suction = [], delivery = [], feed = [], return: back = [] } = c.sections
  const kpaPerM = (fluid.densityKgM3 * G) / 1000
  const lift = hasSump(c.layout) ? solveLift(c, state, wantedLph) : null
  const sourceKpa = lift ? lift.sumpKpa : c.tankGaugeKpa
  const sourceM = lift ? c.heights.sumpM : c.heights.fuelM
  const returnless = c.layout === 'returnless'
  // the regulator stands at the injectors, but for returnless at the pump
  const regulatorM = returnless ? c.heights.pumpM : c.heights.railM
  const toRegulator = returnless ? delivery : feed
  const pump = pumpOf(c.pump)
  const targetKpa = c.regulator.setKpa + state.referenceKpa
  const pumpA = pump.currentA(Math.max(0, targetKpa))
  const pumpV = state.supplyV - (pumpA ?? 0) * c.wireOhm

  const flowAt = (rise: number) => pump.flowLph(rise, pumpV)
  const inletAt = (flow: number) => sourceKpa + kpaPerM * (sourceM - c.heights.pumpM) - sum(suction, flow, fluid, c.clogged)
  const regulatorAt = (rise: number, flow: number) =>
    inletAt(flow) + rise - sum(toRegulator, flow, fluid, c.clogged) + kpaPerM * (c.heights.pumpM - regulatorM)
  const openDrop = (flow: number) => c.regulator.openDropKpa * (flow / c.regulator.openAtLph) ** 2
  const backKpa = (flow: number) => sourceKpa + kpaPerM * (sourceM - regulatorM) + sum(back, flow, fluid, c.clogged)
  const floorAt = (flow: number) => backKpa(flow) + openDrop(Math.max(0, flow))

  const highest = pump.stallKpa
  let rise = rootBetween((x) => regulatorAt(x, flowAt(x)) - targetKpa, 0, highest)
  let flow = flowAt(rise)
  const atTargetLph = flow
  let status: RegulatorStatus
  let useLph = wantedLph
  const reaches = regulatorAt(highest, 0) >= targetKpa
  if (!reaches || flow < wantedLph) {
    // all of it goes to the injectors and the pressure is what the pump has left
    const mostLph = flowAt(0)
    status = 'closed'
    if (mostLph <= wantedLph) {
      status = 'starved'
      useLph = mostLph
      rise = 0
    } else rise = rootBetween((x) => flowAt(x) - wantedLph, 0, highest)
    flow = useLph
  } else if (floorAt(flow - wantedLph) > targetKpa) {
    status = 'wide-open'
    rise = rootBetween((x) => regulatorAt(x, flowAt(x)) - floorAt(flowAt(x) - wantedLph), rise, highest)
    flow = flowAt(rise)
  } else status = flow - wantedLph < c.regulator.minReturnLph ? 'below-minimum' : 'holding'
  const returnLph = flow - useLph

  const inletKpa = inletAt(flow)
  const regulatorKpa = regulatorAt(rise, flow)
  const railKpa = returnless ? regulatorKpa - sum(feed, useLph, fluid, c.clogged) + kpaPerM * (regulatorM - c.heights.railM) : regulatorKpa
  const flowOf: Record<SectionId, number> = {
    suction: flow,
    delivery: flow,
    feed: returnless ? useLph : flow,
    return: returnLph,
    lift: lift?.flowLph ?? 0,
    overflow: lift?.overflowLph ?? 0,
  }
  const pumpM = c.heights.pumpM
  const begins: Record<SectionId, { kpa: number; fallM: number }> = {
    suction: { kpa: sourceKpa, fallM: sourceM - pumpM },
    delivery: { kpa: inletKpa + rise, fallM: pumpM - regulatorM },
    feed: returnless
      ? { kpa: regulatorKpa, fallM: regulatorM - c.heights.railM }
      : { kpa: inletKpa + rise, fallM: pumpM - c.heights.railM },
    return: { kpa: backKpa(returnLph), fallM: regulatorM - sourceM },
    lift: { kpa: c.tankGaugeKpa + (lift?.riseKpa ?? 0), fallM: c.heights.fuelM - c.heights.sumpM },
    overflow: { kpa: lift?.sumpKpa ?? 0, fallM: c.heights.sumpM - c.heights.fuelM },
  }
  const branches = sectionsOf(c.layout).flatMap(({ id }) => {
    const list = c.sections[id] ?? []
    const lengthM = list.reduce((all, e) => all + (e.kind === 'line' ? e.lengthM : 0), 0)
    let kpa = begins[id].kpa
    return list.map((element): Branch => {
      const one = elementFlow(element, flowOf[id], fluid, c.clogged)
      kpa += (element.kind === 'line' ? (kpaPerM * begins[id].fallM * element.lengthM) / lengthM : 0) - one.dropKpa
      return { section: id, elementId: element.id, flowLph: flowOf[id], afterKpa: kpa, ...one }
    })
  })
  const inletAbsKpa = c.barometerKpa + inletKpa
  // what the motor takes ends up in the fuel, whether it turns into pressure and back or not; without a current only the hydraulic part is known
  const heatW = (pumpA !== null ? pumpA * pumpV : (rise * flow) / 3600) * (flow > 0 ? returnLph / flow : 0)
  const tankKg = (c.tankFuelL * fluid.densityKgM3) / 1000
  return {
    state: state.id,
    supplyV: state.supplyV,
    pumpV,
    pumpA,
    nodes: [
      { id: 'tank', label: 'tank', gaugeKpa: c.tankGaugeKpa },
      ...(lift ? [{ id: 'sump' as const, label: 'sump', gaugeKpa: lift.sumpKpa }] : []),
      { id: 'inlet', label: 'pump inlet', gaugeKpa: inletKpa },
      { id: 'outlet', label: 'pump outlet', gaugeKpa: inletKpa + rise },
      { id: 'regulator', label: 'regulator', gaugeKpa: regulatorKpa },
      { id: 'rail', label: 'injectors', gaugeKpa: railKpa },
    ],
    sections: sectionsOf(c.layout).map(({ id }) => ({ id, startKpa: begins[id].kpa, flowLph: flowOf[id] })),
    branches,
    pumpFlowLph: flow,
    useLph,
    wantedLph,
    returnLph,
    pumpRiseKpa: rise,
    railKpa,
    targetKpa,
    regulatorDropKpa: regulatorKpa - backKpa(returnLph),
    injectorDropKpa: railKpa - state.outletKpa,
    regulator: status,
    marginPct: wantedLph > 0 ? 100 * ((reaches ? atTargetLph : 0) / wantedLph - 1) : null,
    inletAbsKpa,
    vapourKpa: fluid.vapourKpa,
    inletMarginKpa: inletAbsKpa - fluid.vapourKpa,
    heatW,
    tankRiseKPerH: (heatW * 3600) / (tankKg * FUEL_HEAT_J_KGK),
    lift,
  }
}

/** Pressure below which the regulator cannot be set: wide open, with nearly the whole pump flow going back. kPa over the air. */
export function returnFloorKpa(c: SolvableCircuit, state: FuelState): { floorKpa: number; returnLph: number } {
  const solved = solveCircuit({ ...c, regulator: { ...c.regulator, setKpa: -1e4 } }, state)
  return { floorKpa: solved.railKpa, returnLph: solved.returnLph }
}

/** Rise the pump must make at a flow so that the regulator's place stands at its target: the demand line of the chart, kPa. */
export function riseNeededKpa(c: SolvableCircuit, state: FuelState, flowLph: number): number {
  const { fluid } = state
  const kpaPerM = (fluid.densityKgM3 * G) / 1000
  const returnless = c.layout === 'returnless'
  const sourceM = hasSump(c.layout) ? c.heights.sumpM : c.heights.fuelM
  const sourceKpa = hasSump(c.layout) ? 0 : c.tankGaugeKpa
  const regulatorM = returnless ? c.heights.pumpM : c.heights.railM
  const losses =
    sum(c.sections.suction ?? [], flowLph, fluid, c.clogged) +
    sum((returnless ? c.sections.delivery : c.sections.feed) ?? [], flowLph, fluid, c.clogged)
  return c.regulator.setKpa + state.referenceKpa - sourceKpa - kpaPerM * (sourceM - regulatorM) + losses
}
