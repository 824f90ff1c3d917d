import { blowerRiseK, densityKgM3, engineFlow, KELVIN_AT_0_C, peakPowerRpm, type Route, vePeakPct } from '../air/index.ts'
import { bsfcGKwh, fuels, injectorFlowAtPressure, injectorSize, MAX_DUTY_PCT, POWER_LAMBDA } from '../injection/index.ts'
import { type Context, type DerivedNumber, type JudgedContext, type Said, shown } from '../kernel/index.ts'
import { assumedLabels, boosted, boostKpaOf } from '../survey/index.ts'
import { type SizeId, sizeIds } from './choices.ts'
import type { Load, SizeProposal } from './contribution.ts'
import { ALTERNATOR_SHARE, THROTTLE_DROP_KPA } from './limits.ts'

const POWER_LAW = '41 kW x litres^0.57 x cam x compression x carburettors x boost'
/** Discharge coefficient of an open throttle with plate and shaft. Source: Heywood, section 7.6.2. */
const THROTTLE_CD = 0.8
/** An own throttle breathes during one stroke in three of the cycle's 720 degrees, so it carries three times its mean. */
const OWN_THROTTLE_PEAK = 3
const INTAKE_C = 25
/** Throttles and alternators are made in such steps. */
const BORE_STEP_MM = 2
const AMP_STEP = 5
/** What the new system draws besides the pump, and what the car already does, A: usual figures, replaced by a clamp reading. */
const SYSTEM_A = { unit: 1.5, sensor: 1.5, injectors: 2, coils: 5 }
const CAR_A = { lights: 12, wipersAndHeater: 8 }
const FAN_A = 12

export type Size = DerivedNumber & { sizeId: SizeId; computed: number | null; reason: string | null; stock?: Said }

/** Injectors a route takes when none are chosen yet. */
export const injectorsFor = (route: Route, cylinders: number | null): number =>
  route === 'throttle-body' ? (cylinders === 1 ? 1 : cylinders !== null && cylinders > 6 ? 4 : 2) : (cylinders ?? 4)
/** Throttle bores of a route. */
export const boresFor = (c: Context, route: Route): number =>
  route === 'individual-runner'
    ? (c.resolved.cylinders ?? 4)
    : route === 'multi-port'
      ? 1
      : (c.plan.injectors ?? injectorsFor(route, c.resolved.cylinders))

/** Air a throttle rated at one depression passes at another: flow goes with the square root of depression. */
export const throttleFlowAt = (ratedM3Min: number, ratedKpa: number, atKpa: number): number => ratedM3Min * Math.sqrt(atKpa / ratedKpa)

/** What stands before the throttle at full power: the air outside, or that of a blower before it. Not told where the blower is, the thinner. */
function atThrottle({ facts, resolved: r }: Context): { pressureKpa: number; temperatureC: number } {
  const boostKpa = facts.induction?.kind === 'blow-through' ? boostKpaOf(facts) : 0
  const riseK = blowerRiseK(1 + boostKpa / r.barometerKpa, INTAKE_C + KELVIN_AT_0_C, r.cooledBoost).atEngineK
  return { pressureKpa: r.barometerKpa + boostKpa, temperatureC: INTAKE_C + riseK }
}

/** Air by displacement at the speed of peak power, g/s: what the cylinders would take by their cam's usual VE. */
function airByDisplacementGps(c: Context, route: Route): number | null {
  const { resolved: r } = c
  if (r.displacementCc === null) return null
  const boostKpa = boostKpaOf(c.facts)
  const { atEngineK } = blowerRiseK(1 + boostKpa / r.barometerKpa, INTAKE_C + KELVIN_AT_0_C, r.cooledBoost)
  return engineFlow.run({
    displacementCc: r.displacementCc,
    rpm: peakPowerRpm(r.camClass, r.redlineRpm),
    vePct: vePeakPct(r.camClass, route).power,
    pressureKpa: r.barometerKpa + boostKpa,
    temperatureC: INTAKE_C + atEngineK,
  }).massGps
}

/** Air at full power: that which burns the fuel planned for, at the mixture such consumption stands for, and its volume where the throttle stands. */
export function peakAir(c: Context, route: Route) {
  const { resolved: r } = c
  if (r.sizing === null) return null
  const at = atThrottle(c)
  const input = {
    powerKw: r.sizing.pumpKw,
    bsfcGKwh: bsfcGKwh(r.fuelKind, boosted(c)),
    lambda: boosted(c) ? POWER_LAMBDA.boosted : POWER_LAMBDA.natural,
    stoichAfr: fuels[r.fuelKind].stoichAfr,
    ...at,
  }
  const fuelGps = (input.powerKw * input.bsfcGKwh) / 3600
  const massGps = fuelGps * input.lambda * input.stoichAfr
  const rho = densityKgM3(at.pressureKpa, at.temperatureC)
  return { input, fuelGps, massGps, rho, volumeM3Min: (0.06 * massGps) / rho, byDisplacementGps: airByDisplacementGps(c, route) }
}

/** Injector wanted for a route, each, cm3/min. */
export function injectorWanted(c: Context, injectors: number): { flowCcMin: number; input: Parameters<typeof injectorSize.run>[0] } | null {
  const { resolved, plan } = c
  if (resolved.sizing === null) return null
  const input = {
    powerKw: resolved.sizing.injectorKw,
    bsfcGKwh: bsfcGKwh(resolved.fuelKind, boosted(c)),
    injectors,
    maxDutyPct: plan.maxDutyPct ?? MAX_DUTY_PCT,
    fuelDensityKgL: fuels[resolved.fuelKind].densityKgL,
  }
  return { flowCcMin: injectorSize.run(input).flowCcMin, input }
}
/** Flow of the chosen injectors at the planned pressure, cm3/min each; null while they are not chosen. */
export function injectorChosen({ plan }: Context): number | null {
  const { injectorCcMin, injectorRatedKpa, fuelPressureKpa } = plan
  if (!injectorCcMin || !injectorRatedKpa || !fuelPressureKpa) return null
  return injectorFlowAtPressure.run({ ratedCcMin: injectorCcMin, ratedKpa: injectorRatedKpa, actualKpa: fuelPressureKpa }).flowCcMin
}

/** Every size of the conversion with its working, the stations' among them; an override stands in its place with the reason given. */
export function planSizes(c: JudgedContext): Size[] {
  if (!known.has(c)) known.set(c, computeSizes(c))
  return known.get(c)!
}
const known = new WeakMap<JudgedContext, Size[]>()

function computeSizes(c: JudgedContext): Size[] {
  const proposals = [...ownSizes(c), ...c.contributed('sizes'), alternatorSize(c)]
  return proposals
    .sort((a, b) => sizeIds.indexOf(a.sizeId) - sizeIds.indexOf(b.sizeId))
    .map((proposal) => {
      const override = c.plan.overrides?.[proposal.sizeId]
      return {
        ...proposal,
        id: `plan.${proposal.sizeId}`,
        station: 'plan',
        value: override?.value ?? proposal.computed,
        reason: override?.reason ?? null,
        formula: override ? `own figure: ${override.reason} (computed: ${proposal.formula})` : proposal.formula,
        inputs: shown(proposal.inputs),
        assumed: [...(proposal.assumed ?? [])],
      }
    })
}

/** Power, air, injector and throttle: what the plan itself works out. */
function ownSizes(c: Context): SizeProposal[] {
  const { resolved: r, plan, facts } = c
  const sizes: SizeProposal[] = []
  const route = plan.route ?? 'throttle-body'
  if (r.powerKw !== null) {
    const measured = facts.engine?.powerKw ?? facts.baseline?.dynoKw
    const surveyed = measured !== undefined
    sizes.push({
      sizeId: 'power',
      label: 'Power planned for',
      computed: measured ?? r.powerKw,
      dimension: 'power',
      formula: surveyed ? 'as entered in Survey' : `${POWER_LAW}, give or take ${(100 * r.powerSpread).toFixed(0)} %`,
      source: surveyed ? 'the survey' : 'regression over published figures of 1970 to 1982; a stated assumption',
      inputs: { powerKw: r.powerKw, sizedForKw: r.sizing?.pumpKw ?? null },
      assumed: assumedLabels(r, 'engine.powerKw'),
    })
  }
  const air = peakAir(c, route)
  if (air)
    sizes.push({
      sizeId: 'air',
      label: 'Air at peak power',
      computed: air.massGps,
      dimension: 'massFlow',
      formula: 'air = power x BSFC x lambda x stoichiometric ratio;  by displacement, for comparison: V x rpm/2 x VE x density',
      source: 'Heywood, sections 2.8 and 2.10',
      inputs: { ...air.input, byDisplacementGps: air.byDisplacementGps },
      assumed: assumedLabels(r, 'engine.powerKw', 'fuel.kind', 'place.altitudeM'),
    })
  const wanted = injectorWanted(c, plan.injectors ?? injectorsFor(route, r.cylinders))
  if (wanted)
    sizes.push({
      sizeId: 'injector',
      label: 'Injector wanted, each',
      computed: wanted.flowCcMin,
      dimension: 'injectorFlow',
      formula: injectorSize.formula,
      source: injectorSize.source,
      inputs: wanted.input,
      assumed: assumedLabels(r, 'engine.powerKw', 'fuel.kind'),
    })
  if (air) sizes.push(throttleSize(c, air))
  return sizes
}

function throttleSize(c: Context, air: NonNullable<ReturnType<typeof peakAir>>): SizeProposal {
  const route = c.plan.route ?? 'throttle-body'
  const dropKpa = c.plan.throttleDropKpa ?? THROTTLE_DROP_KPA
  const bores = boresFor(c, route)
  const share = route === 'individual-runner' ? OWN_THROTTLE_PEAK / bores : 1 / bores
  const areaM2 = ((air.massGps / 1000) * share) / (THROTTLE_CD * Math.sqrt(2 * air.rho * dropKpa * 1000))
  const boreMm = Math.sqrt((4 * areaM2) / Math.PI) * 1000
  return {
    sizeId: 'throttle',
    label: `Throttle bore, each of ${bores}`,
    computed: boreMm,
    stock: `${BORE_STEP_MM * Math.ceil(boreMm / BORE_STEP_MM)} mm`,
    dimension: 'length',
    formula: 'm = Cd A sqrt(2 rho dp);  d = sqrt(4 A / pi)',
    source: 'Heywood, section 7.6.2 (throttle plate)',
    inputs: { massGps: air.massGps * share, dropKpa, dischargeCoefficient: THROTTLE_CD, densityKgM3: air.rho, bores },
  }
}

function alternatorSize(c: JudgedContext): SizeProposal {
  const own = Object.entries({ ...SYSTEM_A, ...CAR_A, ...(c.facts.electrics?.fan === 'belt' ? {} : { fan: FAN_A }) }).map(
    ([name, amps]): Load => ({ name, amps }),
  )
  const loads: readonly Load[] = [...own, ...c.contributed('loads')]
  const amps = loads.reduce((all, load) => all + load.amps, 0) / ALTERNATOR_SHARE
  return {
    sizeId: 'alternator',
    label: 'Alternator wanted',
    computed: amps,
    stock: `${AMP_STEP * Math.ceil(amps / AMP_STEP)} A`,
    dimension: 'current',
    formula: 'sum of loads / 0.8',
    source: 'Usual loads; a clamp reading replaces each',
    inputs: Object.fromEntries(loads.map(({ name, amps }) => [`${name}A`, amps])),
    assumed: ['loads of unit, coils, lights', ...loads.flatMap((l) => l.assumed ?? [])],
  }
}

/** Injector chosen, at pressure: beside the sizes, for the docket. */
export function planNumbers(c: JudgedContext): DerivedNumber[] {
  const chosen = injectorChosen(c)
  const sizes: readonly DerivedNumber[] = planSizes(c)
  const { injectorCcMin, injectorRatedKpa, fuelPressureKpa } = c.plan
  return chosen === null
    ? [...sizes]
    : [
        ...sizes,
        {
          id: 'plan.injector-chosen',
          station: 'plan',
          label: 'Injector chosen, at pressure',
          value: chosen,
          dimension: 'injectorFlow',
          formula: injectorFlowAtPressure.formula,
          source: injectorFlowAtPressure.source,
          inputs: shown({ ratedCcMin: injectorCcMin, ratedKpa: injectorRatedKpa, actualKpa: fuelPressureKpa }),
          assumed: [],
        },
      ]
}
