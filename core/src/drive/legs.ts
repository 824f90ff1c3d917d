import { lowerIndex } from '../tune/index.ts'
import { defaultLimits } from '../samples/index.ts'
import type { CoverPiece, Travel } from './cover.ts'
import { movedKg, roadForceN, type RoadCar, rpmAt, speedKmhAt, wheelNPerNm } from './car.ts'
import type { LoadScale } from './load.ts'
import type { TorqueMap } from './torque.ts'
import { shareOut } from './use.ts'

/** One thing to do on the road: stand and idle, hold a speed, or let the car run up or down with a steady foot. */
export interface Leg {
  kind: 'idle' | 'hold' | 'run-up' | 'run-down'
  /** 1 is first; 0: out of gear */
  gear: number
  fromKmh: number
  toKmh: number
  gradePct: number
  /** on the scale of the map: kPa, or % of throttle */
  load: number
  fromRpm: number
  toRpm: number
  /** of one portion: a second of a hold, the whole of a run */
  portionS: number
  mostPortions: number
  /** used seconds that a portion gives to cells, by index on the map */
  gives: [cell: number, seconds: number][]
}

/** No leg is driven at more than this share of the barometer on a road: fuller load belongs on a dynamometer. */
export const ROAD_LOAD_SHARE = 0.85
/** Lowest and highest engine speed of a leg, over the idle and under the redline. */
const OVER_IDLE = 1.35
const UNDER_REDLINE = 0.85
/** Until a state counts as steady: the whole last second, the smoothing, and the way of the gas to the sensor. */
const SETTLE_S = defaultLimits.steadyS + defaultLimits.smoothS + 0.5
/** A run stays so far inside the limits of a steady state, and so short. */
const OF_STEADY = 0.6
const LONGEST_RUN_S = 30
const SHORTEST_RUN_S = 5
const STEP_S = 0.25
/** A hold lasts so long at most: nobody holds a speed for longer on a road. */
const LONGEST_HOLD_S = 45
const LONGEST_IDLE_S = 30
/** Share of the seconds on the road that are steady enough to be used. */
const USED_SHARE = 0.85
/** A car running down is held back by no more than this share of what it is with the throttle shut, or the unit would cut the fuel. */
const LEAST_PUSH = 0.35
/** A still foot at less pressure than this is hardly on the pedal, kPa. */
const LOWEST_RUN_KPA = 22
const SHUT_MAP_KPA = 18
/** Legs that give less than this to any cell are none. */
const LEAST_GIFT_S = 0.05
const RUNS_MOST = 4

/** Where the engine is for a while. */
interface Point {
  rpm: number
  load: number
  seconds: number
}
export interface LegsOf {
  car: RoadCar
  torque: TorqueMap
  scale: LoadScale
  barometerKpa: number
  redlineRpm: number
  idle: { rpm: number; load: number }
  topKmh: number
  steepestPct: number
}

/** The breakpoints inside two bounds, and the points half-way between them. */
const inside = (axis: readonly number[], low: number, high: number): number[] => axis.filter((v) => v >= low && v <= high)
const andBetween = (axis: readonly number[]): number[] => axis.flatMap((v, i) => (i + 1 < axis.length ? [v, (v + axis[i + 1]) / 2] : [v]))

/** Climbs that a person may find where the steepest is known: none, half of it, all of it; and as gentle a way down. */
function gradesOf(steepestPct: number): number[] {
  if (steepestPct <= 0) return [0]
  const half = Math.round(steepestPct / 2)
  return [...new Set([0, ...(half >= 1 ? [half, -half] : []), steepestPct])]
}

/** Every leg that this car can be driven on within the limits, with what each gives to the cells. */
export function possibleLegs(of: LegsOf): Leg[] {
  const { car, torque, scale, barometerKpa, redlineRpm, idle, topKmh, steepestPct } = of
  const lowRpm = OVER_IDLE * idle.rpm
  const highRpm = UNDER_REDLINE * redlineRpm
  const highMapKpa = ROAD_LOAD_SHARE * barometerKpa
  const legs: Leg[] = []
  const gifts = (points: readonly Point[]) => {
    const sums = new Map<number, number>()
    for (const { rpm, load, seconds } of points)
      shareOut(scale, rpm, load, USED_SHARE * seconds, (cell, s) => sums.set(cell, (sums.get(cell) ?? 0) + s))
    return [...sums].filter(([, s]) => s >= LEAST_GIFT_S)
  }
  legs.push({
    kind: 'idle',
    gear: 0,
    fromKmh: 0,
    toKmh: 0,
    gradePct: 0,
    load: idle.load,
    fromRpm: idle.rpm,
    toRpm: idle.rpm,
    portionS: 1,
    mostPortions: LONGEST_IDLE_S,
    gives: gifts([{ ...idle, seconds: 1 }]),
  })
  for (let gear = 1; gear <= car.gears.length; gear++) {
    const topRpm = Math.min(highRpm, rpmAt(car, topKmh, gear))
    const held = inside(andBetween(scale.rpm), lowRpm, topRpm)
    for (const gradePct of gradesOf(steepestPct)) {
      for (const rpm of held) {
        const kmh = speedKmhAt(car, rpm, gear)
        const wanted = roadForceN(car, kmh, gradePct) / wheelNPerNm(car, gear)
        // held back by the brakes is no steady state of the engine
        if (wanted <= 0) continue
        const load = torque.loadFor(rpm, wanted)
        if (load === null || scale.mapKpa(rpm, load) > highMapKpa) continue
        legs.push({
          kind: 'hold',
          gear,
          fromKmh: kmh,
          toKmh: kmh,
          gradePct,
          load,
          fromRpm: rpm,
          toRpm: rpm,
          portionS: 1,
          mostPortions: LONGEST_HOLD_S,
          gives: gifts([{ rpm, load, seconds: 1 }]),
        })
      }
      if (gradePct >= 0) for (const load of scale.axis) legs.push(...runs(of, gear, gradePct, load, topRpm, lowRpm, gifts))
    }
  }
  return legs
}

/** The way up or down with a steady foot, cut at the breakpoints of speed: each stretch that is steady enough to be used. */
function runs(
  { car, torque, scale, barometerKpa }: LegsOf,
  gear: number,
  gradePct: number,
  load: number,
  topRpm: number,
  lowRpm: number,
  gifts: (points: readonly Point[]) => [number, number][],
): Leg[] {
  const rpmPerKmh = rpmAt(car, 1, gear)
  const perNm = wheelNPerNm(car, gear)
  const kg = movedKg(car, gear)
  const kmhPerS = (rpm: number) => (3.6 * (torque.torqueNm(rpm, load) * perNm - roadForceN(car, rpm / rpmPerKmh, gradePct))) / kg
  const shut = scale.by === 'throttle' ? scale.axis[0] : SHUT_MAP_KPA
  const shutNm = (rpm: number) => torque.torqueNm(rpm, shut)
  const mostPerS = OF_STEADY * defaultLimits.rpmSlopePerS
  const cuts = inside(scale.rpm, lowRpm, topRpm)
  const found: Leg[] = []
  for (const up of [true, false]) {
    const starts = up ? cuts : cuts.toReversed()
    for (const start of starts) {
      const points: Point[] = []
      let rpm = start
      for (let s = 0; s < LONGEST_RUN_S; s += STEP_S) {
        const slope = kmhPerS(rpm) * rpmPerKmh
        if (up ? slope <= 0 : slope >= 0) break
        if (Math.abs(slope) > mostPerS) break
        const mapKpa = scale.mapKpa(rpm, load)
        if (mapKpa < LOWEST_RUN_KPA || mapKpa > ROAD_LOAD_SHARE * barometerKpa) break
        if (torque.torqueNm(rpm, load) < LEAST_PUSH * shutNm(rpm)) break
        // until it has settled it counts for nothing
        points.push({ rpm, load, seconds: s < SETTLE_S ? 0 : STEP_S })
        const next = rpm + slope * STEP_S
        const passed = lowerIndex(cuts, next) !== lowerIndex(cuts, rpm)
        rpm = next
        if (rpm > topRpm || rpm < lowRpm) break
        if (passed && points.length * STEP_S >= SHORTEST_RUN_S) push()
      }
      push()
      function push() {
        const seconds = points.length * STEP_S
        const to = points.at(-1)
        if (seconds < SHORTEST_RUN_S || !to) return
        const same = found.at(-1)
        if (same?.fromRpm === start && same.toRpm === to.rpm) return
        found.push({
          kind: up ? 'run-up' : 'run-down',
          gear,
          fromKmh: start / rpmPerKmh,
          toKmh: to.rpm / rpmPerKmh,
          gradePct,
          load,
          fromRpm: start,
          toRpm: to.rpm,
          portionS: seconds,
          mostPortions: RUNS_MOST,
          gives: gifts(points),
        })
      }
    }
  }
  return found
}

/** How quickly a driver gets from speed to speed, m/s2; what a change of gear takes, and finding the climb, s. */
const CHANGE_SPEED_M_S2 = 1
const CHANGE_GEAR_S = 2
const FIND_GRADE_S = 25
/** To say what comes next, and to understand it, s: few long legs are better than many short ones. */
const CALL_S = 3

export const isRun = ({ kind }: Pick<Leg, 'kind'>): boolean => kind === 'run-up' || kind === 'run-down'
const changeS = (fromKmh: number, toKmh: number): number => Math.abs(fromKmh - toKmh) / 3.6 / CHANGE_SPEED_M_S2
/** To drive a run once more: back to where it begins, s. It settles while it runs. */
export const againS = (leg: Pick<Leg, 'kind' | 'fromKmh' | 'toKmh' | 'gradePct'>): number =>
  isRun(leg) ? CALL_S + changeS(leg.toKmh, leg.fromKmh) + (leg.gradePct === 0 ? 0 : FIND_GRADE_S) : 0

/** Seconds from the end of one leg (null: standing, at the beginning) to where the next is under way and counts. */
export function approachS(
  from: Pick<Leg, 'toKmh' | 'gear' | 'gradePct'> | null,
  to: Pick<Leg, 'kind' | 'fromKmh' | 'gear' | 'gradePct'>,
): number {
  const gear = from?.gear === to.gear ? 0 : CHANGE_GEAR_S
  const slope = (from?.gradePct ?? 0) === to.gradePct ? 0 : FIND_GRADE_S
  return CALL_S + (isRun(to) ? 0 : SETTLE_S) + changeS(from?.toKmh ?? 0, to.fromKmh) + gear + slope
}

/** The legs as pieces for the cover, with the cells that matter as needs. */
export function piecesOf(legs: readonly Leg[], needOf: ReadonlyMap<number, number>): { pieces: CoverPiece[]; travel: Travel } {
  return {
    pieces: legs.map((leg) => ({
      portionS: leg.portionS,
      againS: againS(leg),
      mostPortions: leg.mostPortions,
      gives: leg.gives.flatMap(([cell, s]) => {
        const need = needOf.get(cell)
        return need === undefined ? [] : [[need, s] as const]
      }),
    })),
    travel: (from, to) => approachS(from === null ? null : legs[from], legs[to]),
  }
}
