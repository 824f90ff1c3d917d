import { z } from 'zod'
import type { LearnResult } from '../learn/index.ts'
import type { LogData } from '../logfile/index.ts'
import { type Told } from '../kernel/index.ts'
import { idleTargetRpm, resolveFacts } from '../survey/index.ts'
import { bilinear, computeBaseTune, type TuneDocument } from '../tune/index.ts'
import { type PlanInput, roadCar } from './car.ts'
import { cover } from './cover.ts'
import { DynoDay, dynoDay } from './dyno-day.ts'
import { againS, approachS, isRun, type Leg, piecesOf, possibleLegs, ROAD_LOAD_SHARE } from './legs.ts'
import { needSeconds } from './need.ts'
import { torqueMap } from './torque.ts'
import { expectedUse } from './use.ts'

/** One leg of the plan, in the order it is driven. */
export const PlannedLeg = z.strictObject({
  kind: z.enum(['idle', 'hold', 'run-up', 'run-down']),
  gear: z.int().min(0).max(8).describe('1 is first; 0: out of gear'),
  fromKmh: z.number().min(0).max(300),
  toKmh: z.number().min(0).max(300),
  gradePct: z.number().min(-15).max(15),
  mapKpa: z.number().min(5).max(120).describe('pressure to be expected at a hold, or to be kept on a run'),
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
  rpm: z.array(z.number()),
  mapKpa: z.array(z.number()),
  cells: z.array(PlannedCell),
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
  const { axes } = table
  const { topKmh, steepestPct = 0 } = choices.learn ?? {}
  const limits = { topKmh: topKmh ?? USUAL_TOP_KMH, steepestPct }
  const idle = { rpm: idleTargetRpm(r), mapKpa: r.idleMapKpa }
  const road = roadCar(told)
  const n = axes.rpm.length * axes.mapKpa.length
  const standing: DrivePlan = {
    missing: 'missing' in road ? road.missing : [],
    ...limits,
    topAssumed: topKmh === undefined,
    rpm: axes.rpm,
    mapKpa: axes.mapKpa,
    cells: Array.from({ length: n }, () => ({ usePct: 0, needS: 0, getsS: 0, where: 'seldom' as const })),
    legs: [],
    totalS: 0,
    steadyS: 0,
    provenUsePct: 0,
    afterUsePct: 0,
    dyno: { holds: [], pulls: 0, fromRpm: 0, toRpm: 0, minutes: 0 },
    inputs: [],
    torque: { fittedS: 0, workScale: 1, frictionScale: 1 },
  }
  if ('missing' in road) return standing
  const { car } = road
  const torque = torqueMap(
    {
      displacementCc: r.displacementCc ?? 0,
      compressionRatio: r.compressionRatio,
      barometerKpa: r.barometerKpa,
      vePct: (rpm, mapKpa) => bilinear(axes, table.tables.ve, rpm, mapKpa),
    },
    car,
    log,
  )
  const fits = result !== null && result.cells.length === n
  const use = expectedUse({
    car,
    torque,
    axes,
    barometerKpa: r.barometerKpa,
    redlineRpm: r.redlineRpm,
    idle,
    topKmh: limits.topKmh,
    ...(fits ? { drivenS: result.cells.map((c) => c.seconds) } : {}),
  })
  const legs = possibleLegs({ car, torque, axes, barometerKpa: r.barometerKpa, redlineRpm: r.redlineRpm, idle, ...limits })
  const reach = new Map<number, number>()
  for (const leg of legs) for (const [cell, s] of leg.gives) reach.set(cell, Math.max(reach.get(cell) ?? 0, s * leg.mostPortions))
  const worth = worthDriving(use)
  const cells = use.map((share, c): PlannedCell => {
    const seen = fits ? result.cells[c] : null
    const needS = Math.max(0, needSeconds(seen) - (gotS?.[c] ?? 0))
    const high = axes.mapKpa[Math.floor(c / axes.rpm.length)] > ROAD_LOAD_SHARE * r.barometerKpa
    const where =
      seen?.state === 'proven'
        ? 'proven'
        : seen?.state === 'needs-correction' || seen?.state === 'unsafe'
          ? 'correct-first'
          : !worth[c]
            ? 'seldom'
            : needS < HARDLY_S
              ? 'driven'
              : !high && (reach.get(c) ?? 0) >= needS
                ? 'road'
                : 'dyno'
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
  const planned = steps.map(({ piece, portions }) => plannedLeg(legs[useful[piece]], portions))
  for (const leg of planned) for (const [cell, s] of leg.gives) cells[cell].getsS += s * leg.passes
  const share = (which: readonly PlannedCell['where'][]) => cells.reduce((sum, c) => sum + (which.includes(c.where) ? c.usePct : 0), 0)
  return {
    ...standing,
    cells,
    legs: planned,
    ...secondsOf(planned),
    provenUsePct: share(['proven']),
    afterUsePct: share(['proven', 'driven', 'road']),
    dyno: dynoDay(axes, cells, { barometerKpa: r.barometerKpa, redlineRpm: r.redlineRpm, idleRpm: idle.rpm, result: fits ? result : null }),
    inputs: road.inputs satisfies PlanInput[],
    torque: { fittedS: torque.fittedS, workScale: torque.work.scale, frictionScale: torque.friction.scale },
  }
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

function plannedLeg({ portionS, mostPortions: _, gives, ...leg }: Leg, portions: number): PlannedLeg {
  const [seconds, passes] = isRun(leg) ? [portionS, portions] : [portions * portionS, 1]
  return { ...leg, seconds, passes, gives: gives.map(([cell, s]) => [cell, isRun(leg) ? s : s * portions]) }
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
