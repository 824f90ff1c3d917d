import { Bench, benchCarFor, type BenchChoices, outfitBench } from '../src/bench/index.ts'
import { type IdleVerdict, judgeIdle, tuneIdleOptions } from '../src/idle/index.ts'
import type { LogData } from '../src/logfile/index.ts'
import { type Frame, framesToLog } from '../src/start/index.ts'
import { computeBaseTune, type TuneDocument, type TuneParameters } from '../src/tune/index.ts'
import { buildOf, type ScoreCar, scoreCars } from './cars.ts'

type Log = Pick<LogData, 'timeS' | 'channels'>
/** Six cars of the score, unlike each other. */
export const idleCars = [0, 1, 3, 5, 7, 12].map((k) => scoreCars[k])
const FRAME_S = 0.05
const WARM_C = 86
const SETTLE_S = 25
const LOOK_S = 60
/** a controller is made hotter until the speed swings so far, rpm rms */
const SWINGS_RPM = 32
const HOTTER = 1.3
const HOTTEST = 9

/** One thing wrong with an idle: on the car, in its tune, or by hands; and the verdicts that name it. */
export interface IdleTrial {
  name: string
  is: readonly string[]
  faults?: NonNullable<BenchChoices['faults']>
  parameters?: Partial<TuneParameters>
  /** made hotter until the speed swings */
  hotter?: (times: number) => Partial<TuneParameters>
  turns?: number
  /** times the fuel that the tune gives */
  fuelTimes?: number
  /** cars whose loop is shut at idle */
  onlyClosedLoop?: boolean
}
const FAST = ['high-valve-shut', 'off-target-high']
const SLOW = ['low-valve-wide', 'off-target-low']
export const idleTrials: readonly IdleTrial[] = [
  { name: 'screw two turns open', turns: 2, is: FAST },
  { name: 'screw one and a half turns shut', turns: -1.5, is: SLOW },
  { name: 'leak into the manifold, 60 %', faults: [{ id: 'vacuum-leak', size: 60 }], is: FAST },
  { name: 'leak into the manifold, 150 %', faults: [{ id: 'vacuum-leak', size: 150 }], is: FAST },
  { name: 'idle valve stuck', faults: [{ id: 'idle-valve-shut' }], is: SLOW },
  { name: 'a cylinder without fuel', faults: [{ id: 'lean-cylinder', size: 100 }], is: ['misfire'] },
  { name: 'valve gain too high', hotter: (k) => ({ idleGainPct: 4 * k, idleIntegralPctS: 3 * k }), is: ['hunting-valve'] },
  {
    name: 'valve integral too high',
    hotter: (k) => ({ idleGainPct: 1, idleIntegralPctS: 3 * k, idleSparkDegPer100: 0 }),
    is: ['hunting-valve'],
  },
  {
    name: 'valve slow',
    faults: [{ id: 'idle-valve-slow', size: 5 }],
    hotter: (k) => ({ idleGainPct: 1.5 * k, idleIntegralPctS: 3 * k }),
    is: ['hunting-valve'],
  },
  { name: 'correction too fast', hotter: (k) => ({ loopGainPctS: 0.9 * k }), onlyClosedLoop: true, is: ['hunting-mixture'] },
  { name: 'exhaust leak, 45 %', faults: [{ id: 'exhaust-leak', size: 45 }], onlyClosedLoop: true, is: ['loop-fooled'] },
  { name: 'fuel 15 % short', fuelTimes: 0.85, is: ['lean'] },
  { name: 'fuel 25 % too much', fuelTimes: 1.25, is: ['rich'] },
  { name: 'throttle plate sticks', faults: [{ id: 'plate-sticks', size: 4 }], is: ['throttle-sticks'] },
  { name: 'throttle zero stale', faults: [{ id: 'throttle-zero', size: 5 }], is: ['throttle-sticks'] },
  { name: 'adaptation at its limit', turns: -1.1, parameters: { idleAdaptMostPct: 10 }, is: ['adaptation-at-limit'] },
]
const closedAtIdle = (tune: TuneDocument): boolean => tune.parameters.loopFloorRpm < tune.parameters.idleTargetRpm.at(-1)![1]

export function idleBench(
  car: ScoreCar,
  seed: number,
  tune: TuneDocument,
  trial: IdleTrial | null,
  more: Partial<TuneParameters> = {},
): Bench {
  const parameters = { ...tune.parameters, ...trial?.parameters, ...more }
  if (trial?.fuelTimes) parameters.injectorCcMin /= trial.fuelTimes
  const build = buildOf({ ...car, choices: { ...car.choices, ...(trial?.faults ? { bench: { faults: trial.faults } } : {}) } }, seed)
  const bench = new Bench(benchCarFor(car.facts, car.choices, seed), { ...tune, parameters }, { coolantC: WARM_C })
  outfitBench(bench, build)
  return bench
}
/** Starts it; false: it did not. */
export function started(bench: Bench): boolean {
  bench.keyOn = true
  bench.run(3)
  bench.starter = true
  for (let s = 0; s < 8 && bench.rpm < 400; s += 0.05) bench.run(0.05)
  bench.starter = false
  bench.run(3)
  return bench.rpm > 250
}
export function record(bench: Bench, seconds: number, frames: Frame[] = []): Frame[] {
  for (let s = 0; s < seconds; s += FRAME_S) {
    bench.run(FRAME_S)
    frames.push(bench.frame())
  }
  return frames
}
const meanOf = (values: Float32Array): number => values.reduce((sum, v) => sum + v, 0) / values.length

const tunes = new Map<string, TuneDocument>()
/** The base tune once the fuel at its idle is right, as whoever looks at the mixture there makes it. */
export function idleTune(car: ScoreCar, seed: number): TuneDocument {
  const key = `${car.name} ${seed}`
  let tune = tunes.get(key) ?? computeBaseTune(car.facts, car.choices)
  for (let round = 0; round < 2 && !tunes.has(key); round++) {
    const bench = idleBench(car, seed, tune, null)
    if (!started(bench)) break
    bench.run(45)
    const { channels } = framesToLog(record(bench, 20))
    const times = (1 + meanOf(channels.correctionPct!) / 100) * (meanOf(channels.lambda!) / meanOf(channels.lambdaTarget!))
    tune = { ...tune, tables: { ...tune.tables, ve: tune.tables.ve.map((v) => v * times) } }
  }
  tunes.set(key, tune)
  return tune
}

/** Starts it, lets it warm its sensor, holds a fast idle, blips, and leaves it alone; null: it does not run. */
function idled(bench: Bench, turns = 0): Log | null {
  if (!started(bench)) return null
  bench.screwTurns = turns
  bench.run(32)
  const frames = record(bench, 5)
  bench.throttlePct = 9
  record(bench, 14, frames)
  bench.throttlePct = 20
  record(bench, 0.6, frames)
  bench.throttlePct = 0
  // the log goes on while it settles, as a log does; that is short against the look
  record(bench, SETTLE_S + LOOK_S, frames)
  if (bench.rpm < 150) return null
  return framesToLog(frames.filter((f) => f.timeS < frames[0].timeS + 20 || f.timeS > frames[0].timeS + 19.6 + SETTLE_S))
}
/** The log of the first setting hot enough to swing the speed without stalling it; null: there is none. */
function swung(car: ScoreCar, seed: number, tune: TuneDocument, trial: IdleTrial): { bench: Bench; log: Log } | null {
  for (let k = 1; k <= HOTTEST; k *= HOTTER) {
    const bench = idleBench(car, seed, tune, trial, trial.hotter!(k))
    const log = idled(bench)
    if (!log) return null
    const speeds = log.channels.rpm!.subarray(-LOOK_S / FRAME_S)
    const mean = meanOf(speeds)
    if (Math.sqrt(meanOf(speeds.map((v) => (v - mean) ** 2))) > SWINGS_RPM) return { bench, log }
  }
  return null
}
function shown(car: ScoreCar, seed: number, tune: TuneDocument, trial: IdleTrial | null): { bench: Bench; log: Log } | null {
  if (trial?.hotter) return swung(car, seed, tune, trial)
  const bench = idleBench(car, seed, tune, trial)
  const log = idled(bench, trial?.turns)
  return log && { bench, log }
}

export interface IdleOutcome {
  car: string
  seed: number
  trial: string | null
  /** null: the fault cannot be shown on this car */
  said: Pick<IdleVerdict, 'verdict' | 'sureness' | 'causes'> | null
  right: boolean
}
export function scoreIdle(car: ScoreCar, seed: number, trial: IdleTrial | null): IdleOutcome {
  const tune = idleTune(car, seed)
  const outcome: IdleOutcome = { car: car.name, seed, trial: trial?.name ?? null, said: null, right: false }
  if (trial?.onlyClosedLoop && !closedAtIdle(tune)) return outcome
  const seen = shown(car, seed, tune, trial)
  if (!seen) return outcome
  const { verdict, sureness, causes } = judgeIdle(seen.log, tuneIdleOptions(seen.bench.unit.tune))
  return { ...outcome, said: { verdict, sureness, causes }, right: trial === null ? verdict === 'good' : trial.is.includes(verdict) }
}
