import { densityKgM3, engineFlow, peakPowerRpm, type Route, vePeakPct } from '../air/index.ts'
import { bsfcGKwh, fuels, injectorFlowAtPressure, injectorSize, MAX_DUTY_PCT } from '../injection/index.ts'
import { type Context, type DerivedNumber, type JudgedContext, shown } from '../kernel/index.ts'
import { assumedLabels, boosted } from '../survey/index.ts'
import { type SizeId, sizeIds } from './choices.ts'
import type { Load, SizeProposal } from './contribution.ts'
import { ALTERNATOR_SHARE, THROTTLE_DROP_KPA } from './limits.ts'

/** Discharge coefficient of an open throttle with plate and shaft. Source: Heywood, section 7.6.2. */
const THROTTLE_CD = 0.8
/** An own throttle breathes during one stroke in three of the cycle's 720 degrees, so it carries three times its mean. */
const OWN_THROTTLE_PEAK = 3
const INTAKE_C = 25
/** What the new system draws besides the pump, and what the car already does, A: usual figures, replaced by a clamp reading. */
const SYSTEM_A = { unit: 1.5, sensor: 1.5, injectors: 2, coils: 5 }
const CAR_A = { lights: 12, wipersAndHeater: 8 }
const FAN_A = 12

export type Size = DerivedNumber & { sizeId: SizeId; computed: number | null; reason: string | null }

/** Injectors a route takes when none are chosen yet. */
export const injectorsFor = (route: Route, cylinders: number | null): number =>
  route === 'throttle-body' ? (cylinders !== null && cylinders > 6 ? 4 : 2) : (cylinders ?? 4)
/** Throttle bores of a route. */
export const boresFor = (c: Context, route: Route): number =>
  route === 'individual-runner'
    ? (c.resolved.cylinders ?? 4)
    : route === 'multi-port'
      ? 1
      : (c.plan.injectors ?? injectorsFor(route, c.resolved.cylinders))

/** Air a throttle rated at one depression passes at another: flow goes with the square root of depression. */
export const throttleFlowAt = (ratedM3Min: number, ratedKpa: number, atKpa: number): number => ratedM3Min * Math.sqrt(atKpa / ratedKpa)

/** Air at peak power, referred to the inlet, with the boost's density. */
export function peakAir(c: Context, route: Route) {
  const r = c.resolved
  if (r.displacementCc === null) return null
  const input = {
    displacementCc: r.displacementCc,
    rpm: peakPowerRpm(r.camClass, r.redlineRpm),
    vePct: vePeakPct(r.camClass, route).power,
    pressureKpa: r.barometerKpa + (boosted(c) ? (c.facts.induction?.boostKpa ?? 0) : 0),
    temperatureC: INTAKE_C,
  }
  return { input, ...engineFlow.run(input) }
}

/** Injector wanted for a route, each, cm3/min. */
export function injectorWanted(c: Context, injectors: number): { flowCcMin: number; input: Parameters<typeof injectorSize.run>[0] } | null {
  const { resolved, plan } = c
  if (resolved.powerKw === null) return null
  const input = {
    powerKw: resolved.powerKw,
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
    .map(({ inputs, assumed = [], ...proposal }) => {
      const override = c.plan.overrides?.[proposal.sizeId]
      return {
        ...proposal,
        id: `plan.${proposal.sizeId}`,
        station: 'plan',
        value: override?.value ?? proposal.computed,
        reason: override?.reason ?? null,
        formula: override ? `own figure: ${override.reason} (computed: ${proposal.formula})` : proposal.formula,
        inputs: shown(inputs),
        assumed: [...assumed],
      }
    })
}

/** Power, air, injector and throttle: what the plan itself works out. */
function ownSizes(c: Context): SizeProposal[] {
  const { resolved: r, plan, facts } = c
  const sizes: SizeProposal[] = []
  const route = plan.route ?? 'throttle-body'
  if (r.powerKw !== null) {
    const surveyed = facts.engine?.powerKw !== undefined
    sizes.push({
      sizeId: 'power',
      label: 'Power planned for',
      computed: facts.engine?.powerKw ?? r.powerKw,
      dimension: 'power',
      formula: surveyed ? 'as entered in Survey' : 'displacement x typical kW per litre of the cam class',
      source: surveyed ? 'the survey' : 'stated assumption',
      inputs: { powerKw: r.powerKw },
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
      formula: engineFlow.formula,
      source: engineFlow.source,
      inputs: air.input,
      assumed: assumedLabels(r, 'cam.class', 'engine.redlineRpm', 'place.altitudeM'),
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
  const rho = densityKgM3(air.input.pressureKpa, INTAKE_C)
  const bores = boresFor(c, route)
  const share = route === 'individual-runner' ? OWN_THROTTLE_PEAK / bores : 1 / bores
  const areaM2 = ((air.massGps / 1000) * share) / (THROTTLE_CD * Math.sqrt(2 * rho * dropKpa * 1000))
  return {
    sizeId: 'throttle',
    label: `Throttle bore, each of ${bores}`,
    computed: Math.sqrt((4 * areaM2) / Math.PI) * 1000,
    dimension: 'length',
    formula: 'm = Cd A sqrt(2 rho dp);  d = sqrt(4 A / pi)',
    source: 'Heywood, section 7.6.2 (throttle plate)',
    inputs: { massGps: air.massGps * share, dropKpa, dischargeCoefficient: THROTTLE_CD, densityKgM3: rho, bores },
  }
}

function alternatorSize(c: JudgedContext): SizeProposal {
  const own = Object.entries({ ...SYSTEM_A, ...CAR_A, ...(c.facts.electrics?.fan === 'belt' ? {} : { fan: FAN_A }) }).map(
    ([name, amps]): Load => ({ name, amps }),
  )
  const loads: readonly Load[] = [...own, ...c.contributed('loads')]
  return {
    sizeId: 'alternator',
    label: 'Alternator wanted',
    computed: loads.reduce((all, { amps }) => all + amps, 0) / ALTERNATOR_SHARE,
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
