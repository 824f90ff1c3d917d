import type { Told } from '../kernel/index.ts'
import type { Cause, DiagnosedCar } from '../diagnose/index.ts'
import { resolveFacts } from '../survey/index.ts'
import { type Axes, bilinear, knownNow, type RunnerTable, tuneAxes, type TuneDocument } from '../tune/index.ts'
import type { Learns } from '../unit/index.ts'
import { settledNow } from './settled.ts'
import { PROVEN_SECONDS } from './limits.ts'
import { mostOf } from './other-car.ts'
import { deliveredPct, type LearnCell, type LearnResult } from './result.ts'

/** What a solve needs to know of the car and of the tune the log was driven with; plain data, so that it can cross to a worker. */
export interface LearnSetup {
  axes: Axes
  barometerKpa: number
  coolantMinC: number
  target: Pick<TuneDocument, 'axes' | 'tables'> | null
  learns?: Learns
  /** the unit makes its base itself from answers; whether one was mended for that before */
  ownBase?: { mended: boolean }
  learnLimitPct?: number
  learnedAxes?: Axes
  /** what the unit held at these cells after the drive before, % */
  before?: readonly (number | null)[]
  /** the table by throttle, where one gives the fuel */
  runner?: Pick<RunnerTable, 'throttlePct' | 'blendFromPct' | 'blendToPct'>
  /** for the diagnosis that comes first */
  car: DiagnosedCar
}

/** The target of the tune at a place, for a log that carries none. */
export const lambdaTargetOf = ({ target }: Pick<LearnSetup, 'target'>): ((rpm: number, mapKpa: number) => number) | undefined =>
  target ? (rpm, mapKpa) => bilinear(target.axes, target.tables.lambdaTarget, rpm, mapKpa) : undefined

const MIN_COOLANT_C = 70
const USUAL_WARMUP_END_C = 72

/** @param tune the tune in the car, or null: then the axes are those a base tune would have, and the log must carry its own target */
export function learnSetup(told: Told, tune: TuneDocument | null): LearnSetup {
  const { redlineRpm, barometerKpa } = resolveFacts(told)
  const warmupEndC = tune?.parameters.warmupPct.find(([, pct]) => pct === 0)?.[0] ?? USUAL_WARMUP_END_C
  const unit = told.choices?.unit ?? {}
  const known = tune && knownNow(tune)
  const limitPct = unit.learnLimitPct ?? tune?.parameters.learnAuthorityPct
  return {
    axes: tune?.axes ?? tuneAxes(redlineRpm, barometerKpa),
    barometerKpa,
    coolantMinC: Math.max(MIN_COOLANT_C, warmupEndC),
    target: tune ? { axes: tune.axes, tables: tune.tables } : null,
    ...(tune?.runner ? { runner: tune.runner } : {}),
    ...(unit.learns === undefined ? {} : { learns: unit.learns }),
    ...(unit.setBy === 'questions' ? { ownBase: { mended: (tune?.parameters.toldFlowPct ?? 100) !== 100 } } : {}),
    ...(unit.learnedRpm && unit.learnedMapKpa ? { learnedAxes: { rpm: unit.learnedRpm, mapKpa: unit.learnedMapKpa } } : {}),
    ...(limitPct ? { learnLimitPct: limitPct } : {}),
    car: {
      barometerKpa,
      ...mostOf(told.facts, barometerKpa),
      ...(unit.learns === undefined ? {} : { learns: unit.learns }),
      ...(tune ? { deadTimeMs: tune.parameters.deadTimeMs } : {}),
      ...(known ? { known } : {}),
      ...(tune?.known?.traces ? { traces: tune.known.traces } : {}),
    },
  }
}

/** What is kept besides, where the unit learns by itself: whether it has settled, what it holds, and what the pattern says. */
function ofLearningUnit(result: LearnResult, before?: readonly (number | null)[]) {
  const { settledTimePct, remainderRmsPct, movedRmsPct } = result.totals
  const seen = result.cells.filter((c) => c.learnedPct != null)
  const seconds = seen.reduce((sum, c) => sum + c.seconds, 0)
  return {
    settledTimePct,
    remainderRmsPct,
    movedRmsPct,
    learnedMeanPct: seconds > 0 ? seen.reduce((sum, c) => sum + c.seconds * c.learnedPct!, 0) / seconds : null,
    settled: settledNow(result).settled,
    codes: result.verdicts.map((v) => v.code),
    held: heldNow(result, before).map((v) => (v === null ? null : Math.round(v * 100) / 100)),
  }
}

/** What the unit holds at each cell after a drive: of this one where it was driven long enough, else as it was known before. */
export const heldNow = ({ cells }: LearnResult, before?: readonly (number | null)[]): (number | null)[] =>
  cells.map((c, i) => (c.seconds >= PROVEN_SECONDS && c.learnedPct != null ? c.learnedPct : (before?.[i] ?? null)))

/** What a log that is not sound is most likely wrong by. */
export const suspectOf = ({ sound, diagnosis }: LearnResult): Cause | undefined =>
  sound === false ? diagnosis.find((d) => d.cause !== 'sound')?.cause : undefined

/** A cell of one of the tables: its load is manifold pressure, kPa, or throttle, %. */
export interface UnsafePlace {
  table: 've' | 'runner'
  rpm: number
  load: number
}
/** Cells that read lean under high load now, and those that did before and that this log has not proven. */
function unsafeNow({ cells, runner, sound }: LearnResult, before: readonly UnsafePlace[]): UnsafePlace[] {
  // what an earlier drive saw there was seen before it read lean: only the last one proves it
  const standing = ({ state, seconds, newestSeconds = seconds }: Pick<LearnCell, 'state' | 'seconds' | 'newestSeconds'>) => ({
    state,
    proven: sound && state === 'proven' && newestSeconds >= PROVEN_SECONDS,
  })
  const all = [
    ...cells.map((c) => ({ place: { table: 've' as const, rpm: c.rpm, load: c.mapKpa }, ...standing(c) })),
    ...(runner?.cells ?? []).map((c) => ({ place: { table: 'runner' as const, rpm: c.rpm, load: c.throttlePct }, ...standing(c) })),
  ]
  /** the axes may have changed since: the cell that stands there now */
  const nowAt = (b: UnsafePlace) => {
    const off = ({ rpm, load }: UnsafePlace) => Math.abs(rpm - b.rpm) / Math.max(1, b.rpm) + Math.abs(load - b.load) / Math.max(1, b.load)
    return all.filter((a) => a.place.table === b.table).sort((x, y) => off(x.place) - off(y.place))[0]
  }
  const open = new Map(all.filter((a) => a.state === 'unsafe').map((a) => [JSON.stringify(a.place), a.place]))
  for (const b of before) {
    const now = nowAt(b)
    if (now && !now.proven) open.set(JSON.stringify(now.place), now.place)
  }
  return [...open.values()]
}

/** What a log left at each cell that it drove, as it was driven: constants that were taken out first with it; by pressure and then by throttle. */
function leftOf({ rpm, mapKpa, cells, runner }: LearnResult) {
  const all = [...cells, ...(runner?.cells ?? [])]
  return {
    axes: JSON.stringify([rpm, mapKpa, runner?.throttlePct ?? null]),
    cells: all.flatMap((cell, c): [number, number, number][] => {
      if (cell.correctionPct === null || cell.seconds < 1) return []
      return [[c, Math.round(100 * deliveredPct(cell)) / 100, Math.round(10 * cell.seconds) / 10]]
    }),
  }
}
/** What the logbook keeps of a solve. */
export function learnReading(
  result: LearnResult,
  logId: string,
  tuneId: string | null,
  { held, unsafe = [] }: { held?: readonly (number | null)[]; unsafe?: readonly UnsafePlace[] } = {},
) {
  const unsafeAt = unsafeNow(result, unsafe)
  const { usedSeconds, provenTimePct, errorRmsPct, deliveredRmsPct, settledTimePct } = result.totals
  return {
    logId,
    tuneId,
    usedSeconds,
    provenTimePct,
    errorRmsPct,
    unsafeCells: unsafeAt.length,
    ...(unsafeAt.length ? { unsafeAt } : {}),
    ...(result.sound === false ? { suspect: suspectOf(result) } : {}),
    ...(deliveredRmsPct === undefined ? {} : { deliveredRmsPct }),
    ...(settledTimePct === undefined ? { left: leftOf(result) } : ofLearningUnit(result, held)),
  }
}
