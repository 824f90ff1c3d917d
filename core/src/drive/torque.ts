import { KELVIN_AT_0_C, R_DRY_AIR_J_KGK } from '../air/index.ts'
import { fuels } from '../injection/index.ts'
import { rootBetween, solveSpd } from '../kernel/index.ts'
import type { LogData } from '../logfile/index.ts'
import { windowSlope } from '../samples/index.ts'
import type { LoadScale } from './load.ts'
import { movedKg, roadForceN, type RoadCar, rpmAt, wheelNPerNm } from './car.ts'

/** What the torque of an engine is made of before a log has told. */
export interface EngineSheet {
  displacementCc: number
  compressionRatio: number
  barometerKpa: number
  scale: LoadScale
}
/** Torque of an engine over speed and load, and how well it is known. */
export interface TorqueMap {
  torqueNm: (rpm: number, load: number) => number
  /** load that gives a torque at a speed; null where it would take more than the engine has without boost */
  loadFor: (rpm: number, torqueNm: number) => number | null
  /** load with the throttle open */
  fullLoad: number
  /** work from the air against the textbook's, friction likewise, with how far each may be off */
  work: { scale: number; sd: number }
  friction: { scale: number; sd: number }
  /** seconds of a log that it was fitted to; 0: none */
  fittedS: number
}

const CHARGE_C = 45
/** Gamma of a burning mixture, and how much of the ideal cycle's work is left by heat, time and leaks (Heywood, sections 5.4 and 5.8). */
const GAMMA = 1.3
const OF_IDEAL = 0.75
/** How far the textbook may be off on an engine that nobody measured, as a share. */
const WORK_SD = 0.15
const FRICTION_SD = 0.25
/** Lowest pressure of a running engine, kPa. */
const LEAST_MAP_KPA = 12
/** Grade of roads that no log tells, %, and over how many seconds one grade lasts. */
const GRADE_SD_PCT = 2.5
const GRADE_LASTS_S = 20
/** A drive out and back is level on the whole; one that ends higher than it began is not, %. */
const MEAN_GRADE_SD_PCT = 1.5
/** What counts as driven in one gear with the clutch in. */
const SAME_GEAR = 0.05
const SAME_GEAR_AUTOMATIC = 0.12
const FROM_KMH = 12
const MOST_ACCELERATION = 2
const SMOOTH_S = 1

/** Torque that the burnt charge makes, and that friction and pumping take, Nm, by the textbook. */
function textbook({ displacementCc, compressionRatio, barometerKpa, scale }: EngineSheet) {
  const litres = displacementCc / 1000
  const perCycle = 4 * Math.PI
  const { heatMjKg, stoichAfr } = fuels.petrol
  const eta = OF_IDEAL * (1 - compressionRatio ** (1 - GAMMA))
  return {
    workNm: (rpm: number, load: number) => {
      const airKg = (scale.airKpa(rpm, load) * litres) / (R_DRY_AIR_J_KGK * (CHARGE_C + KELVIN_AT_0_C))
      return (airKg * heatMjKg * 1e6 * eta) / stoichAfr / perCycle
    },
    // Heywood, section 13.3: friction of spark-ignition engines, 0.97 + 0.15 n + 0.05 n2 bar with n in 1000 rpm; pumping from the pressures
    lossNm: (rpm: number, load: number) => {
      const n = rpm / 1000
      return ((97 + 15 * n + 5 * n * n + barometerKpa - scale.mapKpa(rpm, load)) * litres) / perCycle
    },
  }
}

/** How far a tyre may roll otherwise than its size says, and a speedometer show otherwise than it rolls, as a share. */
const ROLLS_FROM = 0.86
const ROLLS_TO = 1.14
const ROLLS_STEP = 0.005
const ROLLS_WITHIN = 0.015
/** Seconds in the gears told that settle it, and their share of all that was driven. */
const LEAST_ROLLED = 60
const LEAST_ROLLED_SHARE = 0.6

/**
 * The car with the circumference that a log shows: the one at which most rows of engine and road speed fall into a gear. Road speeds of a plan are then
 * those that this car's own speedometer or logger shows.
 */
export function asRolled(car: RoadCar, log?: Pick<LogData, 'timeS' | 'channels'>): RoadCar {
  const { rpm, speedKmh } = log?.channels ?? {}
  if (!log || !rpm || !speedKmh || car.automatic) return car
  const ratios: number[] = []
  for (let i = 0, next = -Infinity; i < log.timeS.length; i++) {
    if (log.timeS[i] < next || !(speedKmh[i] >= FROM_KMH) || !(rpm[i] > 0)) continue
    next = log.timeS[i] + SMOOTH_S
    ratios.push(rpm[i] / speedKmh[i])
  }
  const told = car.gears.map((_, g) => rpmAt(car, 1, g + 1))
  let best = { rolls: 1, rows: 0 }
  for (let rolls = ROLLS_FROM; rolls <= ROLLS_TO + 1e-9; rolls += ROLLS_STEP) {
    const rows = ratios.filter((ratio) => told.some((t) => Math.abs((ratio * rolls) / t - 1) < ROLLS_WITHIN)).length
    // of equals the one nearest to what was told
    if (rows > best.rows || (rows === best.rows && Math.abs(rolls - 1) < Math.abs(best.rolls - 1))) best = { rolls, rows }
  }
  return best.rows < Math.max(LEAST_ROLLED, LEAST_ROLLED_SHARE * ratios.length)
    ? car
    : { ...car, circumferenceM: car.circumferenceM * best.rolls }
}

interface Seen {
  work: number
  loss: number
  torque: number
  /** what one per cent of slope asks of the engine, Nm */
  gradeNm: number
}
/** Where a log tells road speed, what torque the wheels asked of the engine; the road's slope is not known and counts as noise. */
function seenIn(
  log: Pick<LogData, 'timeS' | 'channels'>,
  car: RoadCar,
  by: LoadScale['by'],
  { workNm, lossNm }: ReturnType<typeof textbook>,
): Seen[] {
  const { timeS, channels } = log
  const { rpm, speedKmh } = channels
  const load = by === 'throttle' ? channels.throttlePct : channels.mapKpa
  if (!rpm || !load || !speedKmh) return []
  const acceleration = windowSlope(timeS, speedKmh, SMOOTH_S)
  const revving = windowSlope(timeS, rpm, SMOOTH_S)
  const seen: Seen[] = []
  const tolerance = car.automatic ? SAME_GEAR_AUTOMATIC : SAME_GEAR
  for (let i = 0, next = -Infinity; i < timeS.length; i++) {
    if (timeS[i] < next || !(speedKmh[i] >= FROM_KMH)) continue
    const off = (g: number) => rpm[i] / rpmAt(car, speedKmh[i], g) - 1
    const gear = 1 + car.gears.findIndex((_, k) => Math.abs(off(k + 1)) < tolerance)
    const a = acceleration[i] / 3.6
    // while a clutch slips or a gear is changed, speed and engine do not move alike
    const alike = Math.abs(revving[i] - rpmAt(car, acceleration[i], Math.max(1, gear))) < 0.05 * rpm[i]
    if (gear === 0 || !alike || !(Math.abs(a) < MOST_ACCELERATION)) continue
    next = timeS[i] + SMOOTH_S
    const perNm = wheelNPerNm(car, gear)
    const torque = (roadForceN(car, speedKmh[i], 0) + movedKg(car, gear) * a) / perNm
    // a braking car tells nothing of its engine
    if (torque < -1.5 * lossNm(rpm[i], load[i])) continue
    seen.push({
      work: workNm(rpm[i], load[i]),
      loss: lossNm(rpm[i], load[i]),
      torque,
      gradeNm: (roadForceN(car, 0, 1) - roadForceN(car, 0, 0)) / perNm,
    })
  }
  return seen
}

/**
 * Torque of the engine: work of the charge less friction and pumping by the textbook, each scaled by what a log with road speed shows.
 * Two scales are fitted by least squares, with the textbook as prior; the road's mean slope is fitted beside them, the rest of it is noise that lasts.
 */
export function torqueMap(sheet: EngineSheet, car: RoadCar | null, log?: Pick<LogData, 'timeS' | 'channels'>): TorqueMap {
  const book = textbook(sheet)
  const seen = log && car ? seenIn(log, car, sheet.scale.by, book) : []
  // unknown: scale of the work, scale of the losses, mean slope of the roads in per cent
  const normal = new Float64Array(9)
  const right = new Float64Array(3)
  const prior = [WORK_SD, FRICTION_SD, MEAN_GRADE_SD_PCT]
  prior.forEach((sd, k) => (normal[4 * k] = 1 / sd ** 2))
  right[0] = 1 / WORK_SD ** 2
  right[1] = 1 / FRICTION_SD ** 2
  for (const { work, loss, torque, gradeNm } of seen) {
    const w = SMOOTH_S / (GRADE_LASTS_S * (GRADE_SD_PCT * gradeNm) ** 2)
    const row = [work, -loss, -gradeNm]
    for (let i = 0; i < 3; i++) {
      right[i] += w * row[i] * torque
      for (let j = 0; j < 3; j++) normal[3 * i + j] += w * row[i] * row[j]
    }
  }
  const { x, inverseDiagonal } = solveSpd(normal, right, true)
  const work = { scale: x[0], sd: Math.sqrt(inverseDiagonal[0]) }
  const friction = { scale: x[1], sd: Math.sqrt(inverseDiagonal[1]) }
  const torqueNm = (rpm: number, load: number) => work.scale * book.workNm(rpm, load) - friction.scale * book.lossNm(rpm, load)
  const { by, axis } = sheet.scale
  const [leastLoad, fullLoad] = by === 'throttle' ? [axis[0], axis.at(-1)!] : [LEAST_MAP_KPA, sheet.barometerKpa]
  return {
    torqueNm,
    loadFor: (rpm, wanted) =>
      torqueNm(rpm, fullLoad) < wanted ? null : rootBetween((load) => torqueNm(rpm, load) - wanted, leastLoad, fullLoad),
    fullLoad,
    work,
    friction,
    fittedS: seen.length * SMOOTH_S,
  }
}
