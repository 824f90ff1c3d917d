import { type BuildData, CoreError } from '../kernel/index.ts'
import type { ChannelId } from '../logfile/index.ts'
import { type Frame, frameChannels } from '../start/index.ts'
import type { TuneDocument } from '../tune/index.ts'
import { benchCarFor } from './car.ts'
import { benchIgnition } from './ignition.ts'
import { converterNm } from './physics.ts'
import { benchRail } from './rail.ts'
import { Random, seedOf } from './random.ts'
import { Bench, STEP_S } from './rig.ts'

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
    radiusM: (g.tyreCircumferenceM ?? 1.95) / (2 * Math.PI),
    dragAreaM2: (g.frontalM2 ?? 2) * (g.dragCoefficient ?? 0.45),
    automatic: g.gearbox === 'automatic',
  }
}
/** Puts a build's ignition, fuel circuit and faults on a bench. */
export function outfitBench(bench: Bench, build: BuildData): void {
  bench.ignition = benchIgnition(build)
  bench.rail = benchRail(build)
  const { learns, learnLimitPct, learnSettleS, learnFromCoolantC, learnFromRpm, learnToMapKpa, learnedRpm, learnedMapKpa } =
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
  bench.unit.foldsIntoBase = build.choices.unit?.foldsIntoBase === true
  bench.setFaults(build.choices.bench)
}
/** Force of the road against the car, N. Source: Heywood, section 2.4 (road-load power), with a slope. */
export const roadForceN = (v: BenchVehicle, speedMS: number, slope: number): number =>
  v.massKg * G * (ROLLING * (speedMS > 0.1 ? 1 : 0) + slope) + 0.5 * AIR_KG_M3 * v.dragAreaM2 * speedMS * speedMS

/** A piece of a drive: hold this speed on this slope for so long. */
export interface DriveLeg {
  seconds: number
  kmh: number
  slope: number
}
/** Town, road, hills and short full pulls, mixed by the seed, until the minutes are full; begins and ends standing. */
export function drivePlan(minutes: number, seed: number, topKmh = 110): DriveLeg[] {
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

const FRAME_S = 0.05
const CLUTCH_NM_PER_RAD_S = 18
const CLUTCH_MAX_NM = 320
const SHIFT_S = 0.35
const DRIVELINE = 0.95
const LAUNCH_RPM = 1300

/** What a log of the stream holds of each frame, besides time. */
const streamLogChannels = ['rpm', ...frameChannels] as const satisfies (keyof Frame & ChannelId)[]

/** Frames as the columns of a log, time from the first of them; what a sensor does not tell is not a number. */
export function framesToLog(frames: readonly Frame[]): Pick<BenchDrive, 'timeS' | 'channels'> {
  // plain loops: typed arrays made from another list by a function are ten times slower, and a server waits for this
  const timeS = new Float64Array(frames.length)
  for (let i = 0; i < frames.length; i++) timeS[i] = frames[i].timeS - frames[0].timeS
  const channels: Partial<Record<ChannelId, Float32Array>> = {}
  for (const id of streamLogChannels) {
    const column = (channels[id] = new Float32Array(frames.length))
    for (let i = 0; i < frames.length; i++) column[i] = frames[i][id] ?? NaN
  }
  return { timeS, channels }
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
  legs: readonly DriveLeg[],
  options: {
    coolantC?: number
    learned?: readonly number[]
    onFrame?: (bench: Bench) => void
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
  const total = legs.reduce((sum, leg) => sum + leg.seconds, 0)

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
  for (const leg of legs) {
    const wanted = leg.kmh / 3.6
    for (let legS = 0; legS < leg.seconds; legS += FRAME_S) {
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
      const asked = standing ? 0 : Math.min(100, Math.max(0, 6 + 0.35 * wanted + 11 * error + 180 * Math.max(0, leg.slope)))
      foot += Math.min(6, Math.max(-8, asked - foot))
      const shifting = doneS - shiftedS < SHIFT_S
      const rpmAt = (g: number) => ((speed / v.radiusM) * v.ratios[g] * v.axle * 30) / Math.PI
      if (!shifting && !standing) {
        const up = foot > 70 ? 0.82 * redline : 0.5 * redline
        if (gear < v.ratios.length - 1 && rpmAt(gear) > up) [gear, shiftedS] = [gear + 1, doneS]
        else if (gear > 0 && rpmAt(gear) < (foot > 60 ? 0.35 : 0.24) * redline) [gear, shiftedS] = [gear - 1, doneS]
      }
      if (standing) gear = 0
      const launching = !v.automatic && !standing && gear === 0 && rpmAt(0) < LAUNCH_RPM
      bench.throttlePct = shifting && !v.automatic ? 0 : launching ? Math.max(10, Math.min(foot, 30)) : foot
      bench.inGear = v.automatic
      bench.heat.windMS = speed
      const brake = error < -2 || standing ? BRAKE_M_S2 : 0
      for (let k = 0; k < FRAME_S / STEP_S - 1e-9; k++) {
        if (v.automatic) {
          bench.turbineRpm = (speed / v.radiusM) * ratio() * (30 / Math.PI)
          bench.run(STEP_S)
          move(converterNm(bench.rpm, bench.turbineRpm, bench.car.displacementM3).givesNm, leg.slope, brake)
          continue
        }
        // the clutch carries what its slip asks, up to what it holds; at a launch it comes in with the engine's speed
        const slip = engineRadS() - (speed / v.radiusM) * ratio()
        const holds = standing || shifting ? 0 : launching ? Math.min(CLUTCH_MAX_NM, Math.max(0, (bench.rpm - 1000) * 0.12)) : CLUTCH_MAX_NM
        const clutchNm = Math.min(holds, Math.max(-holds, CLUTCH_NM_PER_RAD_S * slip))
        bench.loadNm = clutchNm
        bench.run(STEP_S)
        move(clutchNm, leg.slope, brake)
      }
      options.onFrame?.(bench)
      frames.push({ frame: bench.frame(), kmh: speed * 3.6, gear: standing ? 0 : gear + 1 })
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
