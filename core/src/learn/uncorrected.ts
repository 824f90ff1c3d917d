import type { Samples } from '../samples/index.ts'
import { type Axes, type RunnerTable, runnerShare, type TuneDocument } from '../tune/index.ts'
import { applyCorrection, type CellChange } from './apply-correction.ts'
import { type Fit, fitCells, judgeCells } from './fit-cells.ts'
import { type GridSamples, meansAround, placeOnGrid, type Placing } from './grid-fit.ts'
import { PROVEN_ERROR_PCT, PROVEN_SECONDS, UNCORRECTED_S, UNCORRECTED_SHARE } from './limits.ts'
import type { LearnCell, LearnResult } from './result.ts'

/**
 * Where a unit that learns by itself never will: lambda stays off its target there, so no trim works and nothing is taken over. That is an idle under
 * the speed from which its loop is shut, or a load above which it is left open (handbook 10). Only the base helps there. A cell that is lean under load
 * is not waited for.
 * @param left what is left beyond what is held, by cell, %
 * @param off how far lambda itself stays off its target, by cell, hundredths
 */
export function markUncorrected(cells: LearnCell[], left: Float64Array, off: Float64Array): void {
  cells.forEach((cell, c) => {
    const stays = cell.seconds >= UNCORRECTED_S && Math.abs(left[c]) > PROVEN_ERROR_PCT && off[c] / left[c] > UNCORRECTED_SHARE
    if (stays || cell.state === 'unsafe') cell.uncorrected = true
  })
}
/** How far lambda itself stays off its target around each cell, hundredths. */
export const offTarget = (samples: Samples, grid: GridSamples, fit: Fit, nr: number, n: number): Float64Array =>
  meansAround(
    grid,
    Float64Array.from({ length: grid.n }, (_, k) => 100 * samples.overTarget[grid.row[k]]),
    fit,
    nr,
    n,
  ).mean

type Runner = Pick<RunnerTable, 'throttlePct' | 'blendFromPct' | 'blendToPct'>
/**
 * What the base wants where nothing is learned, by the table that gives the fuel there; elsewhere nothing.
 * @param remainderPct what is left at each sample of the grid beyond what is held there, %
 * @param leanSeconds lean running under high load at each cell of a table, s
 */
export function baseWanted(
  samples: Samples,
  grid: GridSamples,
  axes: Axes,
  cells: readonly LearnCell[],
  remainderPct: Float64Array,
  leanSeconds: (on: Axes, placing?: Placing) => Float64Array,
  { barometerKpa, runner }: { barometerKpa: number; runner?: Runner },
): NonNullable<LearnResult['uncorrected']> {
  const nr = axes.rpm.length
  const at = new Map<number, number>()
  for (let k = 0; k < grid.n; k++) {
    const nearest = grid.at[k] + (grid.u[k] >= 0.5 ? 1 : 0) + (grid.v[k] >= 0.5 ? nr : 0)
    if (cells[nearest].uncorrected) at.set(grid.row[k], remainderPct[k])
  }
  const load = samples.causeThrottlePct
  const share = (i: number) => (runner && load && load[i] === load[i] ? runnerShare(runner, load[i]) : 0)
  const wanted = (on: Axes, loadShare: (j: number) => number, placing?: Placing): LearnCell[] => {
    const placed = placeOnGrid(samples, on, placing)
    for (let k = 0; k < placed.n; k++) placed.y[k] = at.get(placed.row[k]) ?? 0
    const n = on.rpm.length * on.mapKpa.length
    return onlyThere(
      judgeCells(
        placed,
        fitCells(placed, on, () => {}),
        on,
        loadShare,
        new Uint8Array(n),
        leanSeconds(on, placing),
        null,
      ),
      on.rpm.length,
    )
  }
  const byPressure = (j: number) => axes.mapKpa[j] / barometerKpa
  const byThrottle = runner && load ? { throttlePct: [...runner.throttlePct], load } : undefined
  return {
    cells: wanted(axes, byPressure, byThrottle && { load: samples.causeMapKpa, share: (i) => 1 - share(i) }),
    ...(byThrottle
      ? {
          // a lean run was counted by the pressure it was seen at
          runner: wanted({ rpm: axes.rpm, mapKpa: byThrottle.throttlePct }, () => 1, { load: byThrottle.load, share }).map(
            ({ mapKpa, ...c }) => ({
              ...c,
              throttlePct: mapKpa,
            }),
          ),
        }
      : {}),
  }
}

/** Cells that want something keep it, their untouched neighbours may take a part of it, and all others stay as they are. */
function onlyThere(cells: LearnCell[], nr: number): LearnCell[] {
  // beside what wants nothing the step is steep, and says nothing against the cell that is driven
  const wants = cells.map((c) => c.seconds >= PROVEN_SECONDS && Math.abs(c.correctionPct ?? 0) > PROVEN_ERROR_PCT)
  return cells.map((cell, c) => {
    if (cell.state === 'unsafe') return { ...cell, correctionPct: cell.correctionPct ?? 0 }
    if (wants[c]) return { ...cell, state: 'needs-correction' }
    const beside = [c % nr > 0 ? c - 1 : -1, c % nr < nr - 1 ? c + 1 : -1, c - nr, c + nr].some((k) => wants[k])
    return beside && cell.correctionPct === null ? cell : { ...cell, state: 'proven', correctionPct: 0, standardErrorPct: 0 }
  })
}

/** A new tune with what was never learned put into its base; what the unit has learned goes on standing over it. */
export function mendBase(tune: TuneDocument, learn: LearnResult, provenance: string): { tune: TuneDocument; changes: CellChange[] } {
  const { cells, runner } = learn.uncorrected ?? { cells: [] }
  const { rpm, mapKpa } = learn
  const made = applyCorrection(
    tune,
    { rpm, mapKpa, cells, ...(runner ? { runner: { throttlePct: [...tune.runner!.throttlePct], cells: runner } } : {}) },
    provenance,
  )
  // what is left over the base stands in the unit's own cells, not in the table
  const { known: _, ...document } = made.tune
  return { tune: document, changes: made.changes }
}
