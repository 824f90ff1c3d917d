import { type Route, vePeakPct } from '../air/index.ts'
import { airPerCylinderG, ccMinToMassGps, DEAD_TIME_14V_MS, fuels, LINEAR_LIMIT_MS, openingsPerCycle } from '../injection/index.ts'
import { airM3Min, type Context, type Dimension, type JudgedContext, kPa, kW, mm, type Said, say } from '../kernel/index.ts'
import { boosted } from '../survey/index.ts'
import { stressed } from './aims.ts'
import { HIGH_COMPRESSION, THROTTLE_DROP_KPA } from './limits.ts'
import { boresFor, injectorChosen, injectorsFor, injectorWanted, peakAir, planSizes, throttleFlowAt } from './sizes.ts'

const IDLE_CHARGE_C = 45
/** `limit`: nothing to do about it and nothing against it; it is lived with. */
export type Fit = 'fits' | 'limit' | 'work' | 'no'
export interface RouteReason {
  id: string
  label: string
  fit: Fit
  text: Said
  /** the car's demand as a bar with its limit; null where words say it */
  bar: { value: number; limit: number; dimension: Dimension; most: number } | null
}
export interface RouteVariant {
  route: Route
  timingControl: boolean
  electronicThrottle: boolean
}
/** Opening time at warm idle with injectors of a flow, ms, dead time at 14 V included. */
export function idlePulseMs(c: Context, route: Route, injectors: number, flowCcMin: number): number | null {
  const r = c.resolved
  if (r.displacementCc === null || r.cylinders === null) return null
  const [low, high] = vePeakPct(r.camClass, route).idle
  const airG = airPerCylinderG((low + high) / 2, r.idleMapKpa, IDLE_CHARGE_C, r.displacementCc / r.cylinders) * r.cylinders
  const fuelG = airG / fuels[r.fuelKind].stoichAfr
  const openings = injectors * openingsPerCycle(route, r.cylinders, injectors)
  return fuelG / openings / (ccMinToMassGps(flowCcMin, fuels[r.fuelKind].densityKgL) / 1000) + DEAD_TIME_14V_MS
}

/** Choices that taking a route sets: injectors chosen for another route do not carry over. */
export const routeChanges = (plan: Context['plan'], route: Route): Record<string, unknown> =>
  route === plan.route ? { route } : { route, injectors: null, injectorCcMin: null }

/** A merge patch that takes a route with or without timing control and electronic throttle. */
export const variantPatch = (plan: Context['plan'], v: RouteVariant) => ({
  choices: { plan: { ...routeChanges(plan, v.route), timingControl: v.timingControl, electronicThrottle: v.electronicThrottle } },
})
/** The car with a route taken. */
export const variantContext = (c: JudgedContext, v: RouteVariant): JudgedContext => c.with(variantPatch(c.plan, v))

/** A route with the car that it is judged against. */
interface Judging {
  c: JudgedContext
  v: RouteVariant
  /** the plan has this route, so what it chose counts */
  same: boolean
}
type Bar = RouteReason['bar']
const reason = (id: string, label: string, fit: Fit, text: Said, bar: Bar = null): RouteReason => ({ id, label, fit, text, bar })

function capacityReasons({ c, v, same }: Judging): RouteReason[] {
  const { resolved: r, plan } = c
  const label = 'Injector capacity'
  const injectors = same && plan.injectors ? plan.injectors : injectorsFor(v.route, r.cylinders)
  const wanted = injectorWanted(c, injectors)
  if (!wanted) return [reason('capacity', label, 'work', 'power not known yet')]
  const chosen = same ? injectorChosen(c) : null
  const flow = chosen ?? wanted.flowCcMin
  const bar: Bar = { value: wanted.flowCcMin, limit: flow, dimension: 'injectorFlow', most: Math.max(flow, wanted.flowCcMin) * 1.3 }
  const each = wanted.flowCcMin.toFixed(0)
  const capacity =
    chosen === null
      ? reason('capacity', label, 'fits', `wants ${injectors} of ${each} cc/min at ${wanted.input.maxDutyPct} % duty`, bar)
      : reason(
          'capacity',
          label,
          chosen < wanted.flowCcMin ? 'no' : 'fits',
          say`${injectors} of ${chosen.toFixed(0)} cc/min; ${kW(wanted.input.powerKw)} wants ${each} each`,
          bar,
        )
  const pulse = idlePulseMs(c, v.route, injectors, flow)
  if (pulse === null) return [capacity]
  const [uneven, good] = LINEAR_LIMIT_MS
  return [
    capacity,
    reason(
      'idle-pulse',
      'Idle pulse',
      pulse < uneven ? 'no' : pulse < good ? 'work' : 'fits',
      `${pulse.toFixed(2)} ms at warm idle; under ${uneven}-${good} ms an injector no longer meters evenly`,
      { value: pulse, limit: good, dimension: 'timeMs', most: Math.max(4, pulse * 1.2) },
    ),
  ]
}

function airflowReasons({ c, v, same }: Judging): RouteReason[] {
  const { plan } = c
  const air = peakAir(c, v.route)
  if (!air) return []
  if (same && plan.throttleM3Min && plan.throttleRatedKpa) {
    const dropKpa = plan.throttleDropKpa ?? THROTTLE_DROP_KPA
    const have = throttleFlowAt(plan.throttleM3Min, plan.throttleRatedKpa, dropKpa)
    const text = say`passes ${airM3Min(have)} at ${kPa(dropKpa)}; the engine takes ${airM3Min(air.volumeM3Min)}`
    const bar: Bar = { value: air.volumeM3Min, limit: have, dimension: 'airVolume', most: Math.max(have, air.volumeM3Min) * 1.3 }
    return [reason('airflow', 'Throttle flow', have < air.volumeM3Min ? 'no' : 'fits', text, bar)]
  }
  const variant = variantContext(c, v)
  const boreMm = planSizes(variant).find((s) => s.sizeId === 'throttle')?.value
  const bores = boresFor(variant, v.route)
  const count = bores === 1 ? 'one bore' : `${bores} bores`
  const text = say`takes ${airM3Min(air.volumeM3Min)}: ${count} of ${boreMm == null ? '–' : say`${mm(boreMm, 0)}`} or more`
  return [reason('airflow', 'Throttle flow', 'fits', text)]
}

function timingReasons({ c, v }: Judging): RouteReason[] {
  const { resolved: r, facts } = c
  const needed = boosted(c) || facts.induction?.nitrous === true
  const squeezed = r.compressionRatio >= HIGH_COMPRESSION
  const useful = squeezed || r.camClass === 'hot' || r.camClass === 'wild'
  const told = (fit: Fit, text: string) => [reason('timing', 'Timing control', fit, text)]
  if (v.timingControl)
    return told('fits', needed ? 'there, and this engine needs it' : 'there: curve by speed and load, spark steadies the idle')
  if (needed) return told('no', 'boost or nitrous need it')
  if (!useful) return told('fits', 'the old advance stays')
  const why = squeezed ? `${r.compressionRatio}:1 compression` : `${r.camClass} cam`
  return told('work', `wanted: ${why} gains from a curve by load`)
}

function spreadReasons({ c, v }: Judging): RouteReason[] {
  const { resolved: r, facts, plan } = c
  const told = (fit: Fit, text: Said) => [reason('spread', 'Mixture between cylinders', fit, text)]
  if (r.cylinders === 1) return told('fits', 'one cylinder: nothing to share out')
  if (v.route === 'throttle-body') {
    if (!stressed(c)) return told('limit', 'uneven on long runners, as with the carburettor; not correctable singly')
    const at = boosted(c)
      ? 'under boost'
      : r.compressionRatio >= HIGH_COMPRESSION
        ? `at ${r.compressionRatio}:1`
        : say`at ${kW(r.powerKw!)}`
    return told('work', say`uneven, and not correctable singly; ${at} little is forgiven`)
  }
  if (facts.engine?.siamesedInlets !== true) return told('fits', 'a jet to each port')
  const shared = 'shared inlet ports: equal pulses give unequal mixtures'
  return told('work', plan.phased ? `${shared}; phased injection answers it` : `${shared}; take phased injection with a cam signal`)
}

function loadReasons({ c, v }: Judging): RouteReason[] {
  const { resolved: r, plan } = c
  if (v.route === 'individual-runner') {
    const load = reason('load', 'Load signal', 'work', 'manifold pressure pulsates: load by throttle position, throttles to be balanced')
    if (plan.brakeBooster === false) return [load, reason('vacuum', 'Vacuum', 'fits', 'no brake booster to feed')]
    return [load, reason('vacuum', 'Vacuum', 'work', 'no shared source: the brake booster needs a reservoir or a collector')]
  }
  if (r.camClass === 'wild') {
    const text = say`idle at ${kPa(r.idleMapKpa)}: speed-density alone is poor there, throttle position blended in`
    return [reason('load', 'Load signal', 'work', text)]
  }
  return [reason('load', 'Load signal', 'fits', say`idle at ${kPa(r.idleMapKpa)}: manifold pressure serves`)]
}

/** Flanges that a route bolts to as they are. */
const NATURAL_FLANGES: Record<Route, readonly string[]> = {
  'throttle-body': ['square-four', 'spread-four', 'two-barrel'],
  'multi-port': [],
  'individual-runner': ['side-draught'],
}
/** The flange that is there is one that the route bolts to as it is. */
export const boltsTo = (route: Route, { facts }: Context): boolean =>
  facts.place?.flange !== undefined && NATURAL_FLANGES[route].includes(facts.place.flange)

/** Side-draught carburettors stand in pairs or more on engines of four and up; as many as told, else so. */
const carburettorsOf = ({ facts, resolved }: Context): number =>
  facts.fuel?.carburettors ?? (facts.place?.flange === 'side-draught' && (resolved.cylinders ?? 4) >= 4 ? 2 : 1)
/** More cylinders than one body can be led to. */
const ONE_BODY_CYLINDERS = 8

function fittingReasons({ c, v }: Judging): RouteReason[] {
  const flange = c.facts.place?.flange
  const told = (fit: Fit, text: string) => [reason('fit', 'Fitting', fit, text)]
  if (v.route === 'multi-port') return told('work', 'a manifold with injector bosses, and a rail')
  const words = flange && `the ${flange.replace('-', ' ')} flange`
  if (v.route === 'individual-runner')
    return boltsTo(v.route, c) ? told('fits', `bolts to ${words}`) : told('work', 'a manifold with a runner and a throttle for each port')
  const { cylinders } = c.resolved
  const carburettors = carburettorsOf(c)
  if (cylinders !== null && cylinders > ONE_BODY_CYLINDERS)
    return told('no', `${cylinders} cylinders: no manifold leads one body to all of them alike`)
  if (flange === 'side-draught' && carburettors > 1)
    return told('no', `${carburettors} side-draughts feed runners that do not meet; a body for each is the individual-runner route`)
  if (carburettors > 1) return told('work', `a body in place of each of ${carburettors} carburettors, balanced, or another manifold`)
  if (!flange) return told('fits', 'flange not known yet')
  return boltsTo(v.route, c) ? told('fits', `bolts to ${words}`) : told('work', `an adapter for ${words}`)
}

/** Height over the flange that a body with a low air cleaner takes at least, and one with an adapter, mm: usual castings; measure the part in hand. */
const BODY_HEIGHT_MM = 140
const ADAPTER_MM = 25
function heightReasons({ c, v }: Judging): RouteReason[] {
  const free = c.facts.place?.bonnetMm
  const told = (fit: Fit, text: Said) => [reason('height', 'Under the bonnet', fit, text)]
  if (v.route !== 'throttle-body' || free === undefined) return []
  const wanted = BODY_HEIGHT_MM + (c.facts.place?.flange && !boltsTo(v.route, c) ? ADAPTER_MM : 0)
  return free < wanted
    ? told('work', say`${mm(free, 0)} free, body and low air cleaner take about ${mm(wanted, 0)}: a flatter cleaner, or a scoop`)
    : told('fits', say`${mm(free, 0)} free, about ${mm(wanted, 0)} taken`)
}

function throttleReasons({ c, v }: Judging): RouteReason[] {
  const kickDown = c.facts.gearing?.kickDown
  if (!v.electronicThrottle) {
    const text = kickDown === 'throttle-valve' ? 'keep the geometry of the throttle-valve cable' : 'the old linkage'
    return [reason('throttle', 'Throttle by cable', 'fits', text)]
  }
  if (kickDown === 'cable' || kickDown === 'throttle-valve')
    return [reason('throttle', 'Electronic throttle', 'work', 'the gearbox cable needs a lever of its own: wrong, it burns the box')]
  return [reason('throttle', 'Electronic throttle', 'fits', 'idle without a valve; two tracks at pedal and throttle')]
}

const ROAD_WORDS: Record<Route, string> = {
  'throttle-body': 'wets the manifold: a little behind multi-port; cold and hot start still gain most',
  'multi-port': 'best of the three for economy and response',
  'individual-runner': 'sharpest response; economy like multi-port',
}
/** Every reason for and against a route, in the order they are read. */
export const reasonsFor = (c: JudgedContext, v: RouteVariant): RouteReason[] => [
  ...[capacityReasons, airflowReasons, timingReasons, spreadReasons, loadReasons, fittingReasons, heightReasons, throttleReasons].flatMap(
    (of) => of({ c, v, same: c.plan.route === v.route }),
  ),
  reason('road', 'Pull-away and economy', 'fits', ROAD_WORDS[v.route]),
]
