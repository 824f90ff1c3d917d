import { Route } from '../air/index.ts'
import { asSaying, type JudgedContext, type Said, say, sayAll, type Saying } from '../kernel/index.ts'
import { inSentence } from '../survey/index.ts'
import { type AimSum, aimSums } from './aims.ts'
import { partsCost, partsList } from './parts.ts'
import { type Fit, reasonsFor, type RouteReason, type RouteVariant, variantContext } from './route-reasons.ts'
import { planHours } from './tasks.ts'

export const routeTitles: Record<Route, string> = {
  'throttle-body': 'Throttle body',
  'multi-port': 'Multi-port',
  'individual-runner': 'Individual runner',
}

/** Reasons that want work, at most, in a recommended route until the person says. */
export const ACCEPTED_WORK = 2
/** Money an hour counts for in the comparison until the person says. */
export const HOURLY_RATE = 20
/** What one step of a preference weighs, in hours of work: our own measure, shown beside the sum. */
const PREFERENCE_HOURS = 3

export interface RouteJudgement extends RouteVariant {
  fit: Fit
  reasons: RouteReason[]
  cost: number
  hours: { low: number; mid: number; high: number }
  /** hours that the preferences count against it, in the open */
  preferenceHours: number
  /** what it falls short of, aim by aim, in hours */
  aims: AimSum[]
  aimHours: number
  /** cost, hours, preferences and what it falls short of in one figure, in money: what the recommendation goes by */
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

const worst = (reasons: RouteReason[]): Fit =>
  reasons.some((r) => r.fit === 'no') ? 'no' : reasons.some((r) => r.fit === 'work') ? 'work' : 'fits'

const signed = (value: number): string => `${value < 0 ? '−' : '+'}${Math.abs(value).toFixed(0)}`
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
  const aims = aimSums(c, v)
  const aimHours = aims.reduce((all, a) => all + a.hours, 0)
  const weighed = cost + rate * (hours.mid + preferenceHours + aimHours)
  return { ...v, fit: worst(reasons), reasons, cost, hours, preferenceHours, aims, aimHours, weighed }
}

/** All three routes with timing control and electronic throttle as they stand in the plan (or as asked). */
export const judgeRoutes = (
  c: JudgedContext,
  timingControl = c.plan.timingControl ?? false,
  electronicThrottle = c.plan.electronicThrottle ?? false,
): RouteJudgement[] => Route.options.map((route) => judgeRoute(c, { route, timingControl, electronicThrottle }))

/**
 * The least of the routes without a stop and with at most the work the person accepts, with its reasons and what would change it.
 * Least counts parts, hours at the person's rate, preferences, and what a route falls short of the aims by, all shown and all movable.
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
  const accepted = c.plan.acceptWork ?? ACCEPTED_WORK
  const short = best.aims.filter((a) => a.hours > 0).sort((a, b) => b.hours - a.hours)
  const reasons = [
    `${title(best)}: parts ${best.cost.toFixed(0)}, ${best.hours.low.toFixed(0)}-${best.hours.high.toFixed(0)} h. Weighed with what it falls short of, the least of those without a stop and with at most ${accepted} points of work.`,
    ...(short.length ? [`It falls short in ${short.map((a) => `${a.title.toLowerCase()} (${a.hours.toFixed(0)} h)`).join(', ')}.`] : []),
    ...best.reasons.filter((r) => r.fit === 'work').map((r) => say`Work to do: ${reasonWords(r)}.`),
  ]
  const wouldChange = Route.options
    .filter((route) => route !== best.route)
    .map((route): Said => {
      const rival = every
        .filter((j) => j.route === route)
        .sort((p, q) => Number(p.fit === 'no') - Number(q.fit === 'no') || p.weighed - q.weighed)[0]
      const no = rival.reasons.filter((r) => r.fit === 'no')
      if (no.length) return say`${routeTitles[route]} is out: ${sayAll(no.map(reasonWords))}.`
      const more = rival.weighed - best.weighed
      const costs = `${routeTitles[route]}: parts ${signed(rival.cost - best.cost)}, ${signed(rival.hours.mid - best.hours.mid)} h`
      if (more >= 0) return `${costs}; it would be taken if it were worth ${more.toFixed(0)} more to you than the weights say.`
      const work = rival.reasons.filter((r) => r.fit === 'work').length
      return `${costs}; it would be taken with ${work} points of work accepted in place of ${accepted}.`
    })
  const twin = every.find(
    (j) => j.route === best.route && j.timingControl !== best.timingControl && j.electronicThrottle === best.electronicThrottle,
  )!
  const out = twin.reasons.filter((r) => r.fit === 'no')
  const spark = (j: RouteJudgement): number => j.aims.find((a) => a.id === 'spark')!.hours
  wouldChange.push(
    out.length
      ? say`${best.timingControl ? 'Without' : 'With'} timing control: ${sayAll(out.map((r) => r.text))}.`
      : `${best.timingControl ? 'Without' : 'With'} timing control: parts ${signed(twin.cost - best.cost)}, ${signed(twin.hours.mid - best.hours.mid)} h, and what is missed in timing counts ${spark(twin).toFixed(0)} h in place of ${spark(best).toFixed(0)} h.`,
  )
  return { best, reasons, wouldChange }
}
