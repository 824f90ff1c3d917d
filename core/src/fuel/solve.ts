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

/** What elements in a row take at any flow, with all but the flow worked out: a squared law, valves that have to open, and pipes. */
interface Loss {
  kpaPerLph2: number
  openingKpa: number
  /** Reynolds number and pressure for each friction factor of one, per L/h and per its square */
  pipes: { reynoldsPerLph: number; kpaPerLph2: number; relativeRoughness: number }[]
}
/** @source lines: Darcy-Weisbach; fittings: loss coefficient times dynamic pressure; filters and valves: squared law through the sheet's point */
function lossOf(elements: readonly FuelElement[], fluid: Fluid, clogged: number): Loss {
  const loss: Loss = { kpaPerLph2: 0, openingKpa: 0, pipes: [] }
  for (const element of elements)
    switch (element.kind) {
      case 'line': {
        const { boreMm } = element
        const velocityMS = velocityIn(1, boreMm)
        loss.pipes.push({
          reynoldsPerLph: reynoldsOf(velocityMS, boreMm, fluid),
          kpaPerLph2: (element.lengthM * fluid.densityKgM3 * velocityMS * velocityMS) / 2 / boreMm,
          relativeRoughness: ROUGHNESS_UM[element.material] / 1000 / boreMm,
        })
        break
      }
      case 'fitting':
        loss.kpaPerLph2 += (LOSS_K[element.fitting] * element.count * fluid.densityKgM3 * velocityIn(1, element.boreMm) ** 2) / 2000
        break
      case 'filter':
        loss.kpaPerLph2 += (element.dropKpa * (element.micron < FINE_BELOW_MICRON ? clogged : 1)) / element.atLph ** 2
        break
      case 'check-valve':
        loss.openingKpa += element.openingKpa
        loss.kpaPerLph2 += element.dropKpa / element.atLph ** 2
    }
  return loss
}
/** Pressure they take at a flow, kPa; odd in the flow, rising with it, zero at rest. */
function lossKpa({ kpaPerLph2, openingKpa, pipes }: Loss, flowLph: number): number {
  const q = Math.abs(flowLph)
  if (q < STILL_LPH) return 0
  let kpa = openingKpa * Math.min(1, q / CRACK_LPH) + kpaPerLph2 * q * q
  for (const pipe of pipes) kpa += smoothFriction(pipe.reynoldsPerLph * q, pipe.relativeRoughness) * pipe.kpaPerLph2 * q * q
  return flowLph < 0 ? -kpa : kpa
}
const reynoldsOf = (velocityMS: number, boreMm: number, fluid: Fluid): number => (velocityMS * boreMm * 1000) / fluid.viscosityMm2S

/** What one element takes at a flow, with velocity and Reynolds number where a bore gives them. */
export function elementFlow(element: FuelElement, flowLph: number, fluid: Fluid, clogged = 1): ElementFlow {
  const dropKpa = lossKpa(lossOf([element], fluid, clogged), flowLph)
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
  liftShare: z
    .number()
    .min(0)
    .max(1)
    .optional()
    .describe('speed of a mechanical lift pump over that of its sheet; left out: still at prime, else as on the sheet'),
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
  /** what the injectors really get, L/h: less than asked when the pressure across them falls, by its square root */
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
  /** `deficitLph`: what the engine draws beyond what comes, out of the sump */
  lift: { flowLph: number; riseKpa: number; overflowLph: number; deficitLph: number; sumpKpa: number } | null
}

/** Lift side of a sump: how much comes, how much runs back, and the pressure that leaves in the sump. */
function solveLift(c: SolvableCircuit, state: FuelState, drawnLph: number): NonNullable<CircuitSolution['lift']> {
  const { fluid } = state
  const headKpa = (fluid.densityKgM3 * G * (c.heights.fuelM - c.heights.sumpM)) / 1000
  const lift = lossOf(c.sections.lift ?? [], fluid, c.clogged)
  const overflow = lossOf(c.sections.overflow ?? [], fluid, c.clogged)
  if (!c.liftPump) return { flowLph: 0, riseKpa: 0, overflowLph: 0, deficitLph: drawnLph, sumpKpa: 0 }
  const pump = pumpOf(c.liftPump)
  // a diaphragm gives by its strokes: nothing while the engine stands
  const strokes = c.liftPump.kind === 'mechanical' ? (state.liftShare ?? (state.id === 'prime' ? 0 : 1)) : 1
  const volts = c.liftPump.kind === 'electric' ? state.supplyV : c.liftPump.curves[0].voltageV
  // what comes beyond the draw leaves by the overflow, whose loss is the pressure in the sump; a sump that is not full stands at the air
  const sumpAt = (flowLph: number): number =>
    flowLph > drawnLph ? Math.max(0, c.tankGaugeKpa - headKpa + lossKpa(overflow, flowLph - drawnLph)) : 0
  const riseNeeded = (flowLph: number) => sumpAt(flowLph) - c.tankGaugeKpa - headKpa + lossKpa(lift, flowLph)
  const flowAt = (rise: number) => strokes * pump.flowLph(rise, volts)
  const riseKpa = rootBetween((rise) => rise - riseNeeded(flowAt(rise)), -50, pump.stallKpa)
  const flowLph = flowAt(riseKpa)
  return {
    flowLph,
    riseKpa,
    overflowLph: Math.max(0, flowLph - drawnLph),
    deficitLph: Math.max(0, drawnLph - flowLph),
    sumpKpa: sumpAt(flowLph),
  }
}

/** The circuit in one state as functions of the flow, with its ends: pressures over the air in kPa, flows in L/h, heights in m. */
interface Hydraulics {
  lift: CircuitSolution['lift']
  returnless: boolean
  kpaPerM: number
  sourceKpa: number
  sourceM: number
  /** the regulator stands at the injectors, but for returnless at the pump */
  regulatorM: number
  targetKpa: number
  pumpV: number
  pumpA: number | null
  /** rise at which the pump gives nothing, kPa */
  stallKpa: number
  flowAt: (riseKpa: number) => number
  inletKpa: (flowLph: number) => number
  regulatorKpa: (riseKpa: number, flowLph: number) => number
  /** at the injectors with all of the flow going to them */
  railAllUsedKpa: (riseKpa: number, flowLph: number) => number
  outletKpa: number
  backKpa: (returnLph: number) => number
  /** least pressure at the regulator while this much goes back through its open seat */
  floorKpa: (returnLph: number) => number
  loss: (section: SectionId, flowLph: number) => number
}
function hydraulicsOf(c: SolvableCircuit, state: FuelState): Hydraulics {
  const { fluid } = state
  const kpaPerM = (fluid.densityKgM3 * G) / 1000
  const lift = hasSump(c.layout) ? solveLift(c, state, state.useLph) : null
  const sourceKpa = lift ? lift.sumpKpa : c.tankGaugeKpa
  const sourceM = lift ? c.heights.sumpM : c.heights.fuelM
  const returnless = c.layout === 'returnless'
  const regulatorM = returnless ? c.heights.pumpM : c.heights.railM
  const targetKpa = c.regulator.setKpa + state.referenceKpa
  const pump = pumpOf(c.pump)
  const pumpA = pump.currentA(Math.max(0, targetKpa))
  const pumpV = state.supplyV - (pumpA ?? 0) * c.wireOhm
  const laid = new Map<SectionId, Loss>()
  const loss = (section: SectionId, flowLph: number): number => {
    if (!laid.has(section)) laid.set(section, lossOf(c.sections[section] ?? [], fluid, c.clogged))
    return lossKpa(laid.get(section)!, flowLph)
  }
  const toRegulator = returnless ? 'delivery' : 'feed'
  const inletKpa = (flow: number) => sourceKpa + kpaPerM * (sourceM - c.heights.pumpM) - loss('suction', flow)
  const backKpa = (flow: number) => sourceKpa + kpaPerM * (sourceM - regulatorM) + loss('return', flow)
  const regulatorKpa = (rise: number, flow: number) =>
    inletKpa(flow) + rise - loss(toRegulator, flow) + kpaPerM * (c.heights.pumpM - regulatorM)
  return {
    lift,
    returnless,
    kpaPerM,
    sourceKpa,
    sourceM,
    regulatorM,
    targetKpa,
    pumpV,
    pumpA,
    stallKpa: pump.stallKpa,
    flowAt: (rise) => pump.flowLph(rise, pumpV),
    inletKpa,
    regulatorKpa,
    railAllUsedKpa: (rise, flow) =>
      regulatorKpa(rise, flow) - (returnless ? loss('feed', flow) - kpaPerM * (regulatorM - c.heights.railM) : 0),
    outletKpa: state.outletKpa,
    backKpa,
    floorKpa: (flow) => backKpa(flow) + c.regulator.openDropKpa * (Math.max(0, flow) / c.regulator.openAtLph) ** 2,
    loss,
  }
}

interface OperatingPoint {
  riseKpa: number
  flowLph: number
  useLph: number
  /** what the pump would give at the target pressure; 0 when it never gets there */
  atTargetLph: number
  status: RegulatorStatus
}
/** Where pump, losses and regulator agree: holding the target, wide open above it, shut below it, or starved. */
function operatingPoint(h: Hydraulics, wantedLph: number, minReturnLph: number): OperatingPoint {
  const { flowAt, regulatorKpa, floorKpa, targetKpa, stallKpa } = h
  const atTarget = rootBetween((x) => regulatorKpa(x, flowAt(x)) - targetKpa, 0, stallKpa)
  const flowLph = flowAt(atTarget)
  const reaches = regulatorKpa(stallKpa, 0) >= targetKpa
  const atTargetLph = reaches ? flowLph : 0
  if (!reaches || flowLph < wantedLph) {
    // all of it goes to the injectors, which pass less as the pressure across them falls (orifice law), until both agree
    const passed = (rise: number): number => {
      const acrossKpa = h.railAllUsedKpa(rise, flowAt(rise)) - h.outletKpa
      return wantedLph * Math.sqrt(Math.max(0, acrossKpa) / Math.max(1, targetKpa - h.outletKpa))
    }
    const riseKpa = rootBetween((x) => flowAt(x) - passed(x), 0, stallKpa)
    const useLph = flowAt(riseKpa)
    return { riseKpa, flowLph: useLph, useLph, atTargetLph, status: flowAt(0) <= wantedLph ? 'starved' : 'closed' }
  }
  if (floorKpa(flowLph - wantedLph) > targetKpa) {
    const riseKpa = rootBetween((x) => regulatorKpa(x, flowAt(x)) - floorKpa(flowAt(x) - wantedLph), atTarget, stallKpa)
    return { riseKpa, flowLph: flowAt(riseKpa), useLph: wantedLph, atTargetLph, status: 'wide-open' }
  }
  const status = flowLph - wantedLph < minReturnLph ? 'below-minimum' : 'holding'
  return { riseKpa: atTarget, flowLph, useLph: wantedLph, atTargetLph, status }
}

interface SectionEnds {
  startKpa: number
  flowLph: number
  /** how far it falls from its beginning to its end, m */
  fallM: number
}
function sectionEnds(c: SolvableCircuit, h: Hydraulics, point: OperatingPoint): Record<SectionId, SectionEnds> {
  const { lift, returnless, sourceM, regulatorM } = h
  const { fuelM, pumpM, sumpM, railM } = c.heights
  const { flowLph, useLph, riseKpa } = point
  const returnLph = flowLph - useLph
  const outletKpa = h.inletKpa(flowLph) + riseKpa
  return {
    suction: { startKpa: h.sourceKpa, fallM: sourceM - pumpM, flowLph },
    delivery: { startKpa: outletKpa, fallM: pumpM - regulatorM, flowLph },
    feed: returnless
      ? { startKpa: h.regulatorKpa(riseKpa, flowLph), fallM: regulatorM - railM, flowLph: useLph }
      : { startKpa: outletKpa, fallM: pumpM - railM, flowLph },
    return: { startKpa: h.backKpa(returnLph), fallM: regulatorM - sourceM, flowLph: returnLph },
    lift: { startKpa: c.tankGaugeKpa + (lift?.riseKpa ?? 0), fallM: fuelM - sumpM, flowLph: lift?.flowLph ?? 0 },
    overflow: { startKpa: lift?.sumpKpa ?? 0, fallM: sumpM - fuelM, flowLph: lift?.overflowLph ?? 0 },
  }
}
/** Every element of a section with the pressure behind it. */
function branchesOf(c: SolvableCircuit, id: SectionId, ends: SectionEnds, fluid: Fluid, kpaPerM: number): Branch[] {
  const elements = c.sections[id] ?? []
  const lengthM = elements.reduce((all, e) => all + (e.kind === 'line' ? e.lengthM : 0), 0)
  let kpa = ends.startKpa
  return elements.map((element): Branch => {
    const one = elementFlow(element, ends.flowLph, fluid, c.clogged)
    kpa += (element.kind === 'line' ? (kpaPerM * ends.fallM * element.lengthM) / lengthM : 0) - one.dropKpa
    return { section: id, elementId: element.id, flowLph: ends.flowLph, afterKpa: kpa, ...one }
  })
}

/**
 * Steady pressures and flows of the circuit in one state. Everything follows from the rise across the pump: the flow falls with it, every
 * loss rises with the flow, so each balance has one root.
 * @source conservation of volume at every node and of energy round every loop; Darcy-Weisbach
 */
export function solveCircuit(c: SolvableCircuit, state: FuelState): CircuitSolution {
  const { fluid, useLph: wantedLph } = state
  const h = hydraulicsOf(c, state)
  const { lift, pumpA, pumpV, targetKpa } = h
  const point = operatingPoint(h, wantedLph, c.regulator.minReturnLph)
  const { riseKpa, flowLph, useLph } = point
  const returnLph = flowLph - useLph
  const inletKpa = h.inletKpa(flowLph)
  const regulatorKpa = h.regulatorKpa(riseKpa, flowLph)
  const railKpa = h.returnless ? regulatorKpa - h.loss('feed', useLph) + h.kpaPerM * (h.regulatorM - c.heights.railM) : regulatorKpa
  const ends = sectionEnds(c, h, point)
  const sections = sectionsOf(c.layout).map((s) => s.id)
  const inletAbsKpa = c.barometerKpa + inletKpa
  // what the motor takes ends up in the fuel, whether it turns into pressure and back or not; without a current only the hydraulic part is known
  const heatW = (pumpA !== null ? pumpA * pumpV : (riseKpa * flowLph) / 3600) * (flowLph > 0 ? returnLph / flowLph : 0)
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
      { id: 'outlet', label: 'pump outlet', gaugeKpa: inletKpa + riseKpa },
      { id: 'regulator', label: 'regulator', gaugeKpa: regulatorKpa },
      { id: 'rail', label: 'injectors', gaugeKpa: railKpa },
    ],
    sections: sections.map((id) => ({ id, startKpa: ends[id].startKpa, flowLph: ends[id].flowLph })),
    branches: sections.flatMap((id) => branchesOf(c, id, ends[id], fluid, h.kpaPerM)),
    pumpFlowLph: flowLph,
    useLph,
    wantedLph,
    returnLph,
    pumpRiseKpa: riseKpa,
    railKpa,
    targetKpa,
    regulatorDropKpa: regulatorKpa - h.backKpa(returnLph),
    injectorDropKpa: railKpa - state.outletKpa,
    regulator: point.status,
    marginPct: wantedLph > 0 ? 100 * (point.atTargetLph / wantedLph - 1) : null,
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
    lossKpa(lossOf(c.sections.suction ?? [], fluid, c.clogged), flowLph) +
    lossKpa(lossOf((returnless ? c.sections.delivery : c.sections.feed) ?? [], fluid, c.clogged), flowLph)
  return c.regulator.setKpa + state.referenceKpa - sourceKpa - kpaPerM * (sourceM - regulatorM) + losses
}
