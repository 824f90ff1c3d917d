import { coolPorts } from '../src/start/index.ts'
import { contextOf, entryKinds } from '../src/judge/index.ts'
import { pressureCheck } from '../src/fuel/pressure-check.ts'
import { type BuildData, Random, seedOf } from '../src/kernel/index.ts'
import {
  Bench,
  benchCarFor,
  type BenchChoices,
  benchDrive,
  carInstruments,
  type CarInstrumentId,
  everydayDrive,
  type FaultId,
  outfitBench,
  tuneOfAnswers,
  type TypedAnswers,
} from '../src/bench/index.ts'
import {
  answerMend,
  heldNow,
  joinLogs,
  latestTogether,
  type LearnResult,
  learnSetup,
  mendBase,
  settledNow,
  solveWithSetup,
  suspectOf,
  unsoundCodes,
  withMendedAnswer,
} from '../src/learn/index.ts'
import { bilinear, computeBaseTune, nearestIndex, type TuneDocument, tuneFigures } from '../src/tune/index.ts'
import { answerCard, answerMetric } from '../src/unit/index.ts'
import { buildOf, type ScoreCar, scoreCars } from './cars.ts'

/** Six cars of the score whose unit learns by itself, unlike each other. */
export const settleCars = [0, 2, 4, 5, 7, 12].map((k) => scoreCars[k])
/** Cells of a unit's own, as its sheet says. */
export const ownCells = ({ axes: { rpm } }: TuneDocument) => ({
  learnedRpm: Array.from({ length: 9 }, (_, i) => Math.round(500 + (i * (rpm.at(-1)! - 500)) / 8)),
  learnedMapKpa: [20, 30, 40, 50, 60, 72, 85, 100],
})
const DRIVE_MIN = 5
const MOST_DRIVES = 80 / DRIVE_MIN
const HALF_HOUR_MIN = 30
const LIMIT_PCT = 20
export const POISONED_DRIVES = HALF_HOUR_MIN / DRIVE_MIN

/** What poisons learning, with its size and what names it, verdicts or the first suspect: more than one where a log alone cannot part them. */
export const poisons: readonly { fault: FaultId; size?: number; byLog: readonly string[]; beside: string | null }[] = [
  { fault: 'exhaust-leak', size: 30, byLog: ['lean-at-low-flow', 'learned-at-limit'], beside: 'exhaust' },
  { fault: 'lean-cylinder', size: 100, byLog: ['learned-at-limit', 'constant-to-mend', 'correction-saturated'], beside: 'cylinders' },
  { fault: 'sensor-cold', byLog: ['lean-at-low-flow', 'comes-and-goes'], beside: 'sensor' },
  { fault: 'pressure-low', size: 70, byLog: ['constant-to-mend', 'learned-at-limit', 'correction-saturated'], beside: 'pressure' },
  { fault: 'purge', size: 60, byLog: ['comes-and-goes', 'suspect purge'], beside: null },
  { fault: 'throttle-zero', size: 5, byLog: ['throttle-zero'], beside: null },
]

export interface SettledOutcome {
  car: string
  fault: FaultId | null
  /** by the checks beside the log that are asked before the station clears */
  foundBeside: string[]
  /** at the half and at the end of each drive: what the app says and what is true */
  asked: {
    /** driven until then, min */
    atMin: number
    said: boolean
    because: string[]
    codes: string[]
    trueRmsPct: number
    trueTwicePct: number
    /** time in cells visited twice, of all */
    twiceShare: number
    /** time in which more was missing over the base than the unit may learn, of all */
    beyondShare: number
    /** what was never learned was put into the base after it, or the answer that the base is made of was mended */
    mended: boolean
  }[]
}

const IDLE_S = 60
/** What the checks find that are asked before what was learned is believed: each by the bench's instrument, each judged by its own rule. */
export function besideTheLog(build: BuildData, tune: TuneDocument): string[] {
  const bench = new Bench(benchCarFor(build.facts, build.choices, seedOf(build.id)), tune, { coolantC: 80 })
  outfitBench(bench, build)
  const noise = new Random(seedOf(build.id) ^ 0x5e77)
  const c = contextOf(build)
  const read = (id: CarInstrumentId) => carInstruments[id].read(bench, noise).values as Record<string, number | string | null>
  const found: string[] = []
  const smoke = String(read('smoke-test').where ?? '')
  if (smoke.includes('exhaust')) found.push('exhaust')
  bench.keyOn = true
  bench.run(3)
  bench.starter = true
  for (let t = 0; t < 10 && bench.rpm < 450; t += 0.05) bench.run(0.05)
  bench.starter = false
  bench.run(IDLE_S)
  if (bench.state !== 'running') return [...found, 'does not run']
  const meter = { unitLambda: bench.frame().lambda ?? 2.2, meterLambda: Number(read('wideband-display').lambda) }
  if (entryKinds['learn.meter'].proof!.limits!(c, meter, []) !== null) found.push('sensor')
  if (coolPorts(read('infrared-thermometer') as Record<string, number>).length) found.push('cylinders')
  if (pressureCheck(c, { pressureKpa: Number(read('fuel-gauge').pressureKpa), engineRunning: true }).off) found.push('pressure')
  return found
}

interface Seen {
  rpm: number
  mapKpa: number
  /** fuel that is missing over the base at that moment, as a share: by the mixture in the port, not by any sensor */
  need: number
}

/** Delivered error of what the unit holds now, over the cells of its tune that were driven so far; and over those that were visited twice. */
function trueError(tune: TuneDocument, seen: readonly Seen[], held: (rpm: number, mapKpa: number) => number) {
  const { rpm, mapKpa } = tune.axes
  const cells = new Map<number, { sum: number; n: number; visits: number; last: number }>()
  seen.forEach((s, t) => {
    const c = nearestIndex(mapKpa, s.mapKpa) * rpm.length + nearestIndex(rpm, s.rpm)
    const cell = cells.get(c) ?? { sum: 0, n: 0, visits: 0, last: -Infinity }
    cell.sum += (1 + s.need) / (1 + held(s.rpm, s.mapKpa) / 100) - 1
    cell.n++
    if (t - cell.last > 10 * FRAMES_PER_S) cell.visits++
    cell.last = t
    cells.set(c, cell)
  })
  const rms = (list: { sum: number; n: number }[]) => {
    const n = list.reduce((a, c) => a + c.n, 0)
    return n ? 100 * Math.sqrt(list.reduce((a, c) => a + c.n * (c.sum / c.n) ** 2, 0) / n) : NaN
  }
  const time = (list: { n: number }[]) => list.reduce((a, c) => a + c.n, 0)
  const driven = [...cells.values()].filter((c) => c.n >= 3 * FRAMES_PER_S)
  const twice = driven.filter((c) => c.visits >= 2)
  return { all: rms(driven), twice: rms(twice), twiceShare: time(twice) / time([...cells.values()]) }
}
const FRAMES_PER_S = 20
const HALF_FRAMES = 30 * DRIVE_MIN * FRAMES_PER_S
/** how far the log went, what had been seen, and what the unit held, in the middle of a drive */
interface Half {
  rows: number
  seen: number
  pct: readonly number[]
}
const firstHalf = (drive: ReturnType<typeof benchDrive>, { rows, pct }: Half): ReturnType<typeof benchDrive> => ({
  ...drive,
  timeS: drive.timeS.subarray(0, rows),
  channels: Object.fromEntries(Object.entries(drive.channels).map(([id, values]) => [id, values.subarray(0, rows)])),
  learned: { ...drive.learned, pct },
})
/** steady: under 6 kPa and 200 rpm in a second, for a second and a half */
const STEADY_KPA = 0.3
const STEADY_RPM = 10
const STEADY_FRAMES = 30

/** Drives a car whose unit learns by itself until the app says settled, or for as long as anybody would. */
export function scoreSettled(
  car: ScoreCar,
  seed: number,
  poison: (typeof poisons)[number] | null,
  { drives = MOST_DRIVES, setBy = 'tables' }: { drives?: number; setBy?: 'tables' | 'questions' } = {},
): SettledOutcome {
  const bench: BenchChoices | undefined = poison
    ? { faults: [{ id: poison.fault, ...(poison.size === undefined ? {} : { size: poison.size }) }] }
    : undefined
  let tune = computeBaseTune(car.facts, car.choices)
  const told = {
    ...car,
    choices: { ...car.choices, unit: { setBy, learns: 'itself' as const, learnLimitPct: LIMIT_PCT, ...ownCells(tune) } },
  }
  const build = buildOf({ ...told, choices: { ...told.choices, ...(bench ? { bench } : {}) } }, seed)
  const outcome: SettledOutcome = { car: car.name, fault: poison?.fault ?? null, foundBeside: besideTheLog(build, tune), asked: [] }
  /** what delivers the fuel: the tables, or the base that the unit made itself of its answers */
  let inUnit = setBy === 'questions' ? tuneOfAnswers(answersOf(build, tune)) : tune
  let seen: Seen[] = []
  let believed: ReturnType<typeof benchDrive>[] = []
  let learned: readonly number[] | undefined
  let before: (number | null)[] | undefined
  let was = { rpm: 0, mapKpa: 0 }
  let still = 0
  for (let k = 0; k < drives; k++) {
    let frames = 0
    let half = null as Half | null
    const drive = benchDrive(build, inUnit, everydayDrive(DRIVE_MIN, seed * 31 + k), {
      coolantC: 80,
      learned,
      onFrame: ({ unit, crank, mapKpa, rpm, heat }) => {
        const { out } = unit
        if (++frames === HALF_FRAMES) half = { rows: frames, seen: seen.length, pct: [...unit.learned.pct] }
        // what it delivers is a matter of steady running: wall film and transport are another's
        const moves = Math.abs(mapKpa - was.mapKpa) > STEADY_KPA || Math.abs(rpm - was.rpm) > STEADY_RPM || out.fuelCut
        still = moves ? 0 : still + 1
        was = { rpm, mapKpa }
        if (still < STEADY_FRAMES || out.fuelCut || rpm < 400 || heat.coolantC < 75 || out.enrichmentPct > 0.5 || !(crank.portPhi > 0.3))
          return
        const held = (1 + out.correctionPct / 100) * (1 + out.learnedPct / 100)
        seen.push({ rpm, mapKpa, need: held / crank.portPhi / out.lambdaTarget - 1 })
      },
    })
    learned = [...drive.learned.pct]
    /** what the app says of a log, and what is true of what the unit held at its end; @param truthAlone the app has said it already */
    const ask = (log: typeof drive, driven: readonly Seen[], atMin: number, truthAlone = false) => {
      const { rpm, mapKpa, pct } = log.learned
      const axes = { rpm: [...rpm], mapKpa: [...mapKpa] }
      const error = trueError(tune, driven, (r, m) => bilinear(axes, pct, r, m))
      const said: SettledOutcome['asked'][number] = {
        atMin,
        said: false,
        because: [],
        codes: [],
        trueRmsPct: error.all,
        trueTwicePct: error.twice,
        twiceShare: error.twiceShare,
        beyondShare: driven.filter((s) => 100 * Math.abs(s.need) > LIMIT_PCT).length / Math.max(1, driven.length),
        mended: false,
      }
      outcome.asked.push(said)
      if (truthAlone) return null
      const together = latestTogether([...believed, log], () => 60 * DRIVE_MIN)
      const result = solveWithSetup(joinLogs(together), { ...learnSetup(told, tune), before })
      const { settled, because } = settledNow(result)
      const codes = result.verdicts.map((v) => v.code)
      Object.assign(said, { said: settled, because, codes: result.sound ? codes : [...codes, `suspect ${suspectOf(result)}`] })
      return { result, said }
    }
    if (half)
      ask(
        firstHalf(drive, half),
        seen.slice(0, half.seen),
        (k + 0.5) * DRIVE_MIN,
        outcome.asked.some((d) => d.said),
      )
    const { result, said } = ask(drive, seen, (k + 1) * DRIVE_MIN)!
    before = heldNow(result, before)
    if (result.sound && !result.verdicts.some((v) => unsoundCodes.includes(v.code))) believed.push(drive)
    if (outcome.foundBeside.length > 0 || said.said) continue
    const answer = said.codes.includes('answer-to-mend') ? answerMend(tune, result, LIMIT_PCT) : null
    if (answer) {
      // the new answer is typed and what was learned is cleared
      tune = withMendedAnswer(tune, answer, 'what a log left')
      inUnit = tuneOfAnswers(answersOf(build, tune))
      learned = undefined
    } else if (setBy === 'tables' && believed.includes(drive) && mendsNow(result, said.because))
      inUnit = tune = mendBase(tune, result, 'what it cannot learn').tune
    else continue
    said.mended = true
    seen = []
    believed = []
    before = undefined
  }
  return outcome
}

/** What the card says, typed on the unit's display. */
function answersOf(build: BuildData, tune: TuneDocument): TypedAnswers {
  const line = {
    ...{ id: 'scored', number: 1, name: 'scored', status: 'in-car' as const, origin: 'computed' as const, parentId: null },
    ...{ createdAt: '', inCarSince: null, problems: [], figures: tuneFigures(tune, build) },
  }
  return Object.fromEntries(
    answerCard(contextOf({ ...build, tunes: [line] })).flatMap((a) =>
      a.value === null ? [] : [[a.id, typeof a.value === 'number' ? answerMetric(a, a.value) : a.value]],
    ),
  )
}

/** what only keeps it from being settled yet */
const ON_THE_WAY = ['time', 'remainder', 'short']
/** As a person would who was told that driving on changes nothing there. */
export const mendsNow = ({ verdicts }: LearnResult, because: readonly string[]): boolean =>
  verdicts.some((v) => v.code === 'not-learned-here') && because.every((b) => ON_THE_WAY.includes(b))
/** its limit is no false alarm where the engine really wants more than that for so much of the time */
const TRULY_BEYOND = 0.02

/** A pattern of poison said of a car that has none, once it has been driven for half an hour. */
export const falselyUnsound = ({ asked }: SettledOutcome): boolean =>
  asked
    .filter((d) => d.atMin >= HALF_HOUR_MIN)
    .some((d) => d.because.some((code) => unsoundCodes.includes(code) && !(code === 'learned-at-limit' && d.beyondShare > TRULY_BEYOND)))

const STAYS_PCT = 2.5
const FALSE_PCT = 3.3
/** Cells visited twice are most of the driving: from here on they can tell of it. */
const MOSTLY = 0.8
/** The driving after which the delivered error in cells visited twice, most of all driving, stays small, min; null: it never does. */
export function trulySettledAt({ asked }: SettledOutcome): number | null {
  const last = asked.findLastIndex((d) => !(d.trueTwicePct < STAYS_PCT && d.twiceShare >= MOSTLY))
  return asked[last + 1]?.atMin ?? null
}
const firstSaid = ({ asked, foundBeside }: SettledOutcome) => (foundBeside.length ? undefined : asked.find((d) => d.said))
/** The driving after which the app says it first, by the log and with nothing found beside it, min. */
export const saidSettledAt = (o: SettledOutcome): number | null => firstSaid(o)?.atMin ?? null
export const falselySettled = (o: SettledOutcome): boolean => (firstSaid(o)?.trueRmsPct ?? 0) > FALSE_PCT
/** A poison is named in time when its log says so, or a check asked beside the log finds it, before the app would say settled. */
export function namedInTime(o: SettledOutcome, poison: (typeof poisons)[number]): { byLog: boolean; inTime: boolean } {
  const said = o.asked.findIndex((d) => d.said)
  const until = said < 0 ? o.asked : o.asked.slice(0, said + 1)
  const byLog = until.some((d) => d.codes.some((code) => poison.byLog.includes(code)))
  return { byLog, inTime: byLog || (poison.beside !== null && o.foundBeside.includes(poison.beside)) }
}
