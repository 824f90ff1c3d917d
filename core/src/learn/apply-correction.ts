import {
  bilinear,
  fuelBasis,
  type KnownFuel,
  knownNow,
  pulseAsked,
  tableSpecs,
  type TuneDocument,
  UNKNOWN_PCT,
  withTable,
} from '../tune/index.ts'
import { HIGH_LOAD_SHARE, HIGH_THROTTLE_PCT } from './limits.ts'
import type { LearnResult } from './result.ts'
import { type Cell, spreadCorrection } from './spread.ts'

export interface CellChange {
  /** by manifold pressure, or by throttle */
  table: 've' | 'runner'
  i: number
  j: number
  fromPct: number
  toPct: number
  /** solved: from this log; spread: from its neighbours at reduced weight */
  how: 'solved' | 'spread'
}

/** A shut throttle passes little: VE by throttle begins lower than VE by pressure. */
const RUNNER_LEAST_PCT = 1
const changedBy = (value: number, pct: number, min = tableSpecs.ve.min): number => {
  const { max } = tableSpecs.ve
  return Math.min(max, Math.max(min, Math.round(value * (1 + pct / 100) * 10) / 10))
}

/**
 * A new tune with the solved correction put into VE, and into VE by throttle where throttles on the runners tell the load (`spreadCorrection`);
 * constants that were found are mended where they belong. What is known of it afterwards goes with it.
 */
export function applyCorrection(
  tune: TuneDocument,
  learn: Pick<LearnResult, 'rpm' | 'mapKpa' | 'cells' | 'mends' | 'runner' | 'traces'>,
  provenance: string,
): { tune: TuneDocument; changes: CellChange[] } {
  const { rpm, mapKpa } = learn
  const { barometerKpa } = tune.parameters
  const { correction, solid } = spreadCorrection(learn.cells, rpm, mapKpa, (j) => mapKpa[j] >= HIGH_LOAD_SHARE * barometerKpa)
  const sameAxes =
    rpm.length === tune.axes.rpm.length &&
    mapKpa.length === tune.axes.mapKpa.length &&
    rpm.every((v, k) => v === tune.axes.rpm[k]) &&
    mapKpa.every((v, k) => v === tune.axes.mapKpa[k])
  const ve = tune.tables.ve.map((value, c) => {
    const i = c % tune.axes.rpm.length
    const j = (c - i) / tune.axes.rpm.length
    const pct = sameAxes ? correction[c] : bilinear({ rpm, mapKpa }, correction, tune.axes.rpm[i], tune.axes.mapKpa[j])
    return changedBy(value, pct)
  })
  const byThrottle =
    tune.runner && learn.runner?.cells.length === tune.runner.ve.length
      ? spreadCorrection(learn.runner.cells, rpm, tune.runner.throttlePct, (j) => tune.runner!.throttlePct[j] >= HIGH_THROTTLE_PCT)
      : null
  const runner = byThrottle && {
    ...tune.runner!,
    ve: tune.runner!.ve.map((value, c) => changedBy(value, byThrottle.correction[c], RUNNER_LEAST_PCT)),
  }
  const mended = withMends(withTable(tune, 've', ve, provenance), learn.mends ?? [], provenance)
  if (runner) mended.provenance = { ...mended.provenance, runner: provenance }
  const corrected = neverLeaner(tune, runner ? { ...mended, runner } : mended, {
    ve: sameAxes ? solid : ve.map(() => false),
    runner: byThrottle?.solid,
  })
  const changesOf = (table: CellChange['table'], from: readonly number[], to: readonly number[], own: readonly boolean[]): CellChange[] =>
    from.flatMap((fromPct, c) => {
      const i = c % tune.axes.rpm.length
      const how = own[c] ? 'solved' : 'spread'
      return Math.abs(to[c] - fromPct) < 0.05 ? [] : [{ table, i, j: (c - i) / tune.axes.rpm.length, fromPct, toPct: to[c], how }]
    })
  const changes = [
    ...changesOf('ve', tune.tables.ve, corrected.tables.ve, sameAxes ? solid : []),
    ...(byThrottle ? changesOf('runner', tune.runner!.ve, corrected.runner!.ve, byThrottle.solid) : []),
  ]
  // where throttle tells the load and the log does not tell the throttle, nothing is known
  return { tune: sameAxes && (runner || !tune.runner) ? { ...corrected, known: knownAfter(tune, corrected, learn) } : corrected, changes }
}

/** a warm engine on a mild day, charging */
const RUNNING = { intakeAirC: 30, coolantC: 90, batteryV: 13.8 }
/** Under high load an injector is never open for less than before where nobody has driven, whatever constant was mended: a log must prove that first. */
function neverLeaner(
  before: TuneDocument,
  after: TuneDocument,
  solid: { ve: readonly boolean[]; runner?: readonly boolean[] },
): TuneDocument {
  const { axes } = before
  const nr = axes.rpm.length
  const open = (tune: TuneDocument, at: { rpm: number; mapKpa: number; throttlePct: number }, lambda: number) => {
    const { openMs, deadMs } = pulseAsked(tune, { ...at, ...RUNNING, lambda })
    return { openMs, wholeMs: openMs + deadMs }
  }
  /** by how much more air it must be told there to inject for as long as before */
  const raise = (at: { rpm: number; mapKpa: number; throttlePct: number }) => {
    const [was, is] = [open(before, at, 1), open(after, at, 1)]
    return Math.max(1, (was.wholeMs - (is.wholeMs - is.openMs)) / is.openMs)
  }
  const upTo = (value: number, factor: number) =>
    factor > 1.0005 ? Math.min(tableSpecs.ve.max, Math.ceil(value * factor * 10) / 10) : value
  const ve = after.tables.ve.map((value, c) => {
    const [rpm, mapKpa] = [axes.rpm[c % nr], axes.mapKpa[Math.floor(c / nr)]]
    // at a shut throttle only pressure counts
    return solid.ve[c] || mapKpa < HIGH_LOAD_SHARE * before.parameters.barometerKpa
      ? value
      : upTo(value, raise({ rpm, mapKpa, throttlePct: 0 }))
  })
  const { runner } = after
  const byThrottle = runner?.ve.map((value, c) => {
    const [rpm, throttlePct] = [axes.rpm[c % nr], runner.throttlePct[Math.floor(c / nr)]]
    return solid.runner?.[c] || throttlePct < HIGH_THROTTLE_PCT
      ? value
      : upTo(value, raise({ rpm, mapKpa: before.parameters.barometerKpa, throttlePct }))
  })
  return {
    ...after,
    tables: { ...after.tables, ve },
    ...(runner && byThrottle ? { runner: { ...runner, ve: byThrottle } } : {}),
  }
}

/** What is left at each cell after the correction: as measured less what was put in; as it was known before where this log was not. */
function knownAfter(
  before: TuneDocument,
  after: TuneDocument,
  learn: Pick<LearnResult, 'cells' | 'runner' | 'traces'>,
): TuneDocument['known'] {
  const then = knownNow(before)
  const left = (
    cells: readonly Cell[],
    from: readonly number[],
    ve: readonly number[],
    was: Pick<KnownFuel, 'leftPct' | 'standardErrorPct'> | undefined,
  ) => {
    const after = (pct: number, c: number) => Math.round(1000 * (((1 + pct / 100) * from[c]) / ve[c] - 1)) / 10
    const both = cells.map(({ correctionPct, standardErrorPct }, c): [number, number] => {
      if (correctionPct !== null && standardErrorPct !== null && standardErrorPct < (was?.standardErrorPct[c] ?? UNKNOWN_PCT))
        return [after(correctionPct, c), Math.round(100 * standardErrorPct) / 100]
      return was ? [after(was.leftPct[c], c), was.standardErrorPct[c]] : [0, UNKNOWN_PCT]
    })
    return { ve: [...ve], leftPct: both.map((b) => b[0]), standardErrorPct: both.map((b) => b[1]) }
  }
  return {
    ...left(learn.cells, before.tables.ve, after.tables.ve, then ?? undefined),
    basis: fuelBasis(after),
    traces: { ...before.known?.traces, ...learn.traces },
    ...(after.runner && learn.runner ? { runner: left(learn.runner.cells, before.runner!.ve, after.runner.ve, then?.runner) } : {}),
  }
}

/** Constants and curves mended where they belong, so that the table takes only what is left; what no parameter holds stays as it is. */
function withMends(tune: TuneDocument, mends: NonNullable<LearnResult['mends']>, provenance: string): TuneDocument {
  let { parameters } = tune
  const told: Record<string, string> = {}
  for (const { cause, size } of mends) {
    if (cause === 'injector-flow') {
      parameters = { ...parameters, injectorCcMin: Math.round((10 * parameters.injectorCcMin) / (1 + size / 100)) / 10 }
      told.injectorCcMin = `${provenance}: ${size > 0 ? '+' : ''}${size.toFixed(1)} % everywhere`
    } else if (cause === 'dead-time') {
      const later = (v: number) => Math.max(0, Math.round(1000 * (v + size)) / 1000)
      parameters = { ...parameters, deadTimeMs: parameters.deadTimeMs.map(([volts, ms]) => [volts, later(ms)]) }
      told.deadTimeMs = `${provenance}: ${size > 0 ? '+' : ''}${size.toFixed(2)} ms`
    } else if (cause === 'charge-model') {
      parameters = {
        ...parameters,
        chargeHeatShare: Math.min(1, Math.max(0, Math.round(1000 * (parameters.chargeHeatShare - size)) / 1000)),
      }
      told.chargeHeatShare = provenance
    }
  }
  return { ...tune, parameters, provenance: { ...tune.provenance, ...told } }
}
