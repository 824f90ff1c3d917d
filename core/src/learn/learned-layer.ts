import { type Axes, bilinear, place } from '../tune/index.ts'
import { solveSpd } from '../kernel/index.ts'
import { accumulate, addSmoothing, type GridSamples } from './grid-fit.ts'
import type { LogData } from '../logfile/index.ts'
import type { Samples } from '../samples/index.ts'
import { followTable } from './follow-table.ts'

/**
 * What a unit has learned, beside what is still missing (handbook 10). Delivered fuel = base x (1 + learned) x (1 + trim), so that each sample
 * knows the whole need over the base, whatever was learned when it was taken. The remainder is that need over what the unit holds *now*: what
 * it holds now is read from the last seconds at each place, because it moves while it learns.
 */
export interface LearnedLayer {
  /** held now, by cell of the tune's axes, % */
  nowPct: Float64Array
  /** how far it moved since the visit before the last, by cell, %; NaN where a cell was visited once */
  movedPct: Float64Array
  /** what is left to be added at each sample's place beyond what is held there now, % */
  remainderPct: Float64Array
  /** what is held now at each sample's place, % */
  heldPct: Float64Array
  /** the unit's own axes were known, so that what it holds is known between the cells too */
  exact: boolean
}

/** Seconds at one place after which an older value of what is learned there counts a third. */
const RECENT_S = 8
const LEAST_WEIGHT = 1e-4
/** Learned values that scatter less than this about their mean at a place stand still: each sample then knows its own, %. */
const STILL_PCT = 1
/** what a unit holds on axes of its own bends inside a cell of these */
const SMOOTHING = 0.02
const RIDGE_SHARE = 0.005

/** Bilinear surface of a layer on the cells, by weighted least squares with weak smoothing. */
function surface(grid: GridSamples, axes: Axes, values: Float64Array, weights: Float64Array, smoothing: number): Float64Array {
  const n = axes.rpm.length * axes.mapKpa.length
  const normal = new Float64Array(n * n)
  const right = new Float64Array(n)
  accumulate({ ...grid, y: values }, weights, axes.rpm.length, normal, right)
  addSmoothing(normal, axes, smoothing)
  for (let c = 0; c < n; c++) normal[c * n + c] += RIDGE_SHARE * smoothing
  return solveSpd(normal, right, false).x
}
function at(grid: GridSamples, cells: Float64Array, nr: number, k: number): number {
  const a = grid.at[k]
  const low = cells[a] + (cells[a + 1] - cells[a]) * grid.u[k]
  const high = cells[a + nr] + (cells[a + nr + 1] - cells[a + nr]) * grid.u[k]
  return low + (high - low) * grid.v[k]
}

/** Weights that fade with the seconds driven later in the same square of the grid. */
function recentWeights(grid: GridSamples, cells: number): Float64Array {
  const later = new Float64Array(cells)
  const weights = new Float64Array(grid.n)
  for (let k = grid.n - 1; k >= 0; k--) {
    const a = grid.at[k]
    weights[k] = Math.max(LEAST_WEIGHT, Math.exp(-later[a] / RECENT_S))
    later[a] += grid.stepS[k]
  }
  return weights
}

/** The same samples on other axes, held at the edges as a unit holds them. */
function placedOn(grid: GridSamples, samples: Pick<Samples, 'causeRpm' | 'causeMapKpa'>, axes: Axes): GridSamples {
  const on: GridSamples = { ...grid, at: new Int32Array(grid.n), u: new Float64Array(grid.n), v: new Float64Array(grid.n) }
  for (let k = 0; k < grid.n; k++) {
    const x = place(axes.rpm, samples.causeRpm[grid.row[k]])
    const y = place(axes.mapKpa, samples.causeMapKpa[grid.row[k]])
    on.at[k] = y.index * axes.rpm.length + x.index
    on.u[k] = x.fraction
    on.v[k] = y.fraction
  }
  return on
}
/** A surface read at the cells of other axes. */
const readAt = (axes: Axes, from: Axes, cells: Float64Array): Float64Array => {
  const list = [...cells]
  return Float64Array.from({ length: axes.rpm.length * axes.mapKpa.length }, (_, c) =>
    bilinear(from, list, axes.rpm[c % axes.rpm.length], axes.mapKpa[Math.floor(c / axes.rpm.length)]),
  )
}

/**
 * Splits what a log shows into what the unit holds now and what is left.
 * @param grid used samples with the whole need over the base, %
 * @param learnedPct what the unit had learned at each of those samples, %
 * @param unitAxes breakpoints of the unit's own learned cells, where they were told: between them it holds straight lines
 */
export function learnedLayer(
  samples: Samples,
  grid: GridSamples,
  axes: Axes,
  learnedPct: Float64Array,
  log: Pick<LogData, 'timeS' | 'channels'>,
  unitAxes?: Axes,
): LearnedLayer {
  if (unitAxes) {
    const held = placedOn(grid, samples, unitAxes)
    const { cells, movedPct } = followTable(log, unitAxes)
    return {
      nowPct: readAt(axes, unitAxes, cells),
      // a cell that lies between one cell of the unit that was seen twice and one that was not is not known to stand
      movedPct: readAt(axes, unitAxes, movedPct),
      ...overHeld(
        grid,
        Float64Array.from({ length: grid.n }, (_, k) => at(held, cells, unitAxes.rpm.length, k)),
      ),
      exact: true,
    }
  }
  // its cells are not known: those of the tune tell how far it moved, if not what it holds between them
  return { ...layerOn(grid, axes, learnedPct), movedPct: followTable(log, axes).movedPct }
}

const overHeld = (grid: GridSamples, heldPct: Float64Array) => ({
  heldPct,
  remainderPct: heldPct.map((held, k) => 100 * ((1 + grid.y[k] / 100) / (1 + held / 100) - 1)),
})
function layerOn(grid: GridSamples, axes: Axes, learnedPct: Float64Array): Omit<LearnedLayer, 'movedPct'> {
  const nr = axes.rpm.length
  const n = nr * axes.mapKpa.length
  const mean = surface(grid, axes, learnedPct, new Float64Array(grid.n).fill(1), SMOOTHING)
  const nowPct = surface(grid, axes, learnedPct, recentWeights(grid, n), SMOOTHING)
  const over = new Float64Array(grid.n)
  const square = new Float64Array(n)
  const count = new Float64Array(n)
  for (let k = 0; k < grid.n; k++) {
    over[k] = learnedPct[k] - at(grid, mean, nr, k)
    square[grid.at[k]] += over[k] ** 2
    count[grid.at[k]]++
  }
  const heldPct = new Float64Array(grid.n)
  for (let k = 0; k < grid.n; k++) {
    const a = grid.at[k]
    const now = at(grid, nowPct, nr, k)
    const still = Math.sqrt(square[a] / count[a]) < STILL_PCT
    heldPct[k] = still ? learnedPct[k] + now - at(grid, mean, nr, k) : now
  }
  return { nowPct, ...overHeld(grid, heldPct), exact: false }
}
