import { Route, vePeakPct } from '../air/index.ts'
import { airPerCylinderG, ccMinToMassGps, DEAD_TIME_14V_MS, fuels, LINEAR_LIMIT_MS, openingsPerCycle } from '../injection/index.ts'
import {
  airM3Min,
  asSaying,
  type Context,
  type Dimension,
  type JudgedContext,
  kPa,
  kW,
  mm,
  type Said,
  say,
  sayAll,
  type Saying,
} from '../kernel/index.ts'
import { boosted, inSentence } from '../survey/index.ts'
import { HIGH_COMPRESSION, THROTTLE_DROP_KPA } from './limits.ts'
import { partsCost, partsList } from './parts.ts'
import { boresFor, injectorChosen, injectorsFor, injectorWanted, peakAir, planSizes, throttleFlowAt } from './sizes.ts'
import { planHours } from './tasks.ts'

export const routeTitles: Record<Route, string> = {
  'throttle-body': 'Throttle body',
  'multi-port': 'Multi-port',
  'individual-runner': 'Individual runner',
}

const IDLE_CHARGE_C = 45
/** Reasons that want work, at most, in a recommended route until the person says. */
export const ACCEPTED_WORK = 2
/** Money an hour counts for in the comparison until the person says. */
export const HOURLY_RATE = 20
/** What one step of a preference weighs, in hours of work: our own measure, shown beside the sum. */
const PREFERENCE_HOURS = 3

export type Fit = 'fits' | 'work' | 'no'
interface RouteReason {
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
export interface RouteJudgement extends RouteVariant {
  fit: Fit
  reasons: RouteReason[]
  cost: number
  hours: { low: number; mid: number; high: number }
  /** hours that the preferences count against it, in the open */
  preferenceHours: number
  /** cost, hours and preferences in one figure: what the recommendation goes by */
  weighed: number
}
export interface Recommendation {
  best: RouteJudgement | null
  reasons: Said[]
  wouldChange: Said[]
}

/** How near each route comes to what a person may care for, 0 far to 3 near. */
const LIKING: Record<Route, { periodLook: number; reversible: number; quiet: number }> = {
  'throttle-body': { periodLook: 3, reversible: 3, quiet: 2 },
  'multi-port': { periodLook: 1, reversible: 2, quiet: 3 },
  'individual-runner': { periodLook: 2, reversible: 1, quiet: 0 },
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

function reasonsFor(c: JudgedContext, v: RouteVariant): RouteReason[] {
  const { resolved: r, facts, plan } = c
  const { route } = v
  const reasons: RouteReason[] = []
  const tell = (id: string, label: string, fit: Fit, text: Said, bar: RouteReason['bar'] = null): void =>
    void reasons.push({ id, label, fit, text, bar })
  const same = plan.route === route
  const injectors = same && plan.injectors ? plan.injectors : injectorsFor(route, r.cylinders)
  const wanted = injectorWanted(c, injectors)
  const chosen = same ? injectorChosen(c) : null
  if (wanted) {
    const flow = chosen ?? wanted.flowCcMin
    tell(
      'capacity',
      'Injector capacity',
      chosen !== null && chosen < wanted.flowCcMin ? 'no' : 'fits',
      chosen !== null
        ? say`${injectors} of ${chosen.toFixed(0)} cc/min; ${kW(r.powerKw!)} wants ${wanted.flowCcMin.toFixed(0)} each`
        : `wants ${injectors} of ${wanted.flowCcMin.toFixed(0)} cc/min at ${wanted.input.maxDutyPct} % duty`,
      { value: wanted.flowCcMin, limit: flow, dimension: 'injectorFlow', most: Math.max(flow, wanted.flowCcMin) * 1.3 },
    )
    const pulse = idlePulseMs(c, route, injectors, flow)
    if (pulse !== null)
      tell(
        'idle-pulse',
        'Idle pulse',
        pulse < LINEAR_LIMIT_MS[0] ? 'no' : pulse < LINEAR_LIMIT_MS[1] ? 'work' : 'fits',
        `${pulse.toFixed(2)} ms at warm idle; under ${LINEAR_LIMIT_MS[0]}-${LINEAR_LIMIT_MS[1]} ms an injector no longer meters evenly`,
        { value: pulse, limit: LINEAR_LIMIT_MS[1], dimension: 'timeMs', most: Math.max(4, pulse * 1.2) },
      )
  } else tell('capacity', 'Injector capacity', 'work', 'power not known yet')
  const air = peakAir(c, route)
  if (air) {
    const have =
      same && plan.throttleM3Min && plan.throttleRatedKpa
        ? throttleFlowAt(plan.throttleM3Min, plan.throttleRatedKpa, plan.throttleDropKpa ?? THROTTLE_DROP_KPA)
        : null
    const variant = variantContext(c, v)
    const bore = planSizes(variant).find((s) => s.sizeId === 'throttle')
    const bores = boresFor(variant, route)
    tell(
      'airflow',
      'Throttle flow',
      have !== null && have < air.volumeM3Min ? 'no' : 'fits',
      have !== null
        ? say`passes ${airM3Min(have)} at ${kPa(plan.throttleDropKpa ?? THROTTLE_DROP_KPA)}; the engine takes ${airM3Min(air.volumeM3Min)}`
        : say`takes ${airM3Min(air.volumeM3Min)}: ${bores === 1 ? 'one bore' : `${bores} bores`} of ${bore?.value == null ? '–' : say`${mm(bore.value, 0)}`} or more`,
      have !== null ? { value: air.volumeM3Min, limit: have, dimension: 'airVolume', most: Math.max(have, air.volumeM3Min) * 1.3 } : null,
    )
  }
  const needed = boosted(c) || facts.induction?.nitrous === true
  const useful = r.compressionRatio >= HIGH_COMPRESSION || r.camClass === 'hot' || r.camClass === 'wild'
  tell(
    'timing',
    'Timing control',
    v.timingControl || !(needed || useful) ? 'fits' : needed ? 'no' : 'work',
    v.timingControl
      ? needed
        ? 'there, and this engine needs it'
        : 'there: curve by speed and load, spark steadies the idle'
      : needed
        ? 'boost or nitrous need it'
        : useful
          ? `wanted: ${r.compressionRatio >= HIGH_COMPRESSION ? `${r.compressionRatio}:1 compression` : `${r.camClass} cam`} gains from a curve by load`
          : 'the old advance stays',
  )
  if (route === 'throttle-body') {
    const near = r.compressionRatio >= HIGH_COMPRESSION || boosted(c)
    tell(
      'spread',
      'Mixture between cylinders',
      near ? 'work' : 'fits',
      near
        ? `uneven, and not correctable singly; at ${boosted(c) ? 'boost' : `${r.compressionRatio}:1`} little is forgiven`
        : 'uneven on long runners, as with the carburettor; not correctable singly',
    )
  } else {
    const shared = facts.engine?.siamesedInlets === true
    tell(
      'spread',
      'Mixture between cylinders',
      shared ? (plan.phased ? 'work' : 'no') : 'fits',
      shared
        ? `shared inlet ports: equal pulses give unequal mixtures${plan.phased ? '; phased injection answers it' : ', phased injection with a cam signal is needed'}`
        : 'a jet to each port',
    )
  }
  if (route === 'individual-runner') {
    tell('load', 'Load signal', 'work', 'manifold pressure pulsates: load by throttle position, throttles to be balanced')
    tell(
      'vacuum',
      'Vacuum',
      plan.brakeBooster === false ? 'fits' : 'work',
      plan.brakeBooster === false ? 'no brake booster to feed' : 'no shared source: the brake booster needs a reservoir or a collector',
    )
  } else
    tell(
      'load',
      'Load signal',
      r.camClass === 'wild' ? 'work' : 'fits',
      r.camClass === 'wild'
        ? say`idle at ${kPa(r.idleMapKpa)}: speed-density alone is poor there, throttle position blended in`
        : say`idle at ${kPa(r.idleMapKpa)}: manifold pressure serves`,
    )
  const flange = facts.place?.flange
  const natural: Record<Route, string[]> = {
    'throttle-body': ['square-four', 'spread-four', 'two-barrel'],
    'multi-port': [],
    'individual-runner': ['side-draught'],
  }
  if (route === 'multi-port') tell('fit', 'Fitting', 'work', 'a manifold with injector bosses, and a rail')
  else
    tell(
      'fit',
      'Fitting',
      flange === undefined || natural[route].includes(flange) ? 'fits' : 'work',
      flange === undefined
        ? 'flange not known yet'
        : natural[route].includes(flange)
          ? `bolts to the ${flange.replace('-', ' ')} flange`
          : `an adapter for the ${flange.replace('-', ' ')} flange`,
    )
  if (v.electronicThrottle)
    tell(
      'throttle',
      'Electronic throttle',
      facts.gearing?.kickDown === 'cable' || facts.gearing?.kickDown === 'throttle-valve' ? 'work' : 'fits',
      facts.gearing?.kickDown === 'cable' || facts.gearing?.kickDown === 'throttle-valve'
        ? 'the gearbox cable needs a lever of its own: wrong, it burns the box'
        : 'idle without a valve; two tracks at pedal and throttle',
    )
  else
    tell(
      'throttle',
      'Throttle by cable',
      'fits',
      facts.gearing?.kickDown === 'throttle-valve' ? 'keep the geometry of the throttle-valve cable' : 'the old linkage',
    )
  tell(
    'road',
    'Pull-away and economy',
    'fits',
    route === 'throttle-body'
      ? 'wets the manifold: a little behind multi-port; cold and hot start still gain most'
      : route === 'multi-port'
        ? 'best of the three for economy and response'
        : 'sharpest response; economy like multi-port',
  )
  return reasons
}

/** Choices that taking a route sets: injectors chosen for another route do not carry over. */
export const routeChanges = (plan: Context['plan'], route: Route): Record<string, unknown> =>
  route === plan.route ? { route } : { route, injectors: null, injectorCcMin: null }

/** A merge patch that takes a route with or without timing control and electronic throttle. */
export const variantPatch = (plan: Context['plan'], v: RouteVariant) => ({
  choices: { plan: { ...routeChanges(plan, v.route), timingControl: v.timingControl, electronicThrottle: v.electronicThrottle } },
})
const variantContext = (c: JudgedContext, v: RouteVariant): JudgedContext => c.with(variantPatch(c.plan, v))

const worst = (reasons: RouteReason[]): Fit =>
  reasons.some((r) => r.fit === 'no') ? 'no' : reasons.some((r) => r.fit === 'work') ? 'work' : 'fits'

const reasonWords = (r: RouteReason): Saying => say`${inSentence(r.label)}, ${asSaying(r.text)}`

/** One route against the car: reasons with numbers, cost, hours as a span, and what the preferences weigh. */
export function judgeRoute(c: JudgedContext, v: RouteVariant): RouteJudgement {
  const reasons = reasonsFor(c, v)
  const variant = variantContext(c, v)
  const cost = partsCost(partsList(variant)).total
  const hours = planHours(variant)
  const preferenceHours = (['periodLook', 'reversible', 'quiet'] as const).reduce(
    (all, p) => all + (c.plan[p] ?? 0) * (3 - LIKING[v.route][p]) * PREFERENCE_HOURS,
    0,
  )
  const rate = c.plan.hourlyRate ?? HOURLY_RATE
  return { ...v, fit: worst(reasons), reasons, cost, hours, preferenceHours, weighed: cost + rate * (hours.mid + preferenceHours) }
}

/** All three routes with timing control and electronic throttle as they stand in the plan (or as asked). */
export const judgeRoutes = (
  c: JudgedContext,
  timingControl = c.plan.timingControl ?? false,
  electronicThrottle = c.plan.electronicThrottle ?? false,
): RouteJudgement[] => Route.options.map((route) => judgeRoute(c, { route, timingControl, electronicThrottle }))

/**
 * The cheapest route without a stop and with at most the work the person accepts, with its reasons and what would change it.
 * Cheapest counts parts, hours at the person's rate, and the preferences, all shown.
 */
export function recommend(c: JudgedContext): Recommendation {
  if (c.resolved.powerKw === null || c.resolved.cylinders === null)
    return {
      best: null,
      reasons: ['Too little is known to recommend a route: enter cylinders and displacement in Survey.'],
      wouldChange: [],
    }
  const every = [true, false].flatMap((timing) => [false, true].flatMap((electronic) => judgeRoutes(c, timing, electronic)))
  const possible = every
    .filter((j) => j.fit !== 'no' && j.reasons.filter((r) => r.fit === 'work').length <= (c.plan.acceptWork ?? ACCEPTED_WORK))
    .sort((a, b) => a.weighed - b.weighed)
  const best = possible[0] ?? null
  if (!best) {
    const nearest = [...every].sort(
      (a, b) => a.reasons.filter((r) => r.fit === 'no').length - b.reasons.filter((r) => r.fit === 'no').length,
    )[0]
    return {
      best: null,
      reasons: [`No route fits with at most ${c.plan.acceptWork ?? ACCEPTED_WORK} points of work.`],
      wouldChange: nearest.reasons.filter((r) => r.fit !== 'fits').map((r) => say`${routeTitles[nearest.route]}: ${reasonWords(r)}`),
    }
  }
  const title = (j: RouteJudgement) =>
    `${routeTitles[j.route]}${j.timingControl ? ' with' : ' without'} timing control${j.electronicThrottle ? ', electronic throttle' : ''}`
  const reasons = [
    `${title(best)}: parts ${best.cost.toFixed(0)}, ${best.hours.low.toFixed(0)}-${best.hours.high.toFixed(0)} h, the least of those without a stop.`,
    ...best.reasons.filter((r) => r.fit === 'work').map((r) => say`Work to do: ${reasonWords(r)}.`),
  ]
  const wouldChange = Route.options
    .filter((route) => route !== best.route)
    .map((route): Said => {
      const rival = every.filter(
        (j) => j.route === route && j.timingControl === best.timingControl && j.electronicThrottle === best.electronicThrottle,
      )[0]
      const no = rival.reasons.filter((r) => r.fit === 'no')
      return no.length
        ? say`${routeTitles[route]} is out: ${sayAll(no.map(reasonWords))}.`
        : `${routeTitles[route]} costs ${(rival.cost - best.cost).toFixed(0)} more in parts and ${(rival.hours.mid - best.hours.mid).toFixed(0)} h more; it would be taken if its gain were worth ${(rival.weighed - best.weighed).toFixed(0)}.`
    })
  if (best.timingControl) {
    const without = every.find((j) => j.route === best.route && !j.timingControl && j.electronicThrottle === best.electronicThrottle)!
    if (without.fit === 'no')
      wouldChange.push(say`Without timing control: ${sayAll(without.reasons.filter((r) => r.fit === 'no').map((r) => r.text))}.`)
  }
  return { best, reasons, wouldChange }
}
