import { Bench, benchCarFor, type BenchChoices, crankUp, outfitBench } from '../src/bench/index.ts'
import { controllerOf, type IdleVerdict, judgeIdle, type LoopMove, loopMove, mixtureLoopMove, tuneIdleOptions } from '../src/idle/index.ts'
import type { LogData } from '../src/logfile/index.ts'
import { type Frame, framesToLog } from '../src/start/index.ts'
import { computeBaseTune, type TuneDocument, type TuneParameters } from '../src/tune/index.ts'
import { buildOf, type ScoreCar, scoreCars } from './cars.ts'
import { shareOf } from './interval.ts'

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
/** Starts it; false: it did not, or died at once. */
export function started(bench: Bench): boolean {
  if (crankUp(bench) === null) return false
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

/** tries of the controller's moves, and what of a swing is left where it has settled, rpm rms */
const TRIES = 2
const SETTLED_RPM = 22
/** Sends what the controller's page works out of a swing, and looks again: after how many tries the speed stands; null: not in two. */
function triesToSettle(
  car: ScoreCar,
  seed: number,
  tune: TuneDocument,
  trial: IdleTrial,
  first: { bench: Bench; log: Log },
): number | null {
  let { bench, log } = first
  for (let k = 1; k <= TRIES; k++) {
    const { parameters: p } = bench.unit.tune
    const { verdict, loop, periodS } = judgeIdle(log, tuneIdleOptions(bench.unit.tune))
    const next =
      verdict === 'hunting-mixture' && periodS !== null
        ? { loopGainPctS: mixtureLoopMove(p.loopGainPctS, periodS) }
        : loop
          ? { ...controllerOf(p as unknown as Record<string, number>), ...gains(loopMove(p, loop)) }
          : null
    if (!next) return null
    bench = idleBench(car, seed, { ...tune, parameters: { ...p, ...next } }, { ...trial, parameters: undefined })
    const again = idled(bench)
    if (!again) return null
    log = again
    const speeds = log.channels.rpm!.subarray(-LOOK_S / FRAME_S)
    const mean = meanOf(speeds)
    if (Math.sqrt(meanOf(speeds.map((v) => (v - mean) ** 2))) < SETTLED_RPM) return k
  }
  return null
}
const gains = ({ idleGainPct, idleIntegralPctS, idleDampingPct }: LoopMove) => ({ idleGainPct, idleIntegralPctS, idleDampingPct })

export interface IdleOutcome {
  car: string
  seed: number
  trial: string | null
  /** null: the fault cannot be shown on this car */
  said: Pick<IdleVerdict, 'verdict' | 'sureness'> | null
  right: boolean
  /** of a swing: tries of the moves until it stands, null: more than two */
  tries?: number | null
}
export function scoreIdle(car: ScoreCar, seed: number, trial: IdleTrial | null): IdleOutcome {
  const tune = idleTune(car, seed)
  const outcome: IdleOutcome = { car: car.name, seed, trial: trial?.name ?? null, said: null, right: false }
  if (trial?.onlyClosedLoop && !closedAtIdle(tune)) return outcome
  const seen = shown(car, seed, tune, trial)
  if (!seen) return outcome
  const { verdict, sureness } = judgeIdle(seen.log, tuneIdleOptions(seen.bench.unit.tune))
  const right = trial === null ? verdict === 'good' : trial.is.includes(verdict)
  return {
    ...outcome,
    said: { verdict, sureness },
    right,
    ...(trial?.hotter && right ? { tries: triesToSettle(car, seed, tune, trial, seen) } : {}),
  }
}

/** The tables of docs/idle.md. */
export function idleTables(all: readonly IdleOutcome[], firstSeed: number): string {
  const ran = all.filter((o) => o.said !== null)
  const faulty = ran.filter((o) => o.trial !== null)
  const sound = ran.filter((o) => o.trial === null)
  const swings = ran.filter((o) => o.tries !== undefined)
  const others = (list: readonly IdleOutcome[]) => {
    const counts = new Map<string, number>()
    for (const o of list) if (!o.right) counts.set(o.said!.verdict, (counts.get(o.said!.verdict) ?? 0) + 1)
    return [...counts].map(([verdict, n]) => `${verdict} ${n}`).join(', ') || 'none'
  }
  const line = (name: string, list: readonly IdleOutcome[]) =>
    `| ${name} | ${shareOf(list.filter((o) => o.right).length, list.length)} | ${others(list)} |`
  const bins = [
    [0, 0.6],
    [0.6, 0.8],
    [0.8, 1.01],
  ].map(([low, high]) => ran.filter((o) => o.said!.sureness >= low && o.said!.sureness < high))
  return [
    '### What an idle is',
    '',
    `${idleCars.length} cars, seeds from ${firstSeed}; a minute of warm idle after a fast idle and a blip, at 20 readings a second. A fault that stalls the car, or that the car cannot show, is left out (${all.length - ran.length} of ${all.length}).`,
    '',
    '| made wrong | right class | said instead |',
    '| --- | --- | --- |',
    ...idleTrials.map((t) =>
      line(
        t.name,
        faulty.filter((o) => o.trial === t.name),
      ),
    ),
    line('**all**', faulty),
    line('nothing: sound idles called good', sound),
    '',
    `Right where it said how sure it is: under 0.6: ${bins
      .map((list) => shareOf(list.filter((o) => o.right).length, list.length))
      .join('; 0.6 to 0.8: ')
      .replace(/; 0\.6 to 0\.8: ([^;]*)$/, '; 0.8 and more: $1')}.`,
    '',
    `Swings that the moves worked out of them settle: at the first try ${shareOf(swings.filter((o) => o.tries === 1).length, swings.length)}, within two ${shareOf(swings.filter((o) => o.tries !== null).length, swings.length)}.`,
  ].join('\n')
}
