import { type BuildData, CoreError, Random, seedOf } from '../kernel/index.ts'
import type { ChannelId, LogData } from '../logfile/index.ts'
import { type Frame, framesToLog } from '../start/index.ts'
import { Coverage, type DrivePlan, loadScaleOf, nextLeg, planDrive, type PlannedLeg } from '../drive/index.ts'
import { type LearnResult, learnSetup } from '../learn/index.ts'
import { resolveFacts, rollingCircumferenceM } from '../survey/index.ts'
import type { TuneDocument } from '../tune/index.ts'
import { benchCarFor } from './car.ts'
import { benchIgnition } from './ignition.ts'
import { converterNm } from './physics.ts'
import { benchRail } from './rail.ts'
import { Bench, STEP_S } from './rig.ts'
import { overUsualOhm } from './wires.ts'

/** The car around the engine: mass, gears, road. Stand-ins where the survey does not say. */
export interface BenchVehicle {
  massKg: number
  ratios: number[]
  axle: number
  /** rolling radius, m */
  radiusM: number
  /** drag coefficient times frontal area, m2 */
  dragAreaM2: number
  automatic: boolean
}
const AIR_KG_M3 = 1.2
const G = 9.81
const ROLLING = 0.014
const BRAKE_M_S2 = 2.2
/** a unit that learns by itself goes so far where nobody said how far, % */
const USUAL_LEARN_LIMIT_PCT = 20

export function benchVehicle({ facts }: Pick<BuildData, 'facts'>): BenchVehicle {
  const g = facts.gearing ?? {}
  return {
    massKg: g.massKg ?? 1250,
    ratios: g.gearRatios?.length
      ? [...g.gearRatios].sort((a, b) => b - a)
      : g.gearbox === 'automatic'
        ? [2.45, 1.45, 1]
        : [3.4, 2.05, 1.36, 1],
    axle: g.axleRatio ?? 3.9,
    radiusM: (rollingCircumferenceM(g) ?? 1.95) / (2 * Math.PI),
    dragAreaM2: (g.frontalM2 ?? 2) * (g.dragCoefficient ?? 0.45),
    automatic: g.gearbox === 'automatic',
  }
}
/** Puts a build's ignition, fuel circuit and faults on a bench. */
export function outfitBench(bench: Bench, build: BuildData): void {
  bench.ignition = benchIgnition(build)
  bench.rail = benchRail(build)
  bench.wires = { feedOhm: overUsualOhm(build, 'main-feed', 'unit-feed'), groundOhm: overUsualOhm(build, 'unit-ground') }
  const { learns, learnLimitPct, learnSettleS, learnFromCoolantC, learnFromRpm, learnToMapKpa, learnedRpm, learnedMapKpa, idleLearns } =
    build.choices.unit ?? {}
  bench.unit.setLearning(
    {
      ...(learns === 'itself' ? { mostPct: learnLimitPct ?? USUAL_LEARN_LIMIT_PCT } : learns === undefined ? {} : { mostPct: 0 }),
      ...(learnSettleS === undefined ? {} : { settleS: learnSettleS }),
      ...(learnFromCoolantC === undefined ? {} : { fromCoolantC: learnFromCoolantC }),
      ...(learnFromRpm === undefined ? {} : { fromRpm: learnFromRpm }),
      ...(learnToMapKpa === undefined ? {} : { toMapKpa: learnToMapKpa }),
    },
    { rpm: learnedRpm, mapKpa: learnedMapKpa },
  )
  bench.unit.adaptsIdle = idleLearns === 'valve' || idleLearns === 'air'
  bench.unit.foldsIntoBase = build.choices.unit?.foldsIntoBase === true
  bench.setFaults(build.choices.bench)
}
/** Force of the road against the car, N. Source: Heywood, section 2.4 (road-load power), with a slope. */
export const roadForceN = (v: BenchVehicle, speedMS: number, slope: number): number =>
  v.massKg * G * (ROLLING * (speedMS > 0.1 ? 1 : 0) + slope) + 0.5 * AIR_KG_M3 * v.dragAreaM2 * speedMS * speedMS

/** A piece of a drive: hold this speed on this slope for so long. */
export interface DriveLeg {
  /** how long, or how long at most where it ends by itself */
  seconds: number
  kmh: number
  slope: number
  /** 1 is first; left out: as the driver likes */
  gear?: number
  /** the foot keeps this pressure on the gauge until the speed is reached */
  mapKpa?: number
  /** the foot stands still at this throttle, %, until the speed is reached */
  throttlePct?: number
  /** the foot opens by so much from where it is, %, and stands still there until the speed is reached */
  opensPct?: number
  /** it ends once the speed is reached in the gear, or the engine is warm */
  until?: 'there' | 'warm'
}
/** Near enough to the speed that was called, m/s; the engine is warm from here on. */
const THERE_M_S = 0.5
const WARM_C = 78
/** How the foot follows the gauge: % of throttle for each kPa in each look. */
const FOOT_PER_KPA = 0.03
/** How much more the foot presses for each metre a second that is missing, % in a second. */
const PRESSES = 4
/** Legs on which the foot, and not the speed, is kept. */
const onFoot = ({ mapKpa, throttlePct }: DriveLeg): boolean => mapKpa !== undefined || throttlePct !== undefined
/** A called gear is taken while the engine turns between these shares of its redline in it. */
const TAKES_GEAR = { from: 0.17, to: 0.92 }

/** What one leg of a plan asks of the driver: to get to where it begins, and to drive it; passes are asked for one by one. */
function calledLeg({ kind, gear, fromKmh, toKmh, gradePct, load, by, seconds }: PlannedLeg): DriveLeg[] {
  const slope = gradePct / 100
  if (kind === 'idle')
    return [
      { seconds: 30, kmh: 0, slope: 0, until: 'there' },
      { seconds: seconds + CALLED_S, kmh: 0, slope: 0 },
    ]
  return [
    { seconds: 60, kmh: fromKmh, slope, gear, until: 'there' },
    kind === 'hold'
      ? { seconds: seconds + CALLED_S, kmh: fromKmh, slope, gear }
      : { seconds: 2 * seconds + CALLED_S, kmh: toKmh, slope, gear, ...(by === 'pressure' ? { mapKpa: load } : { throttlePct: load }) },
  ]
}
/** So much of a drive tells how torque goes with load, s. */
const TELLS_S = 180
/** Warming up takes about so long, s. */
const WARMING_S = 90
/** Times that a plan is made anew of what is still missing, until it is not worth driving on, s. */
const ANEW = 3
const NOT_WORTH_S = 25

/**
 * A drive by a plan, followed as a passenger would: warm up, then leg by leg what still gives something missing; what is missing at the end
 * is planned anew from where the engine really was. Ends standing.
 * @param plan the plan of what is still missing, for the seconds that each cell has got
 */
export function* followedDrive(coverage: Coverage, plan: (gotS: readonly number[]) => DrivePlan): Generator<DriveLeg> {
  yield { seconds: 900, kmh: 50, slope: 0, until: 'warm' }
  for (let round = 0; round < ANEW; round++) {
    const before = [...coverage.seconds]
    const { legs, cells, totalS } = plan(before)
    if (totalS < NOT_WORTH_S) break
    const got = () => coverage.seconds.map((s, c) => s - before[c])
    for (let at = nextLeg({ legs, cells }, got(), 0); at !== null; at = nextLeg({ legs, cells }, got(), at + 1))
      for (let pass = 0; pass < legs[at].passes && (pass === 0 || nextLeg({ legs, cells }, got(), at) === at); pass++)
        yield* calledLeg(legs[at])
  }
  yield { seconds: 10, kmh: 0, slope: 0 }
}
/** A leg is held until it has counted for its seconds: what settling takes comes before. */
const CALLED_S = 2
/** Town, road, hills and short full pulls, mixed by the seed, until the minutes are full; begins and ends standing. */
export function everydayDrive(minutes: number, seed: number, topKmh = 110): DriveLeg[] {
  const random = new Random(seed)
  const between = (low: number, high: number) => low + (high - low) * random.next()
  const legs: DriveLeg[] = [{ seconds: 25, kmh: 0, slope: 0 }]
  let left = minutes * 60 - 50
  while (left > 0) {
    const kind = random.next()
    const leg: DriveLeg =
      kind < 0.15
        ? { seconds: between(10, 25), kmh: 0, slope: 0 }
        : kind < 0.45
          ? { seconds: between(15, 40), kmh: between(25, 55), slope: between(-0.01, 0.03) }
          : kind < 0.85
            ? { seconds: between(20, 60), kmh: between(55, 0.85 * topKmh), slope: between(-0.02, 0.06) }
            : { seconds: between(12, 25), kmh: topKmh, slope: between(0, 0.07) }
    legs.push(leg)
    left -= leg.seconds
  }
  return [...legs, { seconds: 25, kmh: 0, slope: 0 }]
}

/** Speeds that a drive of steps is held at, km/h, and what the foot opens by, %. */
const STEPPED_KMH = [50, 65]
const OPENS_PCT = [16, 28]
const STEADY_S = 9
/** the foot stands still before it opens, whatever the speed does */
const STILL_S = 1.6
const OPEN_S = 2.6
/** Openings of the throttle from a steady speed, each held and let go again, on a warm engine or on its way there: what the fuel for them is judged by. */
export function stepDrive(steps: number, { cold = false } = {}): DriveLeg[] {
  const legs: DriveLeg[] = [
    { seconds: 20, kmh: 0, slope: 0 },
    ...(cold ? [] : [{ seconds: 600, kmh: 70, slope: 0, until: 'warm' as const }]),
  ]
  for (let k = 0; k < steps; k++)
    legs.push(
      { seconds: STEADY_S, kmh: STEPPED_KMH[k % 2], slope: 0, gear: 3 },
      { seconds: STILL_S, kmh: 250, slope: 0, gear: 3, opensPct: 0 },
      { seconds: OPEN_S, kmh: 250, slope: 0, gear: 3, opensPct: OPENS_PCT[(k >> 1) % 2] },
    )
  return [...legs, { seconds: STEADY_S, kmh: 0, slope: 0 }]
}

/** Speeds and slopes of a quiet road, each held for so long, s: again and again while the engine warms, and as often once it is warm. */
const QUIET_LEGS = [
  { kmh: 40, slope: 0, gear: 3 },
  { kmh: 55, slope: 0.02, gear: 3 },
  { kmh: 50, slope: 0, gear: 3 },
  { kmh: 65, slope: 0.01, gear: 4 },
]
const QUIET_S = 20
/** A start from cold, a minute of idle, and the same quiet road until the engine has long been warm: what the fuel for a cold engine is judged by. */
export function warmUpDrive(minutes: number): DriveLeg[] {
  const legs: DriveLeg[] = [{ seconds: 60, kmh: 0, slope: 0 }]
  for (let k = 0; legs.length < (minutes * 60 - 70) / QUIET_S; k++) legs.push({ ...QUIET_LEGS[k % QUIET_LEGS.length], seconds: QUIET_S })
  return [...legs, { seconds: 10, kmh: 0, slope: 0 }]
}

const FRAME_S = 0.05
const CLUTCH_NM_PER_RAD_S = 18
const CLUTCH_MAX_NM = 320
const SHIFT_S = 0.35
const DRIVELINE = 0.95
const LAUNCH_RPM = 1300

const between = (low: number, value: number, high: number): number => Math.min(high, Math.max(low, value))
/** The pedal while gears are changed, while the clutch comes in at a launch, and else. */
const pedalPct = (shifting: boolean, launching: boolean, foot: number): number => (shifting ? 0 : launching ? between(10, foot, 30) : foot)
/** What the clutch may carry, Nm: nothing while it is trodden, at a launch what comes with the engine's speed. */
const clutchHoldsNm = (trodden: boolean, launching: boolean, rpm: number): number =>
  trodden ? 0 : launching ? between(0, (rpm - 1000) * 0.12, CLUTCH_MAX_NM) : CLUTCH_MAX_NM
/** Where the foot is next, %: still at a throttle, after the gauge once the gear is in, or towards what the speed asks. */
function nextFoot({ throttlePct, mapKpa }: DriveLeg, foot: number, asked: number, gauge: number | null): number {
  if (throttlePct !== undefined) return foot + between(-3, throttlePct - foot, 3)
  if (mapKpa !== undefined && gauge) return between(1.8, foot + between(-1.5, FOOT_PER_KPA * (mapKpa - gauge), 1.5), 100)
  return foot + between(-8, asked - foot, 6)
}
/** The gear that was called, from 0, where the engine can take it; null: none was, or it cannot. */
function takesGear({ gear }: DriveLeg, rpmIn: (gear: number) => number, redline: number): number | null {
  if (gear === undefined) return null
  const rpm = rpmIn(gear - 1)
  return rpm > TAKES_GEAR.from * redline && rpm < TAKES_GEAR.to * redline ? gear - 1 : null
}
/** Gear that a driver takes by engine speed, from 0. */
function gearByEar(gear: number, top: number, foot: number, rpmIn: (gear: number) => number, redline: number): number {
  const up = foot > 70 ? 0.82 * redline : 0.5 * redline
  if (gear < top && rpmIn(gear) > up) return gear + 1
  return gear > 0 && rpmIn(gear) < (foot > 60 ? 0.35 : 0.24) * redline ? gear - 1 : gear
}

export interface BenchDrive {
  timeS: Float64Array
  channels: Partial<Record<ChannelId, Float32Array>>
  distanceKm: number
  stalls: number
  /** what the unit holds at the end, with the axes it holds it on */
  learned: { rpm: readonly number[]; mapKpa: readonly number[]; pct: readonly number[] }
}

function standingBench(
  build: BuildData,
  tune: TuneDocument,
  { coolantC = 60, learned }: { coolantC?: number; learned?: readonly number[] },
): Bench {
  const bench = new Bench(benchCarFor(build.facts, build.choices, seedOf(build.id)), tune, { coolantC })
  outfitBench(bench, build)
  if (learned) bench.unit.recallLearned(learned)
  return bench
}

/**
 * Drives the bench car over a plan as fast as the machine allows and keeps the log a logger would: frames twenty times a second with road speed
 * and gear. The driver holds the speed with a slow foot, shifts by engine speed, lets the clutch in at a launch and starts a stalled engine again.
 * @param onFrame looks at the bench itself at each frame: for scores, never for judgement
 * @param learned what the unit had learned before, on its own cells, %
 * @param onProgress share done, 0 to 1; returning false cancels
 * @throws CoreError NOT_ALLOWED when the engine does not start on this tune, or when it was cancelled
 */
export function benchDrive(
  build: BuildData,
  tune: TuneDocument,
  legs: Iterable<DriveLeg>,
  options: {
    coolantC?: number
    learned?: readonly number[]
    onFrame?: (bench: Bench) => void
    /** what a logger hears, frame by frame */
    hear?: (frame: Frame, kmh: number) => void
    /** how long it will take, s, where the legs are not known beforehand */
    expectedS?: number
    onProgress?: (share: number) => boolean | void
  } = {},
): BenchDrive {
  const bench = standingBench(build, tune, options)
  const v = benchVehicle(build)
  const redline = bench.car.redlineRpm
  const frames: { frame: Frame; kmh: number; gear: number }[] = []
  let speed = 0
  let gear = 0
  let shiftedS = -1
  let foot = 0
  let stalls = 0
  let metres = 0
  let gauge: number | null = null
  const total = options.expectedS ?? [...legs].reduce((sum, leg) => sum + leg.seconds, 0)

  const crank = () => {
    bench.loadNm = 0
    bench.inGear = false
    bench.throttlePct = 0
    bench.starter = true
    for (let t = 0; t < 10 && bench.rpm < 450; t += FRAME_S) bench.run(FRAME_S)
    bench.starter = false
    return bench.rpm >= 450
  }
  bench.keyOn = true
  bench.run(2.5)
  if (!crank()) throw new CoreError('NOT_ALLOWED', 'bench drive', 'the engine does not start; find out why at First start')

  const ratio = () => v.ratios[Math.max(0, gear)] * v.axle
  const engineRadS = () => (bench.rpm * Math.PI) / 30
  let doneS = 0
  const move = (shaftNm: number, slope: number, brake: number) => {
    const force = (shaftNm * ratio() * DRIVELINE) / v.radiusM - roadForceN(v, speed, slope * (speed > 0.2 ? 1 : 0)) - brake * v.massKg
    speed = Math.max(0, speed + (force / v.massKg) * STEP_S)
    metres += speed * STEP_S
  }
  /** as the passenger sees it: the speed is there, the pressure was kept up to it, or the needle of the coolant stands */
  const ended = (leg: DriveLeg, rising: boolean) =>
    leg.until === 'warm'
      ? bench.heat.coolantC >= WARM_C
      : onFoot(leg)
        ? rising === speed >= leg.kmh / 3.6
        : leg.until === 'there' && Math.abs(speed - leg.kmh / 3.6) < THERE_M_S && (leg.gear === undefined || gear === leg.gear - 1)
  for (const called of legs) {
    const leg = called.opensPct === undefined ? called : { ...called, throttlePct: Math.min(100, foot + called.opensPct) }
    const wanted = leg.kmh / 3.6
    const rising = wanted >= speed
    // who is called a speed looks at the needle and presses until it is there
    let pressed = 0
    for (let legS = 0; legS < leg.seconds && !ended(leg, rising); legS += FRAME_S) {
      doneS += FRAME_S
      if (bench.rpm < 100) {
        stalls++
        if (!crank())
          throw new CoreError(
            'NOT_ALLOWED',
            'bench drive',
            `the engine stalled after ${(doneS / 60).toFixed(1)} min and does not start again`,
          )
      }
      const error = wanted - speed
      const standing = wanted < 0.5 && speed < 2.5
      // a slow foot: it moves towards what the error asks, harder on a pull
      if (leg.gear !== undefined && Math.abs(error) < 2) pressed += PRESSES * error * FRAME_S
      const asked = standing ? 0 : between(0, 6 + 0.35 * wanted + 11 * error + 180 * Math.max(0, leg.slope) + pressed, 100)
      foot = nextFoot(leg, foot, asked, doneS - shiftedS > SHIFT_S + 0.5 ? gauge : null)
      const shifting = doneS - shiftedS < SHIFT_S
      const rpmAt = (g: number) => ((speed / v.radiusM) * v.ratios[g] * v.axle * 30) / Math.PI
      if (!shifting && !standing) {
        const next = takesGear(leg, rpmAt, redline) ?? gearByEar(gear, v.ratios.length - 1, foot, rpmAt, redline)
        if (next !== gear) [gear, shiftedS] = [next, doneS]
      }
      if (standing) gear = 0
      const launching = !v.automatic && !standing && gear === 0 && rpmAt(0) < LAUNCH_RPM
      bench.throttlePct = pedalPct(shifting && !v.automatic, launching, foot)
      bench.inGear = v.automatic
      bench.heat.windMS = speed
      const brake = (!onFoot(leg) && error < -2) || standing ? BRAKE_M_S2 : 0
      for (let k = 0; k < FRAME_S / STEP_S - 1e-9; k++) {
        if (v.automatic) {
          bench.turbineRpm = (speed / v.radiusM) * ratio() * (30 / Math.PI)
          bench.run(STEP_S)
          move(converterNm(bench.rpm, bench.turbineRpm, bench.car.displacementM3).givesNm, leg.slope, brake)
          continue
        }
        // the clutch carries what its slip asks, up to what it holds; at a launch it comes in with the engine's speed
        const slip = engineRadS() - (speed / v.radiusM) * ratio()
        const holds = clutchHoldsNm(standing || shifting, launching, bench.rpm)
        const clutchNm = between(-holds, CLUTCH_NM_PER_RAD_S * slip, holds)
        bench.loadNm = clutchNm
        bench.run(STEP_S)
        move(clutchNm, leg.slope, brake)
      }
      options.onFrame?.(bench)
      const frame = bench.frame()
      gauge = frame.mapKpa
      options.hear?.(frame, speed * 3.6)
      frames.push({ frame, kmh: speed * 3.6, gear: standing ? 0 : gear + 1 })
    }
    if (options.onProgress?.(Math.min(1, doneS / total)) === false) throw new CoreError('NOT_ALLOWED', 'bench drive', 'cancelled')
  }
  const log = framesToLog(frames.map((f) => f.frame))
  return {
    timeS: log.timeS,
    channels: {
      ...log.channels,
      speedKmh: Float32Array.from(frames, (f) => f.kmh),
      gear: Float32Array.from(frames, (f) => f.gear),
    },
    distanceKm: metres / 1000,
    stalls,
    learned: bench.unit.learned,
  }
}

/**
 * Drives the bench car by the plan of what is missing, made anew as it goes, with what the last log has shown; where it asks for ordinary driving, so.
 * @param seed of ordinary driving
 */
export function driveByPlan(
  build: BuildData,
  tune: TuneDocument,
  { result, log }: { result: LearnResult | null; log?: Pick<LogData, 'timeS' | 'channels'> },
  learned?: readonly number[],
  seed = 0,
): BenchDrive {
  const { ordinaryMin, totalS } = planDrive(build, tune, result, { log })
  if (ordinaryMin !== null) return benchDrive(build, tune, everydayDrive(ordinaryMin, seed), { learned })
  const coverage = new Coverage(loadScaleOf(tune, resolveFacts(build).barometerKpa), learnSetup(build, tune))
  const frames: Frame[] = []
  const speeds: number[] = []
  /** this drive, once there is enough of it to tell of the engine; before, the one before */
  const driven = () => {
    if (frames.length < TELLS_S / FRAME_S) return log
    const { timeS, channels } = framesToLog(frames)
    return { timeS, channels: { ...channels, speedKmh: Float32Array.from(speeds) } }
  }
  const planned = (gotS?: readonly number[]) => planDrive(build, tune, result, { log: driven(), gotS })
  return benchDrive(build, tune, followedDrive(coverage, planned), {
    learned,
    hear: (frame, kmh) => {
      coverage.add(frame)
      frames.push(frame)
      speeds.push(kmh)
    },
    expectedS: WARMING_S + totalS,
  })
}
