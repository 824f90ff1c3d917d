import { densityKgM3 } from '../air/density.ts'
import { engineFlow } from '../air/engine-flow.ts'
import { CHARGING_HIGH_V, boosted, designOf } from '../fuel/station.ts'
import { returnFloor, FEED_LIMIT_M_S } from '../fuel/flow-findings.ts'
import { bsfcGKwh, fuels, MAX_DUTY_PCT, PUMP_MARGIN_PCT } from '../fuel/fuels.ts'
import { injectorFlowAtPressure } from '../fuel/injector-flow-at-pressure.ts'
import { injectorSize } from '../fuel/injector-size.ts'
import { velocityIn } from '../fuel/line-drop.ts'
import { pumpDemand } from '../fuel/pump-demand.ts'
import { boreTable, withBore } from '../fuel/index.ts'
import type { Context } from '../job/context.ts'
import { shown, type DerivedNumber } from '../job/finding.ts'
import { peakPowerRpm, vePeakPct } from '../tune/ve-model.ts'
import type { Route, SizeId } from './choices.ts'

/** Full-load depression allowed across the throttle, kPa (handbook 02). */
export const THROTTLE_DROP_KPA = 5
/** Discharge coefficient of an open throttle with plate and shaft. Source: Heywood, section 7.6.2. */
const THROTTLE_CD = 0.8
/** An own throttle breathes during one stroke in three of the cycle's 720 degrees, so it carries three times its mean. */
const OWN_THROTTLE_PEAK = 3
const INTAKE_C = 25
/** What the new system draws besides the pump, and what the car already does, A: usual figures, replaced by a clamp reading. */
const SYSTEM_A = { unit: 1.5, sensor: 1.5, injectors: 2, coils: 5 }
const CAR_A = { lights: 12, wipersAndHeater: 8 }
const FAN_A = 12
const PUMP_A = 6
/** An alternator is not run above this share of its rating for long. */
const ALTERNATOR_SHARE = 0.8

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

/** Every size of the conversion with its working; an override stands in its place with the reason given. */
export function planSizes(c: Context): Size[] {
  if (!known.has(c)) known.set(c, computeSizes(c))
  return known.get(c)!
}
const known = new WeakMap<Context, Size[]>()

function computeSizes(c: Context): Size[] {
  const { resolved: r, plan, facts } = c
  const assumedOf = (...paths: string[]) => r.assumptions.filter((a) => paths.includes(a.path)).map((a) => a.label)
  const sizes: Size[] = []
  const add = (
    sizeId: SizeId,
    label: string,
    computed: number | null,
    dimension: DerivedNumber['dimension'],
    formula: string,
    source: string,
    inputs: Record<string, unknown>,
    assumed: string[] = [],
  ): void => {
    const override = plan.overrides?.[sizeId]
    sizes.push({
      id: `plan.${sizeId}`,
      sizeId,
      station: 'plan',
      label,
      computed,
      value: override?.value ?? computed,
      reason: override?.reason ?? null,
      dimension,
      formula: override ? `own figure: ${override.reason} (computed: ${formula})` : formula,
      source,
      inputs: shown(inputs),
      assumed,
    })
  }
  const route = plan.route ?? 'throttle-body'
  if (r.powerKw !== null) {
    const own = plan.overrides?.power
    add(
      'power',
      'Power planned for',
      own ? (facts.engine?.powerKw ?? r.powerKw) : r.powerKw,
      'power',
      facts.engine?.powerKw !== undefined ? 'as entered in Survey' : 'displacement x typical kW per litre of the cam class',
      facts.engine?.powerKw !== undefined ? 'the survey' : 'stated assumption',
      { powerKw: r.powerKw },
      assumedOf('engine.powerKw'),
    )
  }
  const air = peakAir(c, route)
  if (air) {
    add(
      'air',
      'Air at peak power',
      air.massGps,
      'massFlow',
      engineFlow.formula,
      engineFlow.source,
      air.input,
      assumedOf('cam.class', 'engine.redlineRpm', 'place.altitudeM'),
    )
  }
  const injectors = plan.injectors ?? injectorsFor(route, r.cylinders)
  const wanted = injectorWanted(c, injectors)
  if (wanted)
    add(
      'injector',
      'Injector wanted, each',
      wanted.flowCcMin,
      'injectorFlow',
      injectorSize.formula,
      injectorSize.source,
      wanted.input,
      assumedOf('engine.powerKw', 'fuel.kind'),
    )
  if (r.powerKw !== null) {
    const pump = {
      powerKw: r.powerKw,
      bsfcGKwh: bsfcGKwh(r.fuelKind, boosted(c)),
      fuelDensityKgL: fuels[r.fuelKind].densityKgL,
      marginPct: PUMP_MARGIN_PCT,
    }
    const { flowLph } = pumpDemand.run(pump)
    add(
      'pump',
      'Pump wanted at pressure',
      flowLph,
      'pumpFlow',
      pumpDemand.formula,
      pumpDemand.source,
      pump,
      assumedOf('engine.powerKw', 'fuel.kind'),
    )
    const bore = (limit: number, lph: number) => Math.sqrt(velocityIn(lph, 1) / limit)
    add(
      'feed-bore',
      'Feed line, least bore',
      bore(FEED_LIMIT_M_S, flowLph),
      'length',
      'd = sqrt(4 Q / (pi v))',
      'Continuity; 3 m/s at most in the feed',
      { flowLph, velocityMS: FEED_LIMIT_M_S },
    )
  }
  const design = designOf(c)
  if (design) {
    const { setKpa } = design.circuit.regulator
    const fits = boreTable.find(
      (b) =>
        returnFloor(design, {
          ...design.circuit,
          sections: { ...design.circuit.sections, return: withBore(design.circuit.sections.return ?? [], b.boreMm) },
        }) <
        0.9 * setKpa,
    )
    add(
      'return-bore',
      'Return line, least bore',
      fits?.boreMm ?? null,
      'length',
      'smallest of the table with which a wide-open regulator stays 10 % under the set pressure',
      'Circuit solver',
      { setKpa, supplyV: CHARGING_HIGH_V },
      design.assumed,
    )
  }
  if (air) {
    const dropKpa = plan.throttleDropKpa ?? THROTTLE_DROP_KPA
    const rho = densityKgM3(air.input.pressureKpa, INTAKE_C)
    const bores = boresFor(c, route)
    const share = route === 'individual-runner' ? OWN_THROTTLE_PEAK / bores : 1 / bores
    const areaM2 = ((air.massGps / 1000) * share) / (THROTTLE_CD * Math.sqrt(2 * rho * dropKpa * 1000))
    add(
      'throttle',
      `Throttle bore, each of ${bores}`,
      Math.sqrt((4 * areaM2) / Math.PI) * 1000,
      'length',
      'm = Cd A sqrt(2 rho dp);  d = sqrt(4 A / pi)',
      'Heywood, section 7.6.2 (throttle plate)',
      {
        massGps: air.massGps * share,
        dropKpa,
        dischargeCoefficient: THROTTLE_CD,
        densityKgM3: rho,
        bores,
      },
    )
  }
  const pumpA = design?.solutions.find((s) => s.state === 'full')?.pumpA ?? null
  const loads = { ...SYSTEM_A, pump: pumpA ?? PUMP_A, ...CAR_A, ...(facts.electrics?.fan === 'belt' ? {} : { fan: FAN_A }) }
  add(
    'alternator',
    'Alternator wanted',
    Object.values(loads).reduce((a, b) => a + b, 0) / ALTERNATOR_SHARE,
    'current',
    'sum of loads / 0.8',
    'Usual loads; a clamp reading replaces each',
    Object.fromEntries(Object.entries(loads).map(([name, amps]) => [`${name}A`, amps])),
    ['loads of unit, coils, lights', ...(pumpA === null ? ['pump current'] : [])],
  )
  return sizes
}

/** Injector chosen, at pressure: beside the sizes, for the docket. */
export function planNumbers(c: Context): DerivedNumber[] {
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
