import { type JudgedContext } from '../kernel/index.ts'
import { boxOf } from '../spark/index.ts'
import { harnessOf } from '../wiring/index.ts'
import type { BoxId, BoxPlace } from './choices.ts'
import { fitupOf } from './fitup-of.ts'
import { UNIT_MOST_C } from './limits.ts'

/** Place of a box on the plan of the harness. */
const PLAN_PLACE: Record<BoxId, readonly string[]> = { unit: ['unit'], coil: ['coil', 'coils'], driver: ['box'] }
/** Boxes that this job places. */
export const boxesFor = (c: JudgedContext): BoxId[] => ['unit', 'coil', ...(boxOf(c) ? (['driver'] as const) : [])]

export interface BoxJudged {
  id: BoxId
  /** longest lead that the harness wants from it, m; null: none is laid to it */
  reachM: number | null
  problems: string[]
}
/** What is wrong with where a box stands, each with its number. */
export function boxJudged(c: JudgedContext, id: BoxId): BoxJudged {
  const place: BoxPlace = fitupOf(c).boxes?.[id] ?? {}
  const leads = harnessOf(c).wires.filter(({ circuit }) => PLAN_PLACE[id].some((p) => p === circuit.from || p === circuit.to))
  const reachM = leads.length ? Math.max(...leads.map((w) => w.lengthM)) : null
  const { plugs, dry, rubber, hottestC, access, holeMm, plugMm, leadsM } = place
  const short = leadsM !== undefined && reachM !== null && leadsM < reachM
  const problems = [
    plugs === 'up' && 'plugs up: water runs down the leads into it',
    plugs === 'sideways' && id === 'unit' && 'plugs sideways: give the leads a drip loop below them',
    dry === false && 'it gets wet there',
    rubber === false && id === 'unit' && 'no rubber feet: thin sheet shakes it',
    id === 'unit' && hottestC !== undefined && hottestC > UNIT_MOST_C && `${hottestC} °C there; ${UNIT_MOST_C} °C is the most`,
    access === false && 'its plugs cannot be reached once it is in',
    holeMm !== undefined && plugMm !== undefined && holeMm < plugMm && `the hole of ${holeMm} mm does not pass the plug of ${plugMm} mm`,
    short && `leads of ${leadsM.toFixed(2)} m; ${reachM.toFixed(2)} m is the way to the farthest`,
  ]
  return { id, reachM, problems: problems.filter((p): p is string => p !== false) }
}
