import { Random } from '../src/kernel/index.ts'
import { type Bench, benchDrive, everydayDrive, stepDrive } from '../src/bench/index.ts'
import { applyColdSteps, applyCorrection, applyLength, applySteps, judgeSteps, learnSetup, solveWithSetup } from '../src/learn/index.ts'
import { stepsIn } from '../src/learn/steps/steps.ts'
import { defaultLimits, judgeSamples } from '../src/samples/index.ts'
import { computeBaseTune, type TuneDocument } from '../src/tune/index.ts'
import { buildOf } from './cars.ts'
import { drivenCars } from './driven.ts'
import { shareOf, tableOf } from './interval.ts'

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
  length: LengthOutcome
}
/** From a length drawn anew, of the cold engine: by the charge's own mixture what comes too early or too late over a step, however much it is, %·s. */
interface LengthOutcome {
  fromS: number
  says: string
  endsS: number
  saysAtEnd: string
  /** a version with another length was made */
  moved: boolean
  offAtFirstPctS: number
  offAtEndPctS: number
}
const STEPS = 12
const SLOT_S = 0.2
const SLOTS = [...Array(8).keys()]
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
  const judged = judgeSteps(drive, tune.parameters.accelDecayS, judgeSamples(drive, { ...defaultLimits, coolantMinC: 70 }).causeMapKpa)
  const seen = fromC === undefined ? judged.steps : stepsIn(drive).filter((s) => s.coolantC! < 70 && Math.abs(s.mapApartPct) <= 4)
  const { lambdaTarget, mapKpa, enrichmentPct } = drive.channels
  const areas = seen.map(({ atS }) => {
    const at = drive.timeS[0] + atS
    const rows = (from: number, to: number) =>
      [...drive.timeS.keys()].filter((i) => drive.timeS[i] >= at + from && drive.timeS[i] < at + to)
    const lacks = (i: number) => 100 * (1 - truth[i] * lambdaTarget![i])
    const mean = (list: number[], of: (i: number) => number) => list.reduce((sum, i) => sum + of(i), 0) / list.length
    const [still, then] = [rows(-1, 0), rows(1.6, 2)]
    const [from, to] = [still, then].map((list) => mean(list, (i) => mapKpa![i]))
    // the map is another on the way to where the foot comes to rest
    const beyond = (of: (i: number) => number) => {
      const [before, after] = [mean(still, of), mean(then, of)]
      return (i: number) => of(i) - (before + (after - before) * Math.min(1, Math.max(0, (mapKpa![i] - from) / (to - from))))
    }
    const [missing, given] = [beyond(lacks), beyond((i) => enrichmentPct![i])]
    return [missing, given].map((of) =>
      SLOTS.map((slot) => rows(slot * SLOT_S, (slot + 1) * SLOT_S).reduce((sum, i) => sum + of(i) * 0.05, 0)),
    )
  })
  const [missing, given] = [0, 1].map((k) => SLOTS.map((slot) => areas.reduce((sum, a) => sum + a[k][slot], 0) / areas.length))
  const trulyPctS = missing.reduce((a, b) => a + b, 0)
  // what would come at the wrong moment, were it as much as fits best
  const wanted = missing.map((m, slot) => m + given[slot])
  const times = wanted.reduce((sum, w, slot) => sum + w * given[slot], 0) / given.reduce((sum, g) => sum + g * g, 0)
  return { judged, trulyPctS, offPctS: wanted.reduce((sum, w, slot) => sum + Math.abs(w - times * given[slot]), 0) }
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
    length: lengthFromCold(car, seed, tune, k),
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

function lengthFromCold(car: (typeof drivenCars)[number], seed: number, warm: TuneDocument, k: number): LengthOutcome {
  const random = new Random(seed * 41 + k)
  const fromS = Math.exp(Math.log(0.1) + random.next() * Math.log(12))
  const times = Math.sqrt(warm.parameters.accelDecayS / fromS)
  const { accelPctPer100, accelMapPctPer100 } = warm.parameters
  const amounts = { accelPctPer100: times * accelPctPer100, accelMapPctPer100: times * accelMapPctPer100 }
  let tune = { ...warm, parameters: { ...warm.parameters, ...amounts, accelDecayS: fromS, accelColdFactor: 1 + 3 * random.next() } }
  const fromC = 5 + (seed % 4) * 5
  const first = driven(car, seed, tune, fromC)
  let [now, moved] = [first, false]
  for (let drives = 1; drives < MOST_DRIVES; drives++) {
    const { length, cold } = now.judged
    const longer = length && applyLength(tune, length, 'score')
    const next = longer ?? applyColdSteps(tune, cold, 'score')
    if (!next) break
    moved ||= longer !== null
    tune = next
    now = driven(car, seed, tune, fromC)
  }
  const says = (of: typeof first) => of.judged.length?.says ?? 'not told'
  return {
    ...{ fromS, says: says(first), endsS: tune.parameters.accelDecayS, saysAtEnd: says(now), moved },
    ...{ offAtFirstPctS: first.offPctS, offAtEndPctS: now.offPctS },
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
  return `### What the fuel for throttle steps comes to\n\n${tableOf(head, rows)}\n\n${lengthTable(all)}`
}
/** What is called better, and what worse, of what is off at the wrong moment, %·s. */
const APART_PCT_S = 1
function lengthTable(all: readonly StepsOutcome[]): string {
  const line = (name: string, of: readonly StepsOutcome[]) => {
    const list = of.map((o) => o.length)
    const off = list.filter((o) => ['too-short', 'too-long'].includes(o.says))
    const moved = list.filter((o) => o.moved)
    const gain = (o: LengthOutcome) => o.offAtFirstPctS - o.offAtEndPctS
    const mean = (values: number[]) => (values.length ? (values.reduce((a, b) => a + b, 0) / values.length).toFixed(1) : '')
    return [
      name,
      shareOf(list.filter((o) => o.says === 'right').length, list.length),
      shareOf(off.length, list.length),
      shareOf(moved.length, list.length),
      `${mean(moved.map((o) => o.offAtFirstPctS))} to ${mean(moved.map((o) => o.offAtEndPctS))} %·s`,
      shareOf(moved.filter((o) => gain(o) >= APART_PCT_S).length, moved.length),
      shareOf(moved.filter((o) => gain(o) <= -APART_PCT_S).length, moved.length),
    ]
  }
  const head = [
    'length in the tune, s',
    'first drive: right',
    'first drive: off',
    'moved within five drives',
    'off at the wrong moment, before and after',
    'better by 1 %·s or more',
    'worse by 1 %·s or more',
  ]
  const bands = [
    [0, 0.2],
    [0.2, 0.5],
    [0.5, 1.3],
  ]
  const rows = bands.map(([from, to]) =>
    line(
      `${from ? from : 0.1} to ${to > 1.2 ? 1.2 : to}`,
      all.filter(({ length }) => length.fromS >= from && length.fromS < to),
    ),
  )
  return `### How long the fuel for a cold step lasts\n\n${tableOf(head, [...rows, line('**all**', all)])}`
}
