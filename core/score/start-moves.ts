import { Bench, benchCarFor } from '../src/bench/index.ts'
import { applyStartMove, type StartMove, startScores, type StartScore } from '../src/idle/index.ts'
import { Random } from '../src/kernel/index.ts'
import { type Frame, framesToLog } from '../src/start/index.ts'
import { computeBaseTune, type TuneDocument } from '../src/tune/index.ts'
import { drivenCars } from './driven.ts'
import { shareOf, tableOf } from './interval.ts'

/** One thing that is off at a start, by so many times or points. */
const spoils = [
  { name: 'cranking fuel, half to 2.5 times', curve: 'crankingPct', times: [0.5, 2.5], points: [0, 0] },
  { name: 'after-start fuel, none to three times', curve: 'afterStartPct', times: [0, 3], points: [0, 0] },
  { name: 'warm-up fuel, 0.4 to 1.6 times', curve: 'warmupPct', times: [0.4, 1.6], points: [0, 0] },
  { name: 'valve, 15 % less to 25 more', curve: 'idleValvePct', times: [1, 1], points: [-15, 25] },
] as const
export const startMoveTrials = spoils.length

export interface StartMovesOutcome {
  spoilt: string
  /** it fired at all: else it is a matter of First start */
  fired: boolean
  good: boolean
  /** starts until one was called good; null: not within seven */
  starts: number | null
  /** by the crank itself, at the first start and at the last: fires, s; deepest fall, rpm; stands, s */
  first: TrueStart
  last: TrueStart
}
interface TrueStart {
  firesS: number
  fallRpm: number
  standsS: number
}
const MOST_STARTS = 7
const STEP_S = 0.05
const PRIME_S = 3
const CRANKS_S = 12
const LOOKS_S = 40
const FIRES_RPM = 450
const STANDS_RPM = 80
/** What a good start may be off by, as the idle station has it, and what a stream may read beside the truth. */
const TRULY_GOOD = { firesS: 2 + 0.2, fallRpm: 150 + 60, standsS: 8 + 1.5 }

/** The crank's own speed after firing, in means of a quarter of a second. */
function trueStart(firesS: number, rpm: readonly number[]): TrueStart {
  const slot = Math.round(0.25 / STEP_S)
  const means = Array.from({ length: Math.floor(rpm.length / slot) }, (_, k) => {
    const part = rpm.slice(k * slot, (k + 1) * slot)
    return part.reduce((a, b) => a + b, 0) / slot
  })
  const tail = means.slice(-40)
  const idle = tail.reduce((a, b) => a + b, 0) / tail.length
  let [reached, fallRpm] = [0, 0]
  for (const v of means.slice(0, 40)) {
    reached = Math.min(idle, Math.max(reached, v))
    fallRpm = Math.max(fallRpm, reached - v)
  }
  return { firesS, fallRpm, standsS: (means.findLastIndex((v) => Math.abs(v - idle) > STANDS_RPM) + 1) * 0.25 }
}

type Car = (typeof drivenCars)[number]
function started(car: Car, seed: number, tune: TuneDocument, coolantC: number): { score: StartScore | undefined; truly: TrueStart } {
  const bench = new Bench(benchCarFor(car.facts, car.choices, seed), tune, { coolantC })
  const frames: Frame[] = []
  const rpm: number[] = []
  const run = () => {
    bench.run(STEP_S)
    frames.push(bench.frame())
    rpm.push(bench.rpm)
  }
  const runFor = (seconds: number) => Array.from({ length: Math.round(seconds / STEP_S) }, run)
  bench.keyOn = true
  runFor(PRIME_S)
  bench.starter = true
  let firesS = 0
  for (; firesS < CRANKS_S && bench.rpm < FIRES_RPM; firesS += STEP_S) run()
  bench.starter = false
  const fired = rpm.length
  runFor(LOOKS_S)
  return { score: startScores(framesToLog(frames))[0], truly: trueStart(firesS, rpm.slice(fired)) }
}
/** A start like it broken off before it fires, and a plug taken out. */
function plugsAfter(car: Car, seed: number, tune: TuneDocument, coolantC: number, secondsToFire: number): 'wet' | 'dry' {
  const bench = new Bench(benchCarFor(car.facts, car.choices, seed), tune, { coolantC })
  bench.keyOn = true
  bench.run(PRIME_S)
  bench.starter = true
  for (let t = 0; t < 0.8 * secondsToFire && bench.rpm < FIRES_RPM; t += STEP_S) bench.run(STEP_S)
  bench.starter = false
  return bench.plugs()
}

/** From a curve that is far off to a start that is called good, start by start, always the first move that its check and the tune allow. */
export function scoreStartMoves(k: number, seed: number, trial: number): StartMovesOutcome {
  const car = drivenCars[k]
  const spoil = spoils[trial]
  const random = new Random(seed * 59 + 7 * k + trial)
  const [times, points] = [spoil.times, spoil.points].map(([from, to]) => from + (to - from) * random.next())
  const coolantC = 20 * random.next()
  const base = computeBaseTune(car.facts, car.choices)
  const spoilt = base.parameters[spoil.curve].map(([c, v]): [number, number] => [c, Math.min(100 * 8, Math.max(0, v * times + points))])
  let tune: TuneDocument = { ...base, parameters: { ...base.parameters, [spoil.curve]: spoilt } }
  const first = started(car, seed, tune, coolantC)
  let [now, starts] = [first, 1]
  while (now.score && !now.score.good && starts < MOST_STARTS) {
    const { secondsToFire, moves } = now.score
    const plugs = plugsAfter(car, seed, tune, coolantC, secondsToFire)
    const may = ({ when }: StartMove) => !when?.startsWith('The plug') || when.endsWith(plugs)
    const next = moves.filter(may).flatMap((move) => applyStartMove(tune, move, coolantC, 'score') ?? [])[0]
    if (!next) break
    tune = next.tune
    now = started(car, seed, tune, coolantC)
    starts++
  }
  const good = now.score?.good === true
  return {
    spoilt: spoil.name,
    fired: first.score !== undefined,
    good: first.score?.good === true,
    starts: good ? starts : null,
    first: first.truly,
    last: now.truly,
  }
}

/** The table of how often it ends well, in Markdown. */
export function startMovesTable(all: readonly StartMovesOutcome[]): string {
  const truly = (t: TrueStart) => t.firesS <= TRULY_GOOD.firesS && t.fallRpm <= TRULY_GOOD.fallRpm && t.standsS <= TRULY_GOOD.standsS
  const line = (name: string, of: readonly StartMovesOutcome[]) => {
    const list = of.filter((o) => o.fired)
    const bad = list.filter((o) => !o.good)
    const ended = bad.filter((o) => o.starts !== null)
    const called = list.filter((o) => o.starts !== null)
    const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length
    return [
      name,
      `${of.length - list.length} of ${of.length}`,
      shareOf(list.length - bad.length, list.length),
      shareOf(ended.length, bad.length),
      ended.length ? mean(ended.map((o) => o.starts!)).toFixed(1) : '',
      bad.length ? `${mean(bad.map((o) => o.first.fallRpm)).toFixed(0)} to ${mean(bad.map((o) => o.last.fallRpm)).toFixed(0)} rpm` : '',
      shareOf(called.filter((o) => truly(o.last)).length, called.length),
    ]
  }
  const head = [
    'off at the first start',
    'does not fire: First start’s',
    'good at once',
    'of the others good within seven starts',
    'starts (mean)',
    'falls by, first and last',
    'called good and truly so',
  ]
  const rows = [
    ...spoils.map(({ name }) =>
      line(
        name,
        all.filter((o) => o.spoilt === name),
      ),
    ),
    line('**all**', all),
  ]
  return `### What the moves of a start come to\n\n${tableOf(head, rows)}`
}
