import { engineFlow, peakPowerRpm, peakTorqueRpm, vePeakPct } from '../air/index.ts'
import { voltageDrop } from '../electrics/index.ts'
import { bsfcGKwh, fuels } from '../injection/index.ts'
import { type Context, degC, type JudgedContext, kPa, latest, litres, metres, type Said, say } from '../kernel/index.ts'
import { boosted, boostKpaOf, idleTargetRpm } from '../survey/index.ts'
import { type FuelChoices, hasSump, sectionsOf } from './circuit.ts'
import { type Fluid, fluidAt } from './fluid.ts'
import { pumpDemand } from './pump-demand.ts'
import { withUsualCurrent, statesCurrent } from './pump.ts'
import { type CircuitSolution, type FuelState, type FuelStateId, fuelStates, type SolvableCircuit, solveCircuit } from './solve.ts'
import { sumpRiseK, type WarmedTank } from './warming.ts'

/** What wire, switch and joints take on the way to the pump, V: Kirchhoff's voltage law round its circuit. */
export const lostToPumpV = ({ supplyV, atPumpV }: { supplyV: number; atPumpV: number }): number => supplyV - atPumpV

/** Fuel per litre of use is worked at this intake air: a warm day under the bonnet. */
const INTAKE_C = 30
/** Supply voltage of each state (handbook 02): the battery alone, charging at idle, on the road, at full load, and low. */
const SUPPLY_V: Record<FuelStateId, number> = { prime: 12.4, idle: 14.2, cruise: 14, full: 13.5, 'full-hot': 11.5 }
/** Highest charging voltage, at which a return line has most to carry. */
export const CHARGING_HIGH_V = 14.5
/** Stand-ins of the circuit, each named on the screen while it is not measured. Winter and summer fuel as handbook 02 pairs them. */
export const circuitDefaults = {
  fuelM: 0.45,
  pumpM: 0.35,
  sumpM: 0.7,
  railM: 0.85,
  wireLengthM: 5,
  wireAreaMm2: 2.5,
  winterRvpKpa: 90,
  summerRvpKpa: 60,
  coolC: 25,
  hotC: 45,
  tankL: 50,
  uncoveredS: 8,
  sumpL: 1,
  /** air on the hottest day, from which a tank warms */
  hotAirC: 35,
  /** under the bonnet, in ordinary use and on the hottest day */
  bayC: { cool: 60, hot: 80 },
} as const
/** Height of the fuel and length of the supply wire, until measured: by where tank and battery are. */
const FUEL_M = { 'rear-under': circuitDefaults.fuelM, boot: 0.7, front: 0.55, cabin: 0.8 } as const
const WIRE_BY_M = 1.5
/** A mechanical pump gives what its sheet says from about this engine speed, rpm; below it by its strokes. */
const LIFT_FULL_RPM = 2000
const HOTTEST_FUEL_C = 90

export interface FuelDesign {
  circuit: SolvableCircuit
  states: Record<FuelStateId, FuelState>
  solutions: CircuitSolution[]
  /** stand-ins in use, in words */
  assumed: Said[]
  /** a height that nobody has measured: what hangs on it is no stop */
  heightsAssumed: boolean
  /** the tank that the return warms, and where it starts on the hottest day, degC */
  tank: WarmedTank & { fromC: number }
}
/** Changes laid over a design to ask "what if": nothing of them is stored. */
export interface WhatIf {
  supplyV?: number
  fuelC?: number
  usePct?: number
  clogged?: number
  setKpa?: number
  returnBoreMm?: number
}

/** What is still missing before the circuit can be solved, in the words of the next action; empty when it can. */
export function missingForCircuit(c: Context): string[] {
  const f = c.fuel
  const missing: string[] = []
  if (!f.layout) return ['Choose the layout of the fuel system']
  if (!f.pump) missing.push('Enter the pump: its flow over pressure, from its sheet')
  if (!f.regulator) missing.push('Enter the regulator')
  if (!f.feed?.length) missing.push('Lay out the feed line')
  if (hasSump(f.layout) && !f.liftPump) missing.push('Enter the pump that lifts fuel into the sump')
  if (c.resolved.powerKw === null) missing.push('Enter the displacement or the power in Survey: the fuel used comes from it')
  return missing
}

/** Fuel an engine takes at a point of its range, L/h: air by speed and density at lambda 1. */
function fuelUseLph(c: Context, rpm: number, mapKpa: number, vePct: number): number {
  const fuel = fuels[c.resolved.fuelKind]
  const { massGps } = engineFlow.run({
    displacementCc: c.resolved.displacementCc ?? 0,
    rpm,
    vePct,
    pressureKpa: mapKpa,
    temperatureC: INTAKE_C,
  })
  return ((massGps / fuel.stoichAfr) * 3.6) / fuel.densityKgL
}

const sprayBelowPlates = (c: Context): boolean => c.plan.route === 'multi-port' || c.plan.route === 'individual-runner'

/** Pressure the injectors spray into, kPa over the air, by route and place of a blower. */
export function outletGaugeKpa(c: Context, mapKpa: number): number {
  const overAir = mapKpa - c.resolved.barometerKpa
  if (sprayBelowPlates(c)) return overAir
  return c.facts.induction?.kind === 'blow-through' ? Math.max(0, overAir) : 0
}
/** The reference the regulator should have (handbook 02). */
export function wantedReference(c: Context): 'open' | 'manifold' | 'above-plates' {
  if (sprayBelowPlates(c)) return 'manifold'
  return c.facts.induction?.kind === 'blow-through' ? 'above-plates' : 'open'
}

export function referenceGaugeKpa(
  reference: NonNullable<FuelChoices['regulator']>['reference'],
  mapKpa: number,
  barometerKpa: number,
): number {
  if (reference === 'manifold') return mapKpa - barometerKpa
  return reference === 'above-plates' ? Math.max(0, mapKpa - barometerKpa) : 0
}

/** Manifold pressure of each state, kPa absolute. */
export function stateMapKpa(c: Context, id: FuelStateId): number {
  const { barometerKpa, idleMapKpa } = c.resolved
  if (id === 'idle') return idleMapKpa
  if (id === 'cruise') return Math.max(0.5 * barometerKpa, Math.min(barometerKpa, idleMapKpa + 5))
  return id === 'prime' ? barometerKpa : barometerKpa + boostKpaOf(c.facts)
}

/** The build's circuit with stand-ins put in and solved in all five states; null while something that nothing can stand in for is missing. */
export function fuelDesign(c: Context, whatIf: WhatIf = {}): FuelDesign | null {
  if (missingForCircuit(c).length) return null
  const f = c.fuel
  const layout = f.layout!
  const r = c.resolved
  const assumed: Said[] = []
  const assume = <T>(known: T | undefined, value: T, words: Said): T => {
    if (known === undefined) assumed.push(words)
    return known ?? value
  }
  const d = circuitDefaults
  const h = f.heights ?? {}
  const measured = latest(c.readings, 'fuel.pump-volts')
  // laid by the station that wires it; what is entered here goes before it
  const wire = { ...(c as Partial<JudgedContext>).contributed?.('pumpFeed')[0], ...f.wiring }
  const { tankPlace } = c.facts.fuel ?? {}
  const byThePump = c.facts.electrics?.batteryPlace === 'boot' && !hasSump(layout) && tankPlace !== 'front'
  const wireM = byThePump ? WIRE_BY_M : d.wireLengthM
  const fuelM = FUEL_M[tankPlace ?? 'rear-under']
  const clamp = latest(c.readings, 'fuel.pump-draw')
  if (!statesCurrent(f.pump!) && !clamp) assumed.push('the pump’s draw, usual for its flow: its sheet states none')
  const wireOhm =
    measured && measured.value.currentA
      ? lostToPumpV(measured.value) / measured.value.currentA
      : voltageDrop.run({
          currentA: 1,
          lengthM: assume(wire.lengthM, wireM, say`pump supply wire ${metres(wireM)}`),
          areaMm2: assume(wire.areaMm2, d.wireAreaMm2, `of ${d.wireAreaMm2} mm²`),
          temperatureC: 40,
          returnThroughWire: wire.returnThroughWire ?? false,
        }).dropV
  const tankL = assume(c.facts.fuel?.tankL, d.tankL, say`tank of ${litres(d.tankL)}`)
  const reBore = (id: string, elements: FuelChoices['return']) =>
    whatIf.returnBoreMm && id === 'return' ? withBore(elements ?? [], whatIf.returnBoreMm) : elements
  const circuit: SolvableCircuit = {
    layout,
    sections: Object.fromEntries(sectionsOf(layout).map(({ id }) => [id, reBore(id, f[id]) ?? []])),
    pump: withUsualCurrent(f.pump!, clamp?.value),
    liftPump: hasSump(layout) ? f.liftPump! : null,
    regulator: { ...f.regulator!, ...(whatIf.setKpa ? { setKpa: whatIf.setKpa } : {}) },
    heights: {
      fuelM: assume(h.fuelM, fuelM, say`fuel level ${metres(fuelM)} above the ground`),
      pumpM: assume(h.pumpM, hasSump(layout) ? d.sumpM - 0.1 : d.pumpM, `pump height ${hasSump(layout) ? d.sumpM - 0.1 : d.pumpM} m`),
      sumpM: hasSump(layout) ? assume(h.sumpM, d.sumpM, say`sump height ${metres(d.sumpM)}`) : d.sumpM,
      railM: assume(h.railM, d.railM, say`injector height ${metres(d.railM)}`),
    },
    tankGaugeKpa: f.tankGaugeKpa ?? 0,
    barometerKpa: r.barometerKpa,
    wireOhm,
    clogged: whatIf.clogged ?? 1,
    tankFuelL: tankL / 4,
  }
  const coolC = whatIf.fuelC ?? assume(f.coolC, d.coolC, say`fuel at ${degC(d.coolC)} in ordinary use`)
  const hotC = whatIf.fuelC ?? assume(f.hotC, d.hotC, say`${degC(d.hotC)} on the hottest day`)
  const winterRvpKpa = assume(f.winterRvpKpa, d.winterRvpKpa, say`winter fuel of ${kPa(d.winterRvpKpa)} Reid vapour pressure`)
  const summerRvpKpa = assume(f.summerRvpKpa, d.summerRvpKpa, say`summer fuel of ${kPa(d.summerRvpKpa)}`)
  const route = c.plan.route ?? 'throttle-body'
  const ve = vePeakPct(r.camClass, route)
  const fullLph = pumpDemand.run({
    powerKw: r.sizing!.pumpKw,
    bsfcGKwh: bsfcGKwh(r.fuelKind, boosted(c)),
    fuelDensityKgL: fuels[r.fuelKind].densityKgL,
    marginPct: 0,
  }).flowLph
  const cruiseRpm = Math.min(peakTorqueRpm(r.camClass, r.redlineRpm), 0.5 * peakPowerRpm(r.camClass, r.redlineRpm))
  const use: Record<FuelStateId, number> =
    r.displacementCc === null
      ? { prime: 0, idle: 0.02 * fullLph, cruise: 0.2 * fullLph, full: fullLph, 'full-hot': fullLph }
      : {
          prime: 0,
          idle: fuelUseLph(c, idleTargetRpm(r), r.idleMapKpa, (ve.idle[0] + ve.idle[1]) / 2),
          cruise: fuelUseLph(c, cruiseRpm, stateMapKpa(c, 'cruise'), ve.torque),
          full: fullLph,
          'full-hot': fullLph,
        }
  const cruising = cruiseRpm >= LIFT_FULL_RPM ? 1 : cruiseRpm / LIFT_FULL_RPM
  const liftShare: Record<FuelStateId, number> = {
    prime: 0,
    idle: Math.min(1, idleTargetRpm(r) / LIFT_FULL_RPM),
    cruise: cruising,
    full: 1,
    'full-hot': 1,
  }
  const stateOf = (id: FuelStateId, fluid: Fluid): FuelState => {
    const mapKpa = stateMapKpa(c, id)
    const state: FuelState = {
      id,
      supplyV: whatIf.supplyV ?? (id === 'prime' ? Math.min(c.facts.electrics?.restV ?? SUPPLY_V.prime, 12.8) : SUPPLY_V[id]),
      useLph: (use[id] * (whatIf.usePct ?? 100)) / 100,
      referenceKpa: referenceGaugeKpa(f.regulator!.reference, mapKpa, r.barometerKpa),
      outletKpa: outletGaugeKpa(c, mapKpa),
      fluid,
      ...(hasSump(layout) ? { liftShare: liftShare[id] } : {}),
    }
    return state
  }
  const fluidOf = (id: FuelStateId, warmerK = 0): Fluid =>
    id === 'full-hot' ? fluidAt(r.fuelKind, hotC + warmerK, summerRvpKpa) : fluidAt(r.fuelKind, coolC + warmerK, winterRvpKpa)
  const tank = (heatW: number) => ({
    heatW,
    capacityL: tankL,
    fuelKg: circuit.tankFuelL * fuels[r.fuelKind].densityKgL,
    fromC: whatIf.fuelC ?? f.hotC ?? d.hotAirC,
  })
  const idle = stateOf('idle', fluidOf('idle'))
  const idling = solveCircuit(circuit, idle)
  const warmed = tank(idling.heatW)
  const states = Object.fromEntries(
    fuelStates.map(({ id }) => {
      const state = id === 'idle' ? idle : stateOf(id, fluidOf(id))
      return [id, hasSump(layout) ? stateOf(id, fluidOf(id, sumpWarmerK(circuit, state, f.sump?.volumeL ?? d.sumpL))) : state]
    }),
  ) as Record<FuelStateId, FuelState>
  return {
    circuit,
    states,
    solutions: fuelStates.map(({ id }) => (states[id] === idle ? idling : solveCircuit(circuit, states[id]))),
    assumed,
    heightsAssumed: h.fuelM === undefined || h.pumpM === undefined || (hasSump(layout) && h.sumpM === undefined),
    tank: warmed,
  }
}

/** How much warmer than the tank the sump's fuel is in a state, K; at prime nothing has warmed it yet. */
function sumpWarmerK(circuit: SolvableCircuit, state: FuelState, sumpL: number): number {
  if (state.id === 'prime') return 0
  const { heatW, lift } = solveCircuit(circuit, state)
  const bayC = state.id === 'full-hot' ? circuitDefaults.bayC.hot : circuitDefaults.bayC.cool
  const throughKgS = ((lift?.flowLph ?? 0) * state.fluid.densityKgM3) / 3.6e6
  const tankC = state.fluid.temperatureC
  // past that it boils away as fast as it warms
  return Math.min(HOTTEST_FUEL_C - tankC, sumpRiseK({ heatW, throughKgS, sumpL, bayC, tankC }))
}

/** Section with all its lines and fittings on another bore. */
export const withBore = (elements: NonNullable<FuelChoices['return']>, boreMm: number): NonNullable<FuelChoices['return']> =>
  elements.map((e) => (e.kind === 'line' || e.kind === 'fitting' ? { ...e, boreMm } : e))

const designs = new WeakMap<Context, FuelDesign | null>()
/** The design of a build, solved once for each judgement. */
export function designOf(c: Context): FuelDesign | null {
  if (!designs.has(c)) designs.set(c, fuelDesign(c))
  return designs.get(c)!
}
