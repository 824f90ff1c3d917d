export { PartStatus, Person, type SizeId } from './choices.ts'
export { atLeast, type Load, type PartNeed, type PlanTask, type SizeProposal, type UnitFunction } from './contribution.ts'
export { criticalPath } from './critical-path.ts'
export { neededFunctions } from './findings.ts'
export { partsFromCsv, partsToCsv } from './parts-csv.ts'
export { NOT_SIZED, type Part, partsCost, partsList } from './parts.ts'
export { priceBook, type PriceId, priceOf } from './prices.ts'
export {
  ACCEPTED_WORK,
  type Fit,
  HOURLY_RATE,
  judgeRoute,
  judgeRoutes,
  recommend,
  routeChanges,
  routeTitles,
  type RouteVariant,
  variantPatch,
} from './routes.ts'
export { defaultPeople, planSchedule, type ScheduledTask } from './schedule.ts'
export { planSizes, type Size } from './sizes.ts'
export { plan } from './station.ts'
export { experience, planHours } from './tasks.ts'
export { type Way, ways, wayTaken } from './ways.ts'
