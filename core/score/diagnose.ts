import { type BenchChoices, benchDrive, benchFaults, everydayDrive, type FaultId } from '../src/bench/index.ts'
import { type Cause, diagnose, type Diagnosis } from '../src/diagnose/index.ts'
import { applyCorrection, learnSetup, solveWithSetup } from '../src/learn/index.ts'
import type { LogData } from '../src/logfile/index.ts'
import { defaultLimits, judgeSamples } from '../src/samples/index.ts'
import { computeBaseTune, type TuneDocument } from '../src/tune/index.ts'
import { buildOf, type ScoreCar, scoreCars } from './cars.ts'
import { leastSizes, mostOf, type Sized } from './least-size.ts'

/** Six cars of the score, unlike each other. */
export const diagnoseCars = [0, 2, 4, 5, 7, 12].map((k) => scoreCars[k])
const DRIVE_MIN = 15
const COLD_C = 30

type Log = Pick<LogData, 'timeS' | 'channels'>
interface Driven {
  car: ScoreCar
  seed: number
  log: Log
  tune: TuneDocument
}
/** One thing that a log may be wrong by, made on the bench or of its log. */
export interface DiagnoseTrial {
  cause: Cause
  fault?: FaultId
  size?: number
  /** its size is so many times the least that a test of likelihood ratios finds on this car */
  sized?: Sized
  times?: number
  /** a tune other than the base tune that is driven */
  drives?: (tune: TuneDocument) => TuneDocument
  /** what the log lacks */
  without?: 'correctionPct' | 'learnedPct'
  /** another car is driven than the one the log is held against */
  otherCar?: boolean
}
const withVe = (tune: TuneDocument, of: (v: number, c: number) => number): TuneDocument => ({
  ...tune,
  tables: { ...tune.tables, ve: tune.tables.ve.map(of) },
  ...(tune.runner ? { runner: { ...tune.runner, ve: tune.runner.ve.map(of) } } : {}),
})
const leanerBy =
  (pct: number) =>
  (tune: TuneDocument): TuneDocument =>
    withVe(tune, (v, c) => v * (1 + (pct / 100) * Math.sin(c)))
const narrowLoop = (tune: TuneDocument): TuneDocument => ({
  ...withVe(tune, (v, c) => v * (c % 12 < 6 ? 0.9 : 1.02)),
  parameters: { ...tune.parameters, loopAuthorityPct: 4 },
})
const of = (cause: Cause, fault: FaultId, size?: number): DiagnoseTrial => ({ cause, fault, ...(size === undefined ? {} : { size }) })
const TIMES = [1.5, 3, 6] as const
const LEAST_SEED = 1

/** Faults of any size, each with a size that is clear to see. A thin pump wire and a clogged filter are not among them: on an everyday road they do nothing. */
const sizedTrials: readonly (Sized & { cause: Cause })[] = [
  { cause: 'sensor-slow', fault: 'sensor-lazy', none: 1, clear: 8, shows: 'moving-need' },
  { cause: 'sensor-drift', fault: 'sensor-drifts', none: 0, clear: 1 },
  { cause: 'sensor-drift', fault: 'sensor-drifts', none: 0, clear: -1 },
  { cause: 'sensor-offset', fault: 'sensor-contaminated', none: 0, clear: 8 },
  { cause: 'sensor-offset', fault: 'sensor-contaminated', none: 0, clear: -12 },
  { cause: 'exhaust-leak', fault: 'exhaust-leak', none: 0, clear: 30 },
  { cause: 'false-air', fault: 'runner-leak', none: 0, clear: 30 },
  { cause: 'misfire', fault: 'lean-cylinder', none: 0, clear: 60, shows: 'crank-shake' },
  { cause: 'injector-flow', fault: 'injector-size', none: 100, clear: 85 },
  { cause: 'injector-flow', fault: 'injector-size', none: 100, clear: 118 },
  { cause: 'fuel-pressure', fault: 'pressure-low', none: 100, clear: 80 },
  { cause: 'dead-time', fault: 'injectors-late', none: 0, clear: 0.4 },
  { cause: 'dead-time', fault: 'injectors-late', none: 0, clear: -0.3 },
  { cause: 'air-temperature', fault: 'air-sensor', none: 0, clear: 40 },
  { cause: 'air-temperature', fault: 'air-sensor', none: 0, clear: -40 },
  { cause: 'coolant-temperature', fault: 'coolant-sensor', none: 0, clear: -25 },
  { cause: 'coolant-temperature', fault: 'coolant-sensor', none: 0, clear: 30 },
  { cause: 'map-hose', fault: 'map-hose-pinched', none: 0, clear: 0.3, shows: 'moving-need' },
  { cause: 'map-hose', fault: 'map-hose-leaks', none: 0, clear: 15 },
  { cause: 'fuel-blend', fault: 'fuel-blend', none: 0, clear: 40 },
  { cause: 'heat-soak', fault: 'air-sensor-soaked', none: 0, clear: 60 },
  { cause: 'charge-model', fault: 'charge-warmed', none: 0, clear: 30 },
  { cause: 'purge', fault: 'purge', none: 0, clear: 60 },
]
export const diagnoseTrials: readonly DiagnoseTrial[] = [
  ...sizedTrials.flatMap((sized) => TIMES.map((times): DiagnoseTrial => ({ cause: sized.cause, fault: sized.fault, sized, times }))),
  of('sensor-stuck', 'sensor-stuck', 100),
  of('sensor-stuck', 'sensor-stuck', 96),
  of('sensor-cold', 'sensor-cold'),
  of('coolant-temperature', 'coolant-stuck', 40),
  of('map-hose', 'map-ported'),
  { cause: 'trim-pegged', drives: narrowLoop },
  { cause: 'learned-apart', fault: 'engine-breathes', size: 12, without: 'learnedPct' },
  { cause: 'no-trim-column', without: 'correctionPct' },
  { cause: 'other-tune', drives: leanerBy(12) },
  { cause: 'other-car', otherCar: true },
]
/** Size of each trial on a car; undefined where it has none, null where the fault cannot be made so large. Tells the least sizes from development seeds. */
export function trialSizes(car: ScoreCar): (number | null | undefined)[] {
  const leastOf = leastSizes(car, LEAST_SEED, (seed) => correctedOnce(car, seed))
  const least = new Map(sizedTrials.map((sized) => [sized as Sized, leastOf(sized)]))
  return diagnoseTrials.map(({ sized, times, size }) => {
    if (!sized) return size
    const by = times! * least.get(sized)!
    const { min } = benchFaults[sized.fault].size!
    const made = sized.none + Math.sign(sized.clear - sized.none) * by
    return by <= mostOf(sized) && made >= min ? made : null
  })
}
export const trialName = ({ cause, fault, size, sized, times }: DiagnoseTrial): string =>
  `${cause}${fault ? `, ${fault}` : ''}${sized ? ` ${sized.clear > sized.none ? 'up' : 'down'}, ${times} times` : size === undefined ? '' : ` ${size}`}`

const noTelltales = ({ timeS, channels }: Log, keep: { learned: boolean }): Log => {
  const { fuelPressureKpa: _, enrichmentPct: __, learnedPct, ...kept } = channels
  // what a logger seldom has: the bench's own stream would tell too much
  return { timeS, channels: { ...kept, ...(keep.learned && learnedPct ? { learnedPct } : {}) } }
}
const settledTunes = new Map<string, TuneDocument>()
/** A tune as it is after one drive and its correction: that is when most faults come. The bench's truth is not looked at. */
export function correctedOnce(car: ScoreCar, seed: number): TuneDocument {
  const key = `${car.name} ${seed}`
  const known = settledTunes.get(key)
  if (known) return known
  const tune = computeBaseTune(car.facts, car.choices)
  const log = benchDrive(buildOf(car, seed), tune, everydayDrive(DRIVE_MIN, seed * 71), { coolantC: COLD_C })
  const setup = learnSetup(car, tune)
  const corrected = applyCorrection(tune, solveWithSetup(noTelltales(log, { learned: false }), setup), 'one drive').tune
  settledTunes.set(key, corrected)
  return corrected
}

/** @param first driven on the base tune, nothing learned yet */
export function driven(car: ScoreCar, seed: number, trial: DiagnoseTrial | null, first: boolean): Driven {
  const tune = first ? computeBaseTune(car.facts, car.choices) : correctedOnce(car, seed)
  const bench: BenchChoices | undefined = trial?.fault
    ? { faults: [{ id: trial.fault, ...(trial.size === undefined ? {} : { size: trial.size }) }] }
    : undefined
  const learns = trial?.cause === 'learned-apart' ? 'itself' : 'trim'
  const drives = trial?.otherCar ? diagnoseCars[(diagnoseCars.indexOf(car) + 3) % diagnoseCars.length] : car
  const inIt = trial?.otherCar ? computeBaseTune(drives.facts, drives.choices) : (trial?.drives?.(tune) ?? tune)
  const build = buildOf({ ...drives, choices: { ...drives.choices, unit: { learns }, ...(bench ? { bench } : {}) } }, seed)
  let learned: readonly number[] | undefined
  if (learns === 'itself')
    for (let k = 0; k < 2; k++)
      learned = [...benchDrive(build, inIt, everydayDrive(8, seed * 53 + k), { coolantC: 80, learned }).learned.pct]
  const drive = benchDrive(build, inIt, everydayDrive(DRIVE_MIN, seed * 31), { coolantC: COLD_C, learned })
  const log = noTelltales(drive, { learned: learns === 'itself' && trial?.without !== 'learnedPct' })
  if (trial?.without === 'correctionPct') delete log.channels.correctionPct
  // a narrow loop is the tune's own; another tune is one that nobody told of
  return { car, seed, tune: trial?.cause === 'trim-pegged' ? inIt : tune, log }
}

export interface DiagnoseOutcome {
  car: string
  seed: number
  trial: number | null
  /** the engine did not run far enough for a log */
  unchanged?: boolean
  sound: boolean
  /** place of the cause, or of a group it is in, among what was said: 0 is first; -1: not said */
  place: number
  said: { cause: Cause; likelihood: number }[]
  correctedFor: Cause[]
}

export function diagnosed({ car, tune, log }: Driven): Diagnosis {
  const setup = learnSetup(car, tune)
  return diagnose(log, judgeSamples(log, { ...defaultLimits, coolantMinC: setup.coolantMinC }), {
    ...setup.car,
    learns: 'trim',
    held: tune,
  })
}
export function scoreDiagnose(car: ScoreCar, seed: number, trial: number | null, first = false, size?: number): DiagnoseOutcome {
  const t = trial === null ? null : { ...diagnoseTrials[trial], ...(size === undefined ? {} : { size }) }
  try {
    const { sound, suspects, correctedFor } = diagnosed(driven(car, seed, t, first))
    return {
      car: car.name,
      seed,
      trial,
      sound,
      place: t
        ? suspects.findIndex((s) => s.cause === t.cause || s.group?.includes(t.cause))
        : suspects.findIndex((s) => s.cause === 'sound'),
      said: suspects.map(({ cause, likelihood }) => ({ cause, likelihood })),
      correctedFor,
    }
  } catch {
    return { car: car.name, seed, trial, unchanged: true, sound: false, place: -1, said: [], correctedFor: [] }
  }
}
