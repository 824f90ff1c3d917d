import { z } from 'zod'
import { type BuildData, CoreError, Random, seedOf } from '../kernel/index.ts'
import type { ChannelId } from '../logfile/index.ts'
import { framesToLog } from '../start/index.ts'
import type { TuneDocument } from '../tune/index.ts'
import { benchCarFor } from './car.ts'
import { outfitBench } from './drive.ts'
import { Bench, type BenchFrame } from './rig.ts'

const LEAST_RPM = 600
const speed = z.number().min(LEAST_RPM).max(15000)
const throttlePct = z.number().min(5).max(100).describe('held throughout, % of the pedal')
/** What the engine dynamometer is asked to do with the throttle at one place. */
export const DynoPlan = z.discriminatedUnion('mode', [
  z.strictObject({
    mode: z.literal('steady'),
    throttlePct,
    rpm: z.array(speed).min(1).max(40),
    secondsEach: z.number().min(2).max(60),
  }),
  z.strictObject({
    mode: z.literal('sweep'),
    throttlePct,
    fromRpm: speed,
    toRpm: speed,
    rpmPerS: z.number().min(20).max(1000),
  }),
])
export type DynoPlan = z.infer<typeof DynoPlan>

/** A sweep as it is usually run: from where the engine pulls to just under its redline. */
export const usualSweep = (redlineRpm: number): Extract<DynoPlan, { mode: 'sweep' }> => ({
  mode: 'sweep',
  throttlePct: 100,
  fromRpm: 1500,
  toRpm: Math.floor((redlineRpm * 0.95) / 100) * 100,
  rpmPerS: 150,
})

/** One row of a run: means over a step of a steady run, or over 0.25 s of a sweep. */
export interface DynoRow {
  rpm: number
  /** at the flywheel: what the brake holds, and in a sweep what speeds the flywheel up */
  torqueNm: number
  powerKw: number
  mapKpa: number
  /** null while the sensor is cold */
  lambda: number | null
  advanceDegBtdc: number
  /** knocks heard in the row */
  knocks: number
}
export interface DynoRun {
  rows: DynoRow[]
  timeS: Float64Array
  channels: Partial<Record<ChannelId, Float32Array>>
}

const FRAME_S = 0.05
const CONTROL_S = 0.005
const WARM_C = 84
const COOLED_C = 92
const SWEEP_ROW_S = 0.25
/** of a steady step, the share in which speed settles and nothing is counted */
const SETTLE_SHARE = 0.5
const KP_NM_PER_RPM = 0.25
const KI_NM_PER_RPM_S = 1.2
const THROTTLE_PCT_PER_KPA_S = 0.6
const START_THROTTLE_PCT = 15

export const kwOf = (torqueNm: number, rpm: number): number => (torqueNm * rpm * Math.PI) / 30_000

/** The bench car on a brake that holds or leads its speed by a proportional-integral law and tells its torque. */
class DynoBed {
  readonly bench: Bench
  readonly frames: BenchFrame[] = []
  private brakeNm = 0
  private integral = 0

  /** @throws CoreError NOT_ALLOWED when the engine does not start on this tune */
  constructor(build: BuildData, tune: TuneDocument) {
    this.bench = new Bench(benchCarFor(build.facts, build.choices, seedOf(build.id)), tune, { coolantC: WARM_C })
    const { bench } = this
    outfitBench(bench, build)
    bench.keyOn = true
    bench.run(20)
    bench.starter = true
    for (let t = 0; t < 10 && bench.rpm < 450; t += FRAME_S) bench.run(FRAME_S)
    bench.starter = false
    if (bench.rpm < 450) throw new CoreError('NOT_ALLOWED', 'dynamometer', 'the engine does not start; find out why at First start')
    bench.run(3)
  }
  /** Up to a speed unloaded, then the brake comes in as the throttle opens. */
  open(rpm: number, throttlePct: number): void {
    const { bench } = this
    for (let t = 0; t < 8 && bench.rpm < rpm; t += FRAME_S) {
      bench.throttlePct = Math.min(throttlePct, bench.throttlePct + 1)
      bench.run(FRAME_S)
    }
    for (; bench.throttlePct < throttlePct; bench.throttlePct = Math.min(throttlePct, bench.throttlePct + 2))
      this.lead(rpm, rpm, FRAME_S, 0)
    this.lead(rpm, rpm, 3, 0)
  }
  /**
   * Leads the speed for so long.
   * @param counted share of it, at its end, that is counted
   * @param toMapKpa pressure that the throttle is moved to meanwhile; left out: it stays
   * @returns means of what was counted, torque with what speeds the flywheel up; null of nothing
   */
  lead(from: number, to: number, seconds: number, counted: number, toMapKpa?: number): DynoRow | null {
    const { bench } = this
    let sum = 0
    let n = 0
    let knocks = 0
    let rpmStart = 0
    const seen: BenchFrame[] = []
    const steps = Math.round(seconds / CONTROL_S)
    const countFrom = Math.round(steps * (1 - counted))
    for (let i = 0; i < steps; i++) {
      const target = from + ((to - from) * i) / steps
      const error = bench.rpm - target
      this.integral = Math.min(2000, Math.max(0, this.integral + error * KI_NM_PER_RPM_S * CONTROL_S))
      this.brakeNm = Math.max(0, this.integral + KP_NM_PER_RPM * error)
      bench.loadNm = this.brakeNm
      // a test bed cools by water from outside
      bench.heat.coolantC = Math.min(bench.heat.coolantC, COOLED_C)
      if (i === countFrom) {
        rpmStart = bench.rpm
        knocks = bench.heard.knock
      }
      bench.run(CONTROL_S)
      if (i >= countFrom) {
        sum += this.brakeNm
        n++
      }
      if (i % Math.round(FRAME_S / CONTROL_S) !== 0) continue
      const frame = bench.frame()
      this.frames.push(frame)
      if (i >= countFrom) seen.push(frame)
      if (toMapKpa !== undefined)
        bench.throttlePct = Math.min(100, Math.max(1, bench.throttlePct + FRAME_S * THROTTLE_PCT_PER_KPA_S * (toMapKpa - frame.mapKpa)))
    }
    if (!n || !seen.length) return null
    const mean = (of: (f: BenchFrame) => number) => seen.reduce((a, f) => a + of(f), 0) / seen.length
    const speedingNm = (bench.car.inertiaKgM2 * ((bench.rpm - rpmStart) * Math.PI)) / 30 / (n * CONTROL_S)
    const rpm = mean((f) => f.rpm)
    const torqueNm = sum / n + speedingNm
    return {
      rpm,
      torqueNm,
      powerKw: kwOf(torqueNm, rpm),
      mapKpa: mean((f) => f.mapKpa),
      lambda: seen.every((f) => f.lambda !== null) ? mean((f) => f.lambda!) : null,
      advanceDegBtdc: mean((f) => f.advanceDegBtdc),
      knocks: bench.heard.knock - knocks,
    }
  }
}

/**
 * Runs the bench car on an engine dynamometer.
 * @throws CoreError NOT_ALLOWED when the engine does not start on this tune, OUT_OF_RANGE for speeds beyond 600 rpm to the redline
 */
export function benchDyno(build: BuildData, tune: TuneDocument, plan: DynoPlan): DynoRun {
  const asked = plan.mode === 'steady' ? plan.rpm : [plan.fromRpm, plan.toRpm]
  const bed = new DynoBed(build, tune)
  checkSpeeds(bed, asked)
  if (plan.mode === 'sweep' && plan.toRpm <= plan.fromRpm)
    throw new CoreError('OUT_OF_RANGE', 'dynamometer speed', 'a sweep must end over where it begins, rpm')
  bed.open(asked[0], plan.throttlePct)
  const rows: (DynoRow | null)[] = []
  if (plan.mode === 'steady') for (const rpm of plan.rpm) rows.push(bed.lead(rpm, rpm, plan.secondsEach, 1 - SETTLE_SHARE))
  else {
    const step = plan.rpmPerS * SWEEP_ROW_S
    for (let rpm = plan.fromRpm; rpm < plan.toRpm; rpm += step) rows.push(bed.lead(rpm, rpm + step, SWEEP_ROW_S, 1))
  }
  if (bed.bench.rpm < 300) throw new CoreError('NOT_ALLOWED', 'dynamometer', 'the engine stalled under the brake')
  return { rows: rows.filter((r) => r !== null), ...framesToLog(bed.frames) }
}
function checkSpeeds({ bench }: DynoBed, asked: readonly number[]): void {
  const { redlineRpm } = bench.car
  if (!asked.length || asked.some((rpm) => !(rpm >= LEAST_RPM && rpm <= redlineRpm)))
    throw new CoreError('OUT_OF_RANGE', 'dynamometer speed', `must be ${LEAST_RPM} to ${redlineRpm} rpm`)
}

/** One hold of a spark trial as it is asked for: speed and pressure held, the spark set to one angle there. */
export const TrialHold = z.strictObject({
  rpm: speed,
  mapKpa: z.number().min(20).max(400),
  advanceDegBtdc: z.number().min(-20).max(60),
})
export type TrialHold = z.infer<typeof TrialHold>
/** The mean of a brake repeats to this from hold to hold, as a share (one standard deviation). */
const BRAKE_REPEATS = 0.003
const FIND_S = 12
const HOLD_S = 10
const OFF_MAP_KPA = 2

/**
 * Holds the bench car at a speed and a manifold pressure with the spark at one angle, and reads the brake as a person would.
 * @param holdNumber how many were made before: the brake repeats no better than it does
 * @throws CoreError NOT_ALLOWED when the engine does not start, or does not reach that pressure at that speed
 */
export function benchTrialHold(build: BuildData, tune: TuneDocument, hold: TrialHold, holdNumber: number) {
  const spark = tune.tables.spark.map(() => hold.advanceDegBtdc)
  const bed = new DynoBed(build, { ...tune, tables: { ...tune.tables, spark } })
  checkSpeeds(bed, [hold.rpm])
  bed.open(hold.rpm, START_THROTTLE_PCT)
  bed.lead(hold.rpm, hold.rpm, FIND_S, 0, hold.mapKpa)
  const row = bed.lead(hold.rpm, hold.rpm, HOLD_S, 1)
  if (!row || bed.bench.rpm < 300) throw new CoreError('NOT_ALLOWED', 'dynamometer', 'the engine stalled under the brake')
  if (Math.abs(row.mapKpa - hold.mapKpa) > OFF_MAP_KPA)
    throw new CoreError(
      'NOT_ALLOWED',
      'dynamometer',
      `at ${hold.rpm.toFixed(0)} rpm it comes to ${row.mapKpa.toFixed(0)} kPa, not ${hold.mapKpa.toFixed(0)}: a brake only holds an engine that pulls`,
    )
  const noise = new Random(seedOf(`${build.id} ${hold.rpm} ${hold.mapKpa} ${holdNumber}`)).normal()
  const { coolantC, intakeAirC } = bed.bench.frame()
  return { row, torqueNm: row.torqueNm * (1 + BRAKE_REPEATS * noise), knock: row.knocks > 0, coolantC, intakeAirC }
}

export interface DynoSummary {
  torque: DynoRow
  power: DynoRow
  /** null while the mixture sensor told nothing */
  leanest: DynoRow | null
  /** speeds between which it knocked; null when it did not */
  knockedRpm: [number, number] | null
}
/** The rows that matter of a run; null of none. */
export function dynoSummary(rows: readonly DynoRow[]): DynoSummary | null {
  if (!rows.length) return null
  const best = (list: readonly DynoRow[], of: (r: DynoRow) => number) => list.reduce((a, r) => (of(r) > of(a) ? r : a))
  const told = rows.filter((r) => r.lambda !== null)
  const knocked = rows.filter((r) => r.knocks > 0).map((r) => r.rpm)
  return {
    torque: best(rows, (r) => r.torqueNm),
    power: best(rows, (r) => r.powerKw),
    leanest: told.length ? best(told, (r) => r.lambda!) : null,
    knockedRpm: knocked.length ? [Math.min(...knocked), Math.max(...knocked)] : null,
  }
}
