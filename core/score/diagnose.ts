import { type BenchChoices, benchDrive, everydayDrive, type FaultId } from '../src/bench/index.ts'
import { type Cause, diagnose, type Diagnosis } from '../src/diagnose/index.ts'
import { applyCorrection, learnSetup, solveWithSetup } from '../src/learn/index.ts'
import type { LogData } from '../src/logfile/index.ts'
import { defaultLimits, judgeSamples } from '../src/samples/index.ts'
import { computeBaseTune, type TuneDocument } from '../src/tune/index.ts'
import { buildOf, type ScoreCar, scoreCars } from './cars.ts'

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
  /** a tune other than the base tune that is driven */
  drives?: (tune: TuneDocument) => TuneDocument
  /** what the log lacks */
  without?: 'correctionPct' | 'learnedPct'
  /** another car is driven than the one the log is held against */
  otherCar?: boolean
}
const leanerBy =
  (pct: number) =>
  (tune: TuneDocument): TuneDocument => ({
    ...tune,
    tables: { ...tune.tables, ve: tune.tables.ve.map((v, c) => v * (1 + (pct / 100) * Math.sin(c))) },
  })
const narrowLoop = (tune: TuneDocument): TuneDocument => ({
  ...tune,
  parameters: { ...tune.parameters, loopAuthorityPct: 4 },
  tables: { ...tune.tables, ve: tune.tables.ve.map((v, c) => v * (c % 12 < 6 ? 0.9 : 1.02)) },
})
const of = (cause: Cause, fault: FaultId, ...sizes: number[]): DiagnoseTrial[] =>
  sizes.length ? sizes.map((size) => ({ cause, fault, size })) : [{ cause, fault }]

export const diagnoseTrials: readonly DiagnoseTrial[] = [
  ...of('sensor-stuck', 'sensor-stuck', 100, 96),
  ...of('sensor-slow', 'sensor-lazy', 4, 8, 16),
  ...of('sensor-drift', 'sensor-drifts', 0.3, 0.6, -1.2),
  ...of('sensor-offset', 'sensor-contaminated', 8, -12, 16),
  ...of('sensor-cold', 'sensor-cold'),
  ...of('exhaust-leak', 'exhaust-leak', 15, 30, 60),
  ...of('false-air', 'runner-leak', 15, 30, 60),
  ...of('misfire', 'lean-cylinder', 60, 100),
  ...of('injector-flow', 'injector-size', 88, 78, 118),
  ...of('fuel-pressure', 'pressure-low', 80),
  ...of('fuel-pressure', 'pump-wiring', 1.5),
  ...of('dead-time', 'injectors-late', 0.2, 0.4, -0.3),
  ...of('air-temperature', 'air-sensor', 25, 50, -40),
  ...of('coolant-temperature', 'coolant-sensor', -25, 30),
  ...of('coolant-temperature', 'coolant-stuck', 40),
  ...of('map-hose', 'map-hose-pinched', 0.3, 0.8),
  ...of('map-hose', 'map-hose-leaks', 10, 25),
  ...of('map-hose', 'map-ported'),
  ...of('fuel-blend', 'fuel-blend', 30, 60),
  ...of('heat-soak', 'air-sensor-soaked', 50, 100),
  ...of('charge-model', 'charge-warmed', 20, 40),
  ...of('purge', 'purge', 30, 60, 120),
  { cause: 'trim-pegged', drives: narrowLoop },
  { cause: 'learned-apart', fault: 'engine-breathes', size: 12, without: 'learnedPct' },
  { cause: 'no-trim-column', without: 'correctionPct' },
  { cause: 'other-tune', drives: leanerBy(12) },
  { cause: 'other-car', otherCar: true },
]
export const trialName = ({ cause, fault, size }: DiagnoseTrial): string =>
  `${cause}${fault ? `, ${fault}` : ''}${size === undefined ? '' : ` ${size}`}`

const noTelltales = ({ timeS, channels }: Log, keep: { learned: boolean }): Log => {
  const { fuelPressureKpa: _, enrichmentPct: __, learnedPct, ...kept } = channels
  // what a logger seldom has: the bench's own stream would tell too much
  return { timeS, channels: { ...kept, ...(keep.learned && learnedPct ? { learnedPct } : {}) } }
}
const settledTunes = new Map<string, TuneDocument>()
/** A tune as it is after one drive and its correction: that is when most faults come. The bench's truth is not looked at. */
function correctedOnce(car: ScoreCar, seed: number): TuneDocument {
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
export function scoreDiagnose(car: ScoreCar, seed: number, trial: number | null, first = false): DiagnoseOutcome {
  const t = trial === null ? null : diagnoseTrials[trial]
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
