import { bilinear, fuelBasis, type KnownFuel, knownNow, tableSpecs, type TuneDocument, UNKNOWN_PCT, withTable } from '../tune/index.ts'
import { MAX_CHANGE_PCT } from './limits.ts'
import type { LearnResult } from './result.ts'

const SPREAD_PASSES = 6

export interface CellChange {
  i: number
  j: number
  fromPct: number
  toPct: number
  /** solved: from this log; spread: from its neighbours at reduced weight */
  how: 'solved' | 'spread'
}

type Cell = Pick<LearnResult['cells'][number], 'state' | 'correctionPct' | 'standardErrorPct'>

/** Correction of each cell, %: solid cells their own, capped; those next to them a share that fades with distance; unsafe ones never less fuel. */
function spread(cells: readonly Cell[], nr: number): { correction: number[]; solid: boolean[] } {
  const solid = cells.map(
    (cell) => cell.state === 'proven' || cell.state === 'needs-correction' || (cell.state === 'unsafe' && (cell.correctionPct ?? 0) > 0),
  )
  const correction = cells.map((cell, c) => (solid[c] ? Math.min(MAX_CHANGE_PCT, Math.max(-MAX_CHANGE_PCT, cell.correctionPct!)) : 0))
  for (let pass = 0; pass < SPREAD_PASSES; pass++) {
    const before = [...correction]
    for (let c = 0; c < correction.length; c++) {
      if (solid[c]) continue
      const i = c % nr
      const near = [i > 0 ? c - 1 : -1, i < nr - 1 ? c + 1 : -1, c - nr, c + nr].filter((k) => k >= 0 && k < correction.length)
      const mean = near.reduce((sum, k) => sum + before[k], 0) / near.length
      correction[c] = cells[c].state === 'unsafe' ? Math.max(0, mean) : mean
    }
  }
  return { correction, solid }
}
const changedBy = (value: number, pct: number): number => {
  const { min, max } = tableSpecs.ve
  return Math.min(max, Math.max(min, Math.round(value * (1 + pct / 100) * 10) / 10))
}

/**
 * A new tune with the solved correction put into VE, and into VE by throttle where throttles on the runners tell the load. Solid cells take their own
 * correction, capped; thin and unseen cells next to them take a share of their neighbours' that fades with distance, so that no step is left at the
 * edge of what was driven. Unsafe cells only ever gain fuel.
 */
export function applyCorrection(
  tune: TuneDocument,
  learn: Pick<LearnResult, 'rpm' | 'mapKpa' | 'cells' | 'mends' | 'runner'>,
  provenance: string,
): { tune: TuneDocument; changes: CellChange[] } {
  const { rpm, mapKpa } = learn
  const nr = rpm.length
  const { correction, solid } = spread(learn.cells, nr)
  const changes: CellChange[] = []
  const sameAxes =
    rpm.length === tune.axes.rpm.length &&
    mapKpa.length === tune.axes.mapKpa.length &&
    rpm.every((v, k) => v === tune.axes.rpm[k]) &&
    mapKpa.every((v, k) => v === tune.axes.mapKpa[k])
  const ve = tune.tables.ve.map((value, c) => {
    const i = c % tune.axes.rpm.length
    const j = (c - i) / tune.axes.rpm.length
    const pct = sameAxes ? correction[c] : bilinear({ rpm, mapKpa }, correction, tune.axes.rpm[i], tune.axes.mapKpa[j])
    const next = changedBy(value, pct)
    if (Math.abs(next - value) >= 0.05) changes.push({ i, j, fromPct: value, toPct: next, how: sameAxes && solid[c] ? 'solved' : 'spread' })
    return next
  })
  const byThrottle = tune.runner && learn.runner?.cells.length === tune.runner.ve.length ? spread(learn.runner.cells, nr).correction : null
  const runner = byThrottle && {
    ...tune.runner!,
    ve: tune.runner!.ve.map((value, c) => Math.max(1, changedBy(value, byThrottle[c]))),
  }
  const corrected: TuneDocument = {
    ...withMends(withTable(tune, 've', ve, provenance), learn.mends ?? [], provenance),
    ...(runner ? { runner } : {}),
  }
  if (runner) corrected.provenance = { ...corrected.provenance, runner: provenance }
  // where throttle tells the load and the log does not tell the throttle, nothing is known
  return { tune: sameAxes && (runner || !tune.runner) ? { ...corrected, known: knownAfter(tune, corrected, learn) } : corrected, changes }
}

/** What is left at each cell after the correction: as measured less what was put in; as it was known before where this log was not. */
function knownAfter(before: TuneDocument, after: TuneDocument, learn: Pick<LearnResult, 'cells' | 'runner'>): TuneDocument['known'] {
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
    basis: fuelBasis(after.parameters),
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
