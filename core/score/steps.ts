import { Random } from '../src/kernel/index.ts'
import { type Bench, benchDrive, everydayDrive, stepDrive } from '../src/bench/index.ts'
import { applyColdSteps, applyCorrection, applySteps, judgeSteps, learnSetup, solveWithSetup } from '../src/learn/index.ts'
import { stepsIn } from '../src/learn/steps/steps.ts'
import { defaultLimits, judgeSamples } from '../src/samples/index.ts'
import { computeBaseTune, type TuneDocument } from '../src/tune/index.ts'
import { buildOf } from './cars.ts'
import { drivenCars } from './driven.ts'
import { shareOf } from './interval.ts'

export interface StepsOutcome {
  car: string
  /** fuel for a step at the start, over the base tune's */
  from: number
  /** of the first drive: what was judged missing, its standard error, and what really was, %·s */
  judgedPctS: number
  errorPctS: number
  trulyPctS: number
  says: string
  /** drives until it was said to be right; null: not within five */
  drives: number | null
  /** what was truly missing over a step by then, %·s */
  leftPctS: number
  /** then from cold, with a factor drawn anew: of the first drive, and by when it was said to be right */
  cold: { from: number; says: string; judgedPctS: number; errorPctS: number; trulyPctS: number; drives: number | null; leftPctS: number }
}
const STEPS = 12
const MOST_DRIVES = 5
const LEARNED_DRIVES = 4
/** What is felt, and what a judged area may be off by. */
const FELT_PCT_S = 2
const OFF_PCT_S = 1.5

/** One drive of steps, warm or on the way there, with the charge's own mixture beside it: without the pipe, the sensor and its noise. */
function driven(car: (typeof drivenCars)[number], seed: number, tune: TuneDocument, fromC?: number) {
  const truth: number[] = []
  const build = buildOf({ ...car, choices: { ...car.choices, unit: { learns: 'nobody' } } }, seed)
  const drive = benchDrive(build, tune, stepDrive(STEPS, { cold: fromC !== undefined }), {
    coolantC: fromC ?? 82,
    onFrame: (bench: Bench) => truth.push(bench.chargePhi),
  })
  const judged = judgeSteps(drive, judgeSamples(drive, { ...defaultLimits, coolantMinC: 70 }).causeMapKpa)
  const seen = fromC === undefined ? judged.steps : stepsIn(drive).filter((s) => s.coolantC! < 70 && Math.abs(s.mapApartPct) <= 4)
  const { lambdaTarget, mapKpa } = drive.channels
  const areas = seen.map(({ atS }) => {
    const at = drive.timeS[0] + atS
    const rows = (from: number, to: number) =>
      [...drive.timeS.keys()].filter((i) => drive.timeS[i] >= at + from && drive.timeS[i] < at + to)
    const lacks = (i: number) => 100 * (1 - truth[i] * lambdaTarget![i])
    const mean = (list: number[]) => list.reduce((sum, i) => sum + lacks(i), 0) / list.length
    const [before, then] = [mean(rows(-1, 0)), mean(rows(1.6, 2))]
    const map = (list: number[]) => list.reduce((sum, i) => sum + mapKpa![i], 0) / list.length
    const [from, to] = [map(rows(-1, 0)), map(rows(1.6, 2))]
    // the map is another on the way to where the foot comes to rest
    return rows(0, 1.6).reduce(
      (sum, i) => sum + (lacks(i) - (before + (then - before) * Math.min(1, Math.max(0, (mapKpa![i] - from) / (to - from))))) * 0.05,
      0,
    )
  })
  return { judged, trulyPctS: areas.reduce((a, b) => a + b, 0) / areas.length }
}

/** The map is learned first, as the screen asks: everyday drives, a correction after each. */
export function learned(car: (typeof drivenCars)[number], seed: number): TuneDocument {
  let tune = computeBaseTune(car.facts, car.choices)
  const build = buildOf({ ...car, choices: { ...car.choices, unit: { learns: 'nobody' } } }, seed)
  for (let k = 0; k < LEARNED_DRIVES; k++) {
    const drive = benchDrive(build, tune, everydayDrive(15, seed * 7 + k), { coolantC: 60 })
    tune = applyCorrection(tune, solveWithSetup(drive, learnSetup(build, tune)), 'score').tune
  }
  return tune
}

/** From a fuel for steps that is far too little or too much to one that is right, drive by drive, as the screen proposes. */
export function scoreSteps(k: number, seed: number): StepsOutcome {
  const car = drivenCars[k]
  const base = learned(car, seed)
  const from = Math.exp(Math.log(0.1) + new Random(seed * 31 + k).next() * Math.log(40))
  const { accelPctPer100, accelMapPctPer100 } = base.parameters
  let tune = {
    ...base,
    parameters: { ...base.parameters, accelPctPer100: from * accelPctPer100, accelMapPctPer100: from * accelMapPctPer100 },
  }
  const first = driven(car, seed, tune)
  let now = first
  let drives = 1
  for (; now.judged.says !== 'right' && drives < MOST_DRIVES; drives++) {
    const next = now.judged.times === null ? null : applySteps(tune, now.judged.times, 'score')
    tune = next ?? tune
    now = driven(car, seed, tune)
  }
  const factor = 1 + 5 * new Random(seed * 37 + k).next()
  const coldTune = { ...tune, parameters: { ...tune.parameters, accelColdFactor: factor } }
  return {
    cold: fromCold(car, seed, coldTune),
    ...{ car: car.name, from, says: first.judged.says, judgedPctS: first.judged.missingPctS, errorPctS: first.judged.errorPctS },
    ...{ trulyPctS: first.trulyPctS, drives: now.judged.says === 'right' ? drives : null, leftPctS: now.trulyPctS },
  }
}

function fromCold(car: (typeof drivenCars)[number], seed: number, start: TuneDocument): StepsOutcome['cold'] {
  const fromC = 5 + (seed % 4) * 5
  const first = driven(car, seed, start, fromC)
  let [now, tune, drives] = [first, start, 1]
  for (; now.judged.cold.says !== 'right' && drives < MOST_DRIVES; drives++) {
    const next = applyColdSteps(tune, now.judged.cold, 'score')
    // at its end a factor asks for no more
    if (!next) break
    tune = next
    now = driven(car, seed, tune, fromC)
  }
  const { says, missingPctS, errorPctS } = first.judged.cold
  return {
    ...{ from: start.parameters.accelColdFactor, says, judgedPctS: missingPctS, errorPctS, trulyPctS: first.trulyPctS },
    ...{ drives: now.judged.cold.says === 'right' ? drives : null, leftPctS: now.trulyPctS },
  }
}

/** The table of how often it is right, in Markdown. */
export function stepsTable(all: readonly StepsOutcome[]): string {
  const told = (list: readonly StepsOutcome[]) => list.filter((o) => !['too-few', 'map-first', 'unsure'].includes(o.says))
  const line = (name: string, list: readonly StepsOutcome[]) => {
    const known = told(list)
    const ended = list.filter((o) => o.drives !== null)
    const rms = Math.sqrt(known.reduce((sum, o) => sum + (o.judgedPctS - o.trulyPctS) ** 2, 0) / known.length)
    return [
      name,
      shareOf(known.length, list.length),
      `${rms.toFixed(1)} %·s`,
      shareOf(known.filter((o) => Math.abs(o.judgedPctS - o.trulyPctS) <= OFF_PCT_S + 2 * o.errorPctS).length, known.length),
      shareOf(ended.length, list.length),
      (ended.reduce((sum, o) => sum + o.drives!, 0) / ended.length).toFixed(1),
      shareOf(ended.filter((o) => Math.abs(o.leftPctS) <= FELT_PCT_S + OFF_PCT_S).length, ended.length),
    ]
  }
  const head = [
    'car',
    'told by one drive',
    'rms off the truth',
    'within 1.5 %·s and its error',
    'right within five drives',
    'drives (mean)',
    'then truly within 3.5 %·s',
  ]
  const names = [...new Set(all.map((o) => o.car))]
  const fromColdOf = all.map((o) => ({ ...o, ...o.cold }))
  const rows = [
    ...names.map((name) =>
      line(
        name,
        all.filter((o) => o.car === name),
      ),
    ),
    line('**all**', all),
    line('**from cold**', fromColdOf),
  ]
  const cells = (list: readonly string[]) => `| ${list.join(' | ')} |`
  return `### What the fuel for throttle steps comes to\n\n${[cells(head), cells(head.map(() => '---')), ...rows.map(cells)].join('\n')}`
}
