import { z } from 'zod'
import type { LearnCell, LearnResult, RunnerCell } from '../learn/index.ts'
import type { LogData } from '../logfile/index.ts'
import { type Told } from '../kernel/index.ts'
import { idleTargetRpm, resolveFacts } from '../survey/index.ts'
import { computeBaseTune, type TuneDocument } from '../tune/index.ts'
import { type PlanInput, roadCar } from './car.ts'
import { cover } from './cover.ts'
import { DynoDay, dynoDay } from './dyno-day.ts'
import { againS, approachS, isRun, type Leg, piecesOf, possibleLegs, ROAD_LOAD_SHARE } from './legs.ts'
import { loadScaleOf } from './load.ts'
import { isDone, needSeconds } from './need.ts'
import { baseComesFirst, ordinaryMinutes } from './ordinary.ts'
import { asRolled, torqueMap } from './torque.ts'
import { expectedUse } from './use.ts'

/** One leg of the plan, in the order it is driven. */
export const PlannedLeg = z.strictObject({
  kind: z.enum(['idle', 'hold', 'run-up', 'run-down']),
  gear: z.int().min(0).max(8).describe('1 is first; 0: out of gear'),
  fromKmh: z.number().min(0).max(300),
  toKmh: z.number().min(0).max(300),
  gradePct: z.number().min(-15).max(15),
  load: z.number().min(0).max(120).describe('on the scale of the map: to be expected at a hold, to be kept on a run'),
  by: z.enum(['pressure', 'throttle']).describe('what the load is told by: manifold kPa, or % of throttle'),
  fromRpm: z.number().min(0).max(15000),
  toRpm: z.number().min(0).max(15000),
  seconds: z.number().min(1).max(600).describe('of one pass, once it is steady'),
  passes: z.int().min(1).max(20),
  gives: z
    .array(z.tuple([z.int().min(0), z.number().min(0)]))
    .max(400)
    .describe('used seconds that one pass gives: cell by index, seconds'),
})
export type PlannedLeg = z.infer<typeof PlannedLeg>

/** Where a cell stands in the plan: done; waiting for a correction; driven long enough since; on the road list; on the dyno list; too seldom used to be driven for. */
export const PlannedCell = z.object({
  usePct: z.number().describe('share of the driving expected at it, %'),
  needS: z.number().describe('used seconds still wanted'),
  getsS: z.number().describe('used seconds that the plan gives'),
  where: z.enum(['proven', 'correct-first', 'driven', 'road', 'dyno', 'seldom']),
})
export type PlannedCell = z.infer<typeof PlannedCell>

export const DrivePlan = z.object({
  missing: z.array(z.string()).describe('facts without which no road speed can be told; then there are no legs'),
  topKmh: z.number(),
  topAssumed: z.boolean(),
  steepestPct: z.number(),
  by: z.enum(['pressure', 'throttle']).describe('what tells the load on the map'),
  rpm: z.array(z.number()),
  axis: z.array(z.number()).describe('breakpoints of the load, kPa or %'),
  runner: z.object({ throttlePct: z.array(z.number()), blendFromPct: z.number(), blendToPct: z.number() }).optional(),
  cells: z.array(PlannedCell),
  ordinaryMin: z
    .number()
    .nullable()
    .describe('where the unit learns by itself and has not settled: ordinary driving that it wants before its next log, min'),
  baseFirst: z.boolean().describe('where the unit learns by itself: what its base lacks comes before driving on, as Learn says'),
  legs: z.array(PlannedLeg),
  totalS: z.number().describe('whole drive, getting from leg to leg included'),
  steadyS: z.number().describe('of it on the legs themselves'),
  provenUsePct: z.number().describe('share of the expected driving in cells that are proven now'),
  afterUsePct: z.number().describe('and once the plan was driven, if all of its cells prove right'),
  dyno: DynoDay,
  inputs: z.array(z.object({ label: z.string(), value: z.number(), dimension: z.string().nullable(), assumed: z.boolean() })),
  torque: z.object({
    fittedS: z.number().describe('seconds of the log that the torque was fitted to; 0: by the textbook'),
    workScale: z.number(),
    frictionScale: z.number(),
  }),
})
export type DrivePlan = z.infer<typeof DrivePlan>

/** Taken until the person says what may be driven. */
const USUAL_TOP_KMH = 90
/** Cells that together see so much of the driving are worth a drive, %. */
const WORTH_PCT = 92
/** Less than this is not driven for, s. */
export const HARDLY_S = 0.3

/**
 * What should be driven next (handbook 07): cells that matter by expected use and are not proven, led through gears, road load and the engine's
 * torque to holds and steady runs inside the person's limits, in a short order. What no road within the limits reaches goes to the dynamometer.
 * @param result what the last log of the tune in the car has proven; null: nothing yet
 * @param log that log, for torque against pressure; left out: the textbook's
 * @param gotS seconds that the drive under way has given to each cell so far
 */
export function planDrive(
  told: Told,
  tune: TuneDocument | null,
  result: LearnResult | null,
  { log, gotS }: { log?: Pick<LogData, 'timeS' | 'channels'>; gotS?: readonly number[] } = {},
): DrivePlan {
  const r = resolveFacts(told)
  const choices = told.choices ?? {}
  const table = tune ?? computeBaseTune(told.facts, choices)
  const scale = loadScaleOf(table, r.barometerKpa)
  const { topKmh, steepestPct = 0 } = choices.learn ?? {}
  const limits = { topKmh: topKmh ?? USUAL_TOP_KMH, steepestPct }
  const road = roadCar(told)
  const n = scale.rpm.length * scale.axis.length
  const standing: DrivePlan = {
    missing: 'missing' in road ? road.missing : [],
    ...limits,
    topAssumed: topKmh === undefined,
    by: scale.by,
    rpm: [...scale.rpm],
    axis: [...scale.axis],
    ...(scale.runner ? { runner: scale.runner } : {}),
    ordinaryMin:
      choices.unit?.learns === 'itself' ? ordinaryMinutes(result, log?.timeS.length ? log.timeS.at(-1)! - log.timeS[0] : 0) : null,
    baseFirst: choices.unit?.learns === 'itself' && baseComesFirst(result),
    cells: Array.from({ length: n }, () => ({ usePct: 0, needS: 0, getsS: 0, where: 'seldom' as const })),
    legs: [],
    totalS: 0,
    steadyS: 0,
    provenUsePct: 0,
    afterUsePct: 0,
    dyno: { holds: [], pulls: 0, fromRpm: 0, toRpm: 0, coolS: 0, minutes: 0 },
    inputs: [],
    torque: { fittedS: 0, workScale: 1, frictionScale: 1 },
  }
  if ('missing' in road) return standing
  const car = asRolled(road.car, log)
  const torque = torqueMap(
    {
      displacementCc: r.displacementCc ?? 0,
      compressionRatio: r.compressionRatio,
      barometerKpa: r.barometerKpa,
      scale,
    },
    car,
    log,
  )
  const idleRpm = idleTargetRpm(r)
  // an idling engine gives no torque to the road
  const idle = { rpm: idleRpm, load: scale.by === 'pressure' ? r.idleMapKpa : (torque.loadFor(idleRpm, 0) ?? scale.axis[0]) }
  const known = result && (scale.by === 'throttle' ? result.runner?.cells : result.cells)
  const seen = known?.length === n ? known : null
  const use = expectedUse({
    car,
    torque,
    scale,
    redlineRpm: r.redlineRpm,
    idle,
    topKmh: limits.topKmh,
    ...(seen ? { drivenS: seen.map((c) => c.seconds) } : {}),
  })
  const legs = possibleLegs({ car, torque, scale, barometerKpa: r.barometerKpa, redlineRpm: r.redlineRpm, idle, ...limits })
  const reach = new Map<number, number>()
  for (const leg of legs) for (const [cell, s] of leg.gives) reach.set(cell, Math.max(reach.get(cell) ?? 0, s * leg.mostPortions))
  const worth = worthDriving(use)
  const cells = use.map((share, c): PlannedCell => {
    const cell = seen?.[c] ?? null
    const needS = Math.max(0, needSeconds(cell) - (gotS?.[c] ?? 0))
    const nr = scale.rpm.length
    const high = scale.mapKpa(scale.rpm[c % nr], scale.axis[Math.floor(c / nr)]) > ROAD_LOAD_SHARE * r.barometerKpa
    const where = whereOf({
      cell,
      needS,
      worth: worth[c],
      onRoad: !high && (reach.get(c) ?? 0) >= needS,
      held: scale.rpm[c % nr] >= idleRpm,
    })
    return { usePct: 100 * share, needS: where === 'road' || where === 'dyno' ? needS : 0, getsS: 0, where }
  })
  const wanted = cells.flatMap((c, index) => (c.where === 'road' ? [index] : []))
  const { pieces, travel } = piecesOf(legs, new Map(wanted.map((cell, need) => [cell, need])))
  const useful = pieces.flatMap((p, i) => (p.gives.length ? [i] : []))
  const steps = cover(
    useful.map((i) => pieces[i]),
    wanted.map((c) => cells[c].needS),
    (from, to) => travel(from === null ? null : useful[from], useful[to]),
  )
  const planned = steps.map(({ piece, portions }) => plannedLeg(legs[useful[piece]], portions, scale.by))
  for (const leg of planned) for (const [cell, s] of leg.gives) cells[cell].getsS += s * leg.passes
  const share = (which: readonly PlannedCell['where'][]) => cells.reduce((sum, c) => sum + (which.includes(c.where) ? c.usePct : 0), 0)
  return {
    ...standing,
    cells,
    legs: planned,
    ...secondsOf(planned),
    provenUsePct: share(['proven']),
    afterUsePct: share(['proven', 'driven', 'road']),
    dyno: dynoDay(scale, cells, { barometerKpa: r.barometerKpa, redlineRpm: r.redlineRpm, idleRpm, seen }),
    inputs: road.inputs satisfies PlanInput[],
    torque: { fittedS: torque.fittedS, workScale: torque.work.scale, frictionScale: torque.friction.scale },
  }
}

/** Where a cell stands: what is measured and off waits for its correction, unless the unit corrects it by itself. */
function whereOf({
  cell,
  needS,
  worth,
  onRoad,
  held,
}: {
  cell: LearnCell | RunnerCell | null
  needS: number
  worth: boolean
  onRoad: boolean
  /** an engine can be held there: it turns no slower than it idles */
  held: boolean
}): PlannedCell['where'] {
  if (cell && isDone(cell)) return 'proven'
  if (cell?.state === 'unsafe' || (cell?.state === 'needs-correction' && cell.settled === undefined)) return 'correct-first'
  if (!worth) return 'seldom'
  if (needS < HARDLY_S) return 'driven'
  return onRoad ? 'road' : held ? 'dyno' : 'seldom'
}

/** The cells of most use, until they hold so much of the driving. */
function worthDriving(use: readonly number[]): boolean[] {
  const worth = use.map(() => false)
  let sum = 0
  for (const { c, share } of use.map((share, c) => ({ c, share })).sort((a, b) => b.share - a.share)) {
    if (sum >= WORTH_PCT / 100 || share === 0) break
    worth[c] = true
    sum += share
  }
  return worth
}

function plannedLeg({ portionS, mostPortions: _, gives, ...leg }: Leg, portions: number, by: PlannedLeg['by']): PlannedLeg {
  const [seconds, passes] = isRun(leg) ? [portionS, portions] : [portions * portionS, 1]
  return { ...leg, by, seconds, passes, gives: gives.map(([cell, s]) => [cell, isRun(leg) ? s : s * portions]) }
}
/** Seconds of the legs in their order: whole, and on the legs themselves. */
export function secondsOf(legs: readonly PlannedLeg[]): { totalS: number; steadyS: number } {
  let totalS = 0
  let steadyS = 0
  legs.forEach((leg, i) => {
    totalS += approachS(i > 0 ? legs[i - 1] : null, leg) + leg.passes * leg.seconds + (leg.passes - 1) * againS(leg)
    steadyS += leg.passes * leg.seconds
  })
  return { totalS, steadyS }
}
