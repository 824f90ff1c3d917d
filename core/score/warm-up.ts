import { Random } from '../src/kernel/index.ts'
import { type Bench, benchDrive, warmUpDrive } from '../src/bench/index.ts'
import { applyWarmUp, judgeWarmUp, learnSetup, type WarmUpJudged } from '../src/learn/index.ts'
import type { TuneDocument } from '../src/tune/index.ts'
import { buildOf } from './cars.ts'
import { drivenCars } from './driven.ts'
import { shareOf, tableOf } from './interval.ts'
import { learned } from './steps.ts'

type Band = WarmUpJudged['bands'][number]
export interface WarmUpOutcome {
  car: string
  /** fuel for a cold engine at the start, over the base tune's */
  times: number
  says: WarmUpJudged['says']
  /** bands told of by the first drive: what was judged missing, its error, what truly was, % */
  told: { says: Band['says']; missingPct: number; errorPct: number; trulyPct: number }[]
  /** cold starts until it was said to be right; null: not within six */
  starts: number | null
  /** what was truly missing in each band by then, % */
  leftPct: number[]
}
const MOST_STARTS = 6
const MINUTES = 14
/** What a cold engine may be off by, and what a judged band may be off by, %. */
const MAY = { leanPct: 2, richPct: 8 }
const OFF_PCT = 1.5
/** The foot is still where it was all through so long, and after a start so much is left out, s. */
const STILL_S = 2.5
const STILL_PCT = 0.6
const AFTER_START_S = 30
const TRUE_LEAST_S = 4

/**
 * What was truly missing in bands of coolant: from the mixture of the charge itself, without pipe, sensor and noise, where the foot was still; on each
 * stretch of road held against the warm engine on the same one.
 */
function truth(
  { timeS, channels }: ReturnType<typeof benchDrive>,
  phi: readonly number[],
): (band: Pick<Band, 'fromC' | 'toC'>) => number | null {
  const { throttlePct, lambdaTarget, correctionPct, coolantC, fuelCut, speedKmh, gear, rpm } = channels
  const rows: { road: string; coolantC: number; lacks: number }[] = []
  let stillFrom = 0
  for (let i = 1; i < timeS.length; i++) {
    if (Math.abs(throttlePct![i] - throttlePct![stillFrom]) > STILL_PCT || fuelCut![i] > 0 || rpm![i] < 600) stillFrom = i
    if (timeS[i] - timeS[stillFrom] < STILL_S || timeS[i] - timeS[0] < AFTER_START_S) continue
    const road = `${gear![i]} ${Math.round(speedKmh![i] / 5)}`
    rows.push({ road, coolantC: coolantC![i], lacks: (1 / (phi[i] * lambdaTarget![i])) * (1 + (correctionPct?.[i] ?? 0) / 100) })
  }
  const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length
  const warm = new Map<string, number>()
  for (const road of new Set(rows.map((r) => r.road))) {
    const there = rows.filter((r) => r.road === road && r.coolantC >= 75).map((r) => r.lacks)
    if (there.length * 0.05 >= TRUE_LEAST_S) warm.set(road, mean(there))
  }
  return ({ fromC, toC }) => {
    const cold = rows.filter((r) => r.coolantC >= fromC && r.coolantC < toC && warm.has(r.road))
    return cold.length * 0.05 >= TRUE_LEAST_S ? 100 * (mean(cold.map((r) => r.lacks / warm.get(r.road)!)) - 1) : null
  }
}

function started(car: (typeof drivenCars)[number], seed: number, tune: TuneDocument, fromC: number) {
  const phi: number[] = []
  const build = buildOf({ ...car, choices: { ...car.choices, unit: { learns: 'nobody' } } }, seed)
  const drive = benchDrive(build, tune, warmUpDrive(MINUTES), { coolantC: fromC, onFrame: (bench: Bench) => phi.push(bench.chargePhi) })
  return { judged: judgeWarmUp(drive, learnSetup(build, tune), tune), truly: truth(drive, phi) }
}

/** From a fuel for a cold engine that is far too little or too much to one that is right, start by start, as the screen proposes. */
export function scoreWarmUp(k: number, seed: number): WarmUpOutcome {
  const car = drivenCars[k]
  const base = learned(car, seed)
  const random = new Random(seed * 53 + k)
  const times = 0.3 + 1.5 * random.next()
  const fromC = 5 + 20 * random.next()
  const warmupPct = base.parameters.warmupPct.map(([c, pct]): [number, number] => [c, pct * times])
  let tune: TuneDocument = { ...base, parameters: { ...base.parameters, warmupPct } }
  const first = started(car, seed, tune, fromC)
  let now = first
  let starts = 1
  for (; now.judged.says === 'off' && now.judged.next && starts < MOST_STARTS; starts++) {
    tune = applyWarmUp(tune, now.judged.next, 'score')
    now = started(car, seed, tune, fromC)
  }
  const known = ({ judged, truly }: typeof first) =>
    judged.bands.flatMap((b) => {
      const trulyPct = b.says === 'unsure' ? null : truly(b)
      return trulyPct === null ? [] : [{ says: b.says, missingPct: b.missingPct, errorPct: b.errorPct, trulyPct }]
    })
  return {
    ...{ car: car.name, times, says: first.judged.says, told: known(first) },
    ...{ starts: now.judged.says === 'right' ? starts : null, leftPct: known(now).map((b) => b.trulyPct) },
  }
}

/** The table of how often it is right, in Markdown. */
export function warmUpTable(all: readonly WarmUpOutcome[]): string {
  const line = (name: string, list: readonly WarmUpOutcome[]) => {
    const bands = list.flatMap((o) => o.told)
    const alarms = bands.filter((b) => b.says !== 'right')
    const ended = list.filter((o) => o.starts !== null)
    const rms = Math.sqrt(bands.reduce((sum, b) => sum + (b.missingPct - b.trulyPct) ** 2, 0) / bands.length)
    const left = ended.flatMap((o) => o.leftPct)
    return [
      name,
      shareOf(list.filter((o) => o.says === 'off' || o.says === 'right').length, list.length),
      `${rms.toFixed(1)} %`,
      shareOf(bands.filter((b) => Math.abs(b.missingPct - b.trulyPct) <= OFF_PCT + 2 * b.errorPct).length, bands.length),
      shareOf(alarms.filter((b) => b.trulyPct < MAY.leanPct - OFF_PCT && b.trulyPct > -MAY.richPct + OFF_PCT).length, alarms.length),
      shareOf(ended.length, list.length),
      (ended.reduce((sum, o) => sum + o.starts!, 0) / ended.length).toFixed(1),
      shareOf(left.filter((pct) => pct <= MAY.leanPct + OFF_PCT && pct >= -MAY.richPct - OFF_PCT).length, left.length),
    ]
  }
  const head = [
    'car',
    'told by one start',
    'rms off the truth',
    'within 1.5 % and its error',
    'called off, truly well inside',
    'right within six starts',
    'starts (mean)',
    'bands then truly right',
  ]
  const names = [...new Set(all.map((o) => o.car))]
  const of = (name: string) => all.filter((o) => o.car === name)
  const rows = [...names.map((name) => line(name, of(name))), line('**all**', all)]
  return `### What the fuel for a cold engine comes to\n\n${tableOf(head, rows)}`
}
