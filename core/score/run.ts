import { availableParallelism } from 'node:os'
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads'
import { benchFaults } from '../src/bench/index.ts'
import { FULL_LOAD_SPREAD } from '../src/bench/car.ts'
import { type TuneOutcome, scoreBaseTune } from './base-tune.ts'
import { scoreCars, unseenCars, variedCar } from './cars.ts'
import { diagnoseCars, type DiagnoseOutcome, diagnoseTrials, scoreDiagnose, trialName, trialSizes } from './diagnose.ts'
import { drivenCars, type DrivenOutcome, schools, scoreDriven, type School, type Way, ways } from './driven.ts'
import { idleCars, type IdleOutcome, idleTables, idleTrials, scoreIdle } from './idle.ts'
import { shareOf } from './interval.ts'
import { lightTable } from './light.ts'
import { goodTune, wrongIsNamed, wrongTunes } from './lint.ts'
import { scopeTable } from './scope.ts'
import { suspectsTable } from './suspects.ts'
import { fitupTable } from './fitup.ts'
import { wiringTable } from './wiring.ts'
import {
  falselySettled,
  falselyUnsound,
  namedInTime,
  POISONED_DRIVES,
  poisons,
  saidSettledAt,
  scoreSettled,
  type SettledOutcome,
  settleCars,
  trulySettledAt,
} from './settled.ts'
import { type OneChangeOutcome, oneChangeTable, scoreOneChange } from './one-change.ts'
import { scoreSteps, type StepsOutcome, stepsTable } from './steps.ts'
import { scoreStartMoves, startMovesTable, startMoveTrials, type StartMovesOutcome } from './start-moves.ts'
import { scoreWarmUp, type WarmUpOutcome, warmUpTable } from './warm-up.ts'
import { scoreTrial, trialCars, type TrialOutcome, trialTable } from './trial.ts'
import { causeOf, scoreStart, startCars, startTrials, type StartOutcome, unasked } from './start.ts'

/**
 * Prints the three scores: base tune over seeds, checks of a tune, causes of a bad start. Seeds from 1000 up, which no rule was developed on.
 * `--quick` takes a tenth of the seeds, `--first 1` begins elsewhere, `--seeds 20` takes no more than so many, `--only settled` (or answered, tune, good, start, diagnose, driven, light, scope, suspects, idle, wiring, fitup, trial, steps, one-change, cold, start-moves) prints one table.
 */
const FIRST_SEED = 1000
const LIGHT_TRIALS = 4000
const SCOPE_TRIALS = 200
const SUSPECT_TRIALS = 300
const WIRING_TRIALS = 300
const FITUP_TRIALS = 300
const SEEDS = {
  tune: 200,
  good: 200,
  start: 3,
  settled: 60,
  answered: 20,
  oneChange: 10,
  poisoned: 4,
  diagnose: 3,
  sound: 20,
  driven: 5,
  idle: 3,
  soundIdle: 37,
  trial: 50,
  steps: 50,
  cold: 50,
  startMoves: 30,
}
const SOUND_FOR_EACH = 6

type Job =
  | { kind: 'tune'; car: number; seed: number }
  | { kind: 'good'; seed: number; learned: boolean }
  | { kind: 'start'; car: number; seed: number; trial: number | null }
  | { kind: 'settled'; car: number; seed: number; poison: number | null }
  | { kind: 'answered'; car: number; seed: number }
  | { kind: 'least'; car: number }
  | { kind: 'diagnose'; car: number; seed: number; trial: number | null; first: boolean; size?: number }
  | { kind: 'idle'; car: number; seed: number; trial: number | null }
  | { kind: 'driven'; car: number; seed: number; way: Way; school: School }
  | { kind: 'trial'; car: number; seed: number }
  | { kind: 'steps'; car: number; seed: number }
  | { kind: 'one-change'; car: number; seed: number }
  | { kind: 'cold'; car: number; seed: number }
  | { kind: 'start-moves'; car: number; seed: number; trial: number }
type Done = {
  least?: { car: number; sizes: ReturnType<typeof trialSizes> }
  tune?: TuneOutcome
  good?: ReturnType<typeof goodTune>
  start?: StartOutcome | null
  settled?: { outcome: SettledOutcome; poison: number | null }
  answered?: SettledOutcome
  diagnose?: DiagnoseOutcome & { first: boolean }
  driven?: DrivenOutcome
  idle?: IdleOutcome
  trial?: TrialOutcome
  oneChange?: OneChangeOutcome
  steps?: StepsOutcome
  cold?: WarmUpOutcome
  startMoves?: StartMovesOutcome
}
const allCars = [...scoreCars, ...unseenCars]

function work(job: Job): Done {
  if (job.kind === 'tune') return { tune: scoreBaseTune(allCars[job.car], job.seed) }
  if (job.kind === 'good') return { good: goodTune(variedCar(job.seed), job.seed, job.learned) }
  if (job.kind === 'settled') {
    const { poison } = job
    const outcome = scoreSettled(
      settleCars[job.car],
      job.seed,
      poison === null ? null : poisons[poison],
      poison === null ? {} : { drives: POISONED_DRIVES },
    )
    return { settled: { outcome, poison } }
  }
  if (job.kind === 'answered') return { answered: scoreSettled(settleCars[job.car], job.seed, null, { setBy: 'questions' }) }
  if (job.kind === 'idle') return { idle: scoreIdle(idleCars[job.car], job.seed, job.trial === null ? null : idleTrials[job.trial]) }
  if (job.kind === 'trial') return { trial: scoreTrial(job.car, job.seed) }
  if (job.kind === 'one-change') return { oneChange: scoreOneChange(job.car, job.seed) }
  if (job.kind === 'steps') return { steps: scoreSteps(job.car, job.seed) }
  if (job.kind === 'start-moves') return { startMoves: scoreStartMoves(job.car, job.seed, job.trial) }
  if (job.kind === 'cold') return { cold: scoreWarmUp(job.car, job.seed) }
  if (job.kind === 'driven') return { driven: scoreDriven(job.car, job.seed, job.way, job.school) }
  if (job.kind === 'least') return { least: { car: job.car, sizes: trialSizes(diagnoseCars[job.car]) } }
  if (job.kind === 'diagnose') {
    const { first, size } = job
    return { diagnose: { ...scoreDiagnose(diagnoseCars[job.car], job.seed, job.trial, first, size), first } }
  }
  return { start: scoreStart(startCars()[job.car], job.seed, job.trial === null ? null : startTrials[job.trial]) }
}

/** Shares the jobs out over as many threads as there are cores. */
async function inThreads(jobs: Job[]): Promise<Done[]> {
  const threads = availableParallelism()
  let done = 0
  const shares = await Promise.all(
    Array.from({ length: threads }, (_, k) => {
      const mine = jobs.filter((_, i) => i % threads === k)
      return new Promise<Done[]>((resolve, reject) => {
        const worker = new Worker(new URL(import.meta.url), { workerData: mine })
        worker.on('message', (message: Done[] | 'one') => {
          if (message === 'one') process.stderr.write(`\r${++done} of ${jobs.length} `)
          else resolve(message)
        })
        worker.on('error', reject)
      })
    }),
  )
  process.stderr.write('\r')
  return shares.flat()
}

const row = (...cells: (string | number)[]) => console.log(`| ${cells.join(' | ')} |`)
const rule = (n: number) => console.log(`|${' --- |'.repeat(n)}`)

/** fuel over target that is allowed: 10 %, and as much more as the spread of an engine whose power was assumed */
const overAllowed = (assumed: boolean): number => 10 + (assumed ? 100 * FULL_LOAD_SPREAD.assumed.bound : 0)

function tuneTable(outcomes: TuneOutcome[]): void {
  const good = {
    start: (o: TuneOutcome) => o.startS !== null && o.startS <= 3,
    idle: (o: TuneOutcome) => Math.abs(o.idleOffRpm) <= 100,
    knock: (o: TuneOutcome) => o.knockShare <= 0.01,
    fuel: (o: TuneOutcome) => {
      const car = allCars.find((c) => c.name === o.car)!
      return o.leanestLambda <= 0.92 && o.mostOverPct <= overAllowed(car.facts.engine?.powerKw === undefined)
    },
  }
  console.log('\n### Base tune on engines it has never met\n')
  row(
    'car',
    'starts in 3 s at 12 °C',
    'idles within 100 rpm',
    'no knock over 1 %',
    'full-load fuel within bounds',
    'leanest lambda',
    'most over target',
  )
  rule(7)
  const line = (name: string, list: TuneOutcome[]) =>
    row(
      name,
      ...(['start', 'idle', 'knock', 'fuel'] as const).map((k) => shareOf(list.filter(good[k]).length, list.length)),
      Math.max(...list.map((o) => o.leanestLambda)).toFixed(3),
      `${Math.max(...list.map((o) => o.mostOverPct)).toFixed(1)} %`,
    )
  for (const car of allCars)
    line(
      car.name,
      outcomes.filter((o) => o.car === car.name),
    )
  line(
    '**those developed on**',
    outcomes.filter((o) => scoreCars.some((c) => c.name === o.car)),
  )
  line(
    '**the two unseen**',
    outcomes.filter((o) => unseenCars.some((c) => c.name === o.car)),
  )
}

function lintTable(goods: ReturnType<typeof goodTune>[]): void {
  console.log('\n### Checks of a tune\n')
  row('wrong in one thing', 'named in the first three findings')
  rule(2)
  let hits = 0
  let trials = 0
  const missed: string[] = []
  for (const wrong of wrongTunes) {
    const tried = allCars.filter((car) => wrong.only?.(car) ?? true)
    const named = tried.filter((car) => wrongIsNamed(wrong, car).named)
    hits += named.length
    trials += tried.length
    if (named.length < tried.length)
      missed.push(
        `${wrong.name}: ${tried
          .filter((c) => !named.includes(c))
          .map((c) => c.name)
          .join('; ')}`,
      )
  }
  row(`${wrongTunes.length} wrong tunes, each on every car it fits`, shareOf(hits, trials))
  for (const learned of [false, true]) {
    const list = goods.filter((g) => g.learned === learned)
    for (const severity of ['stop', 'warn'])
      row(
        `${learned ? 'learned' : 'computed'} good tunes of varied cars with a false ${severity}`,
        shareOf(list.filter((g) => g.found.some((f) => f.severity === severity)).length, list.length),
      )
  }
  for (const line of missed) console.log(`\nNot named: ${line}.`)
  const false_ = goods.filter((g) => g.found.length)
  for (const g of false_.slice(0, 12))
    console.log(`\nFalse: ${g.car}${g.learned ? ', learned' : ''}: ${g.found.map((f) => `${f.severity} ${f.code}`).join(', ')}.`)
}

function startTable(outcomes: StartOutcome[]): void {
  console.log('\n### Causes of a bad start\n')
  row('fault', 'cause in the first three at once', 'after the steps named', 'first after them', 'steps, minutes (mean)', 'changed nothing')
  rule(6)
  const line = (name: string, list: StartOutcome[]) => {
    const changed = list.filter((o) => !o.unchanged)
    if (!changed.length) return
    const mean = (of: (o: StartOutcome) => number) => (changed.reduce((a, o) => a + of(o), 0) / changed.length).toFixed(1)
    row(
      name,
      shareOf(changed.filter((o) => o.placeAtFirst >= 0).length, changed.length),
      shareOf(changed.filter((o) => o.place >= 0).length, changed.length),
      shareOf(changed.filter((o) => o.place === 0).length, changed.length),
      `${mean((o) => o.steps.length)}, ${mean((o) => o.minutes)}`,
      list.length - changed.length,
    )
  }
  const faulty = outcomes.filter((o) => o.fault !== null)
  for (const fault of [...new Set(faulty.map((o) => o.fault!))])
    line(
      benchFaults[fault].title,
      faulty.filter((o) => o.fault === fault),
    )
  line('**all**', faulty)
  const sound = outcomes.filter((o) => o.fault === null)
  console.log(`\nSound cars said to run well: ${shareOf(sound.filter((o) => o.unchanged).length, sound.length)}.`)
  const still = [...new Set(faulty.map((o) => o.fault!))].filter((f) => faulty.filter((o) => o.fault === f).every((o) => o.unchanged))
  console.log(`\nFaults tried that change no start: ${still.map((f) => benchFaults[f].title.toLowerCase()).join(', ') || 'none'}.`)
  console.log(`\nFaults that First start is not asked to name: ${unasked.map((f) => benchFaults[f].title.toLowerCase()).join(', ')}.`)
  const groups = Object.values(causeOf)
    .filter((g) => g.length > 1)
    .map((g) => g.join(' or '))
  console.log(`\nCauses that only work at the thing itself parts, counted as one: ${[...new Set(groups)].join('; ')}.`)
}

/** Of units with nothing wrong: whether settled is said in time, and whether it is true. */
function soundUnits(all: SettledOutcome[]): void {
  row(
    'car',
    'said settled within 80 min',
    'false: true error over 3.3 % then',
    'truly under 2.5 % for good',
    'said within 1.3 times that driving',
    'a poison named after half an hour, though there is none',
  )
  rule(6)
  const line = (name: string, list: SettledOutcome[]) => {
    const said = list.filter((o) => saidSettledAt(o) !== null)
    const truly = list.filter((o) => trulySettledAt(o) !== null)
    row(
      name,
      shareOf(said.length, list.length),
      shareOf(said.filter(falselySettled).length, said.length),
      shareOf(truly.length, list.length),
      shareOf(truly.filter((o) => (saidSettledAt(o) ?? Infinity) <= 1.3 * trulySettledAt(o)!).length, truly.length),
      shareOf(list.filter(falselyUnsound).length, list.length),
    )
  }
  for (const car of settleCars)
    line(
      car.name,
      all.filter((o) => o.car === car.name),
    )
  line('**all**', all)
}
function settledTable(all: readonly NonNullable<Done['settled']>[]): void {
  console.log('\n### A unit that learns by itself: settled, or not\n')
  soundUnits(all.filter((a) => a.poison === null).map((a) => a.outcome))
  console.log('\n')
  row(
    'poison',
    'named by the log alone',
    'named by the log or a check asked beside it, before settled is said',
    'said settled all the same',
  )
  rule(4)
  const poisonLine = (name: string, list: typeof all) =>
    row(
      name,
      shareOf(list.filter((a) => namedInTime(a.outcome, poisons[a.poison!]).byLog).length, list.length),
      shareOf(list.filter((a) => namedInTime(a.outcome, poisons[a.poison!]).inTime).length, list.length),
      shareOf(list.filter((a) => saidSettledAt(a.outcome) !== null).length, list.length),
    )
  const spoilt = all.filter((a) => a.poison !== null)
  poisons.forEach(({ fault, size }, k) =>
    poisonLine(
      `${benchFaults[fault].title}${size === undefined ? '' : `, ${size} ${benchFaults[fault].size?.unit ?? ''}`}`,
      spoilt.filter((a) => a.poison === k),
    ),
  )
  poisonLine('**all**', spoilt)
}

/** Simulated minutes until learning has converged, by car, school and way of driving. */
function drivenTable(all: DrivenOutcome[]): void {
  const mean = (list: readonly number[]) => (list.length ? (list.reduce((a, b) => a + b, 0) / list.length).toFixed(0) : '')
  console.log('\n### What to drive next: minutes until it has converged\n')
  console.log(`| car | who corrects | ${ways.join(' | ')} |`)
  console.log(`| --- | --- | ${ways.map(() => '---').join(' | ')} |`)
  const line = (name: string, school: School, of: readonly DrivenOutcome[]) =>
    console.log(
      `| ${name} | ${school === 'itself' ? 'the unit' : 'tables'} | ${ways
        .map((way) => {
          const own = of.filter((o) => o.way === way && o.school === school)
          const there = own.filter((o) => o.minutes !== null)
          const proven = mean(own.map((o) => o.provenUsePct))
          const when = there.length ? `${mean(there.map((o) => o.minutes!))} min in ${there.length} of ${own.length}` : 'not in two hours'
          return `${when}; ${proven} % of the use proven`
        })
        .join(' | ')} |`,
    )
  for (const school of schools) {
    drivenCars.forEach(({ name }, car) =>
      line(
        name,
        school,
        all.filter((o) => o.car === car),
      ),
    )
    line('all', school, all)
  }
  const drives = all.filter((o) => o.way === 'plan').reduce((sum, o) => sum + o.drives, 0)
  const unsound = all.filter((o) => o.way === 'plan').reduce((sum, o) => sum + o.unsound, 0)
  console.log(`\nDrives by plan of these sound cars that were called unsound: ${shareOf(unsound, drives)}.`)
}

function diagnoseTable(all: NonNullable<Done['diagnose']>[], sizes: NonNullable<Done['least']>[]): void {
  console.log('\n### What a log is wrong by\n')
  row('made wrong', 'sizes', 'cause or its group first', 'among the first three', 'called unsound')
  rule(5)
  const sizesOf = (trial: number): string => {
    const made = sizes.flatMap((s) => s.sizes[trial] ?? []).map((v) => Number(v.toPrecision(2)))
    return made.length ? `${Math.min(...made)} to ${Math.max(...made)}` : ''
  }
  const line = (name: string, list: typeof all, made = '') =>
    row(
      name,
      made,
      shareOf(list.filter((o) => o.place === 0).length, list.length),
      shareOf(list.filter((o) => o.place >= 0 && o.place < 3).length, list.length),
      shareOf(list.filter((o) => !o.sound).length, list.length),
    )
  const ran = all.filter((o) => !o.unchanged)
  diagnoseTrials.forEach((trial, k) =>
    line(
      trialName(trial),
      ran.filter((o) => o.trial === k),
      sizesOf(k),
    ),
  )
  const faulty = ran.filter((o) => o.trial !== null)
  for (const times of [1.5, 3, 6])
    line(
      `**all with a size, ${times} times**`,
      faulty.filter((o) => diagnoseTrials[o.trial!].times === times),
    )
  line('**all**', faulty)
  for (const first of [true, false]) {
    const sound = ran.filter((o) => o.trial === null && o.first === first)
    console.log(
      `\nSound ${first ? 'first drives' : 'drives after one correction'} called unsound: ${shareOf(sound.filter((o) => !o.sound).length, sound.length)}.`,
    )
  }
  console.log(`\nDrives that did not run far enough for a log: ${all.length - ran.length}.`)
}

if (isMainThread) {
  const quick = process.argv.includes('--quick')
  const at = process.argv.indexOf('--first')
  const first = at > 0 ? Number(process.argv[at + 1]) : FIRST_SEED
  const most = process.argv.includes('--seeds') ? Number(process.argv[process.argv.indexOf('--seeds') + 1]) : Infinity
  const count = (n: number) => Math.min(most, quick ? Math.max(1, Math.round(n / 10)) : n)
  const seeds = (n: number) => Array.from({ length: n }, (_, i) => first + i)
  const only = process.argv.includes('--only') ? process.argv[process.argv.indexOf('--only') + 1] : null
  const all: Job[] = [
    ...settleCars.flatMap((_, car) => [
      ...seeds(count(SEEDS.settled)).map((seed) => ({ kind: 'settled', car, seed, poison: null }) as const),
      ...seeds(count(SEEDS.answered)).map((seed) => ({ kind: 'answered', car, seed }) as const),
      ...seeds(count(SEEDS.poisoned)).flatMap((seed) => poisons.map((_, poison) => ({ kind: 'settled', car, seed, poison }) as const)),
    ]),
    ...diagnoseCars.flatMap((_, car) => [
      // sound drives tell of false alarms, which are few: more of them
      ...seeds(Math.min(quick ? SEEDS.sound / 10 : SEEDS.sound, SOUND_FOR_EACH * most)).flatMap((seed) =>
        [true, false].map((asFirst) => ({ kind: 'diagnose', car, seed, trial: null, first: asFirst }) as const),
      ),
      ...seeds(count(SEEDS.diagnose)).flatMap((seed) =>
        [...diagnoseTrials.keys()].map((trial) => ({ kind: 'diagnose', car, seed, trial, first: false }) as const),
      ),
    ]),
    ...drivenCars.flatMap((_, car) =>
      seeds(count(SEEDS.driven)).flatMap((seed) =>
        schools.flatMap((school) => ways.map((way) => ({ kind: 'driven', car, seed, way, school }) as const)),
      ),
    ),
    ...idleCars.flatMap((_, car) => [
      ...seeds(Math.min(quick ? SEEDS.soundIdle / 10 : SEEDS.soundIdle, SOUND_FOR_EACH * most)).map(
        (seed) => ({ kind: 'idle', car, seed, trial: null }) as const,
      ),
      ...seeds(count(SEEDS.idle)).flatMap((seed) => [...idleTrials.keys()].map((trial) => ({ kind: 'idle', car, seed, trial }) as const)),
    ]),
    ...trialCars.flatMap((_, car) => seeds(count(SEEDS.trial)).map((seed) => ({ kind: 'trial', car, seed }) as const)),
    ...drivenCars.flatMap((_, car) => seeds(count(SEEDS.steps)).map((seed) => ({ kind: 'steps', car, seed }) as const)),
    ...drivenCars.flatMap((_, car) => seeds(count(SEEDS.oneChange)).map((seed) => ({ kind: 'one-change', car, seed }) as const)),
    ...drivenCars.flatMap((_, car) => seeds(count(SEEDS.cold)).map((seed) => ({ kind: 'cold', car, seed }) as const)),
    ...drivenCars.flatMap((_, car) =>
      seeds(count(SEEDS.startMoves)).flatMap((seed) =>
        Array.from({ length: startMoveTrials }, (_t, trial) => ({ kind: 'start-moves', car, seed, trial }) as const),
      ),
    ),
    ...allCars.flatMap((_, car) => seeds(count(SEEDS.tune)).map((seed) => ({ kind: 'tune', car, seed }) as const)),
    ...seeds(count(SEEDS.good)).map((seed, i) => ({ kind: 'good', seed, learned: i % 2 === 1 }) as const),
    ...startCars().flatMap((_, car) =>
      seeds(count(SEEDS.start)).flatMap((seed) =>
        [null, ...startTrials.keys()].map((trial) => ({ kind: 'start', car, seed, trial }) as const),
      ),
    ),
  ]
  const chosen = all.filter((job) => only === null || job.kind === only)
  // how large a fault has to be is known before it is made
  const sized = chosen.some((job) => job.kind === 'diagnose')
    ? (await inThreads(diagnoseCars.map((_, car) => ({ kind: 'least', car }) as const))).flatMap((d) => d.least ?? [])
    : []
  const sizeOf = (car: number, trial: number) => sized.find((s) => s.car === car)!.sizes[trial]
  const jobs = chosen.flatMap((job): Job[] => {
    if (job.kind !== 'diagnose' || job.trial === null) return [job]
    const size = sizeOf(job.car, job.trial)
    return size === null ? [] : [size === undefined ? job : { ...job, size }]
  })
  const done = await inThreads(jobs)
  console.log(`Seeds from ${first}; shares with 95 % intervals (Wilson).`)
  const wanted = (...kinds: Job['kind'][]) => only === null || kinds.some((k) => k === only)
  if (only === null || only === 'light') console.log(`\n${lightTable(count(LIGHT_TRIALS), first)}\n`)
  if (only === null || only === 'scope') console.log(`\n${scopeTable(count(SCOPE_TRIALS), first)}\n`)
  if (only === null || only === 'wiring') console.log(`\n${wiringTable(count(WIRING_TRIALS), first)}\n`)
  if (only === null || only === 'fitup') console.log(`\n${fitupTable(count(FITUP_TRIALS), first)}\n`)
  if (only === null || only === 'suspects') console.log(`\n${suspectsTable(count(SUSPECT_TRIALS), first)}\n`)
  if (wanted('tune')) tuneTable(done.flatMap((d) => d.tune ?? []))
  if (wanted('good')) lintTable(done.flatMap((d) => d.good ?? []))
  if (wanted('start')) startTable(done.flatMap((d) => d.start ?? []))
  if (wanted('diagnose'))
    diagnoseTable(
      done.flatMap((d) => d.diagnose ?? []),
      sized,
    )
  if (wanted('idle'))
    console.log(
      `\n${idleTables(
        done.flatMap((d) => d.idle ?? []),
        first,
      )}\n`,
    )
  if (wanted('driven')) drivenTable(done.flatMap((d) => d.driven ?? []))
  if (wanted('trial')) console.log(`\n${trialTable(done.flatMap((d) => d.trial ?? []))}\n`)
  if (wanted('one-change')) console.log(`\n${oneChangeTable(done.flatMap((d) => d.oneChange ?? []))}\n`)
  if (wanted('steps')) console.log(`\n${stepsTable(done.flatMap((d) => d.steps ?? []))}\n`)
  if (wanted('start-moves')) console.log(`\n${startMovesTable(done.flatMap((d) => d.startMoves ?? []))}\n`)
  if (wanted('cold')) console.log(`\n${warmUpTable(done.flatMap((d) => d.cold ?? []))}\n`)
  if (wanted('settled')) settledTable(done.flatMap((d) => d.settled ?? []))
  if (wanted('answered')) {
    console.log('\n### A unit that learns over a base it made itself of answers\n')
    soundUnits(done.flatMap((d) => d.answered ?? []))
  }
} else {
  const mine = workerData as Job[]
  parentPort!.postMessage(
    mine.map((job) => {
      const one = work(job)
      parentPort!.postMessage('one')
      return one
    }),
  )
}
