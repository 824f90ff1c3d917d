import { solveSpd } from '../kernel/index.ts'
import type { Samples } from '../samples/index.ts'
import { type Axes, lowerIndex } from '../tune/index.ts'
import { cellState, TOUCHED_S } from './cell-state.ts'
import {
  accumulate,
  addSmoothing,
  autocorrelationFactor,
  bendAt,
  DEFAULT_FACTOR,
  type GridSamples,
  lackOfFit,
  nearestMeans,
  residuals,
  robustSigma,
} from './grid-fit.ts'
import { PROVEN_SE_PCT, PROVEN_SECONDS } from './limits.ts'
import type { LearnCell } from './result.ts'

/** How much the need may bend from cell to cell before the smoothing resists, %: wide enough to keep a real step. */
const BEND_SIGMA_PCT = 3
/** Nobody's table is off by more than this without other news; keeps cells without data solvable. */
const WIDE_SIGMA_PCT = 40
const HUBER_K = 1.345
const PASSES = 8
const SETTLED_PCT = 0.02

/** The fit: correction of each cell in per cent, with all that its standard error is made of. */
export interface Fit {
  cells: Float64Array
  inverseDiagonal: Float64Array
  residuals: Float64Array
  weights: Float64Array
  /** robust spread of one sample, % */
  sigma: number
  /** how many successive samples carry the news of one */
  factor: number
}

/** Step 4: weighted least squares on bilinear weights with weak smoothing, reweighted until the cells stand still. */
export function fitCells(grid: GridSamples, axes: Axes, onPass: (share: number) => void): Fit {
  const nr = axes.rpm.length
  const n = nr * axes.mapKpa.length
  const weights = grid.share.slice(0, grid.n)
  const r = new Float64Array(grid.n)
  const fit: Fit = {
    cells: new Float64Array(n),
    inverseDiagonal: new Float64Array(n),
    residuals: r,
    weights,
    sigma: 2,
    factor: DEFAULT_FACTOR,
  }
  if (grid.n === 0) return fit
  residuals(grid, fit.cells, nr, r)
  for (let pass = 0, last = false; ; pass++) {
    const before = fit.cells
    solvePass(grid, axes, fit, last)
    residuals(grid, fit.cells, nr, r)
    fit.sigma = robustSigma(r, grid.n)
    const limit = HUBER_K * fit.sigma
    for (let k = 0; k < grid.n; k++) weights[k] = grid.share[k] * Math.min(1, limit / Math.max(Math.abs(r[k]), 1e-9))
    onPass((pass + 1) / PASSES)
    if (last) return fit
    // the weights settle in a few passes; one more then carries the measured correlation and gives the standard errors
    let moved = 0
    for (let c = 0; c < n; c++) moved = Math.max(moved, Math.abs(fit.cells[c] - before[c]))
    last = (pass > 0 && moved < SETTLED_PCT) || pass >= PASSES - 2
    if (last || pass === 1) fit.factor = autocorrelationFactor(grid, r, weights)
  }
}
/** One solve of the normal equations with the weights as they stand; the diagonal of the inverse only when it is wanted. */
function solvePass(grid: GridSamples, axes: Axes, fit: Fit, withInverse: boolean): void {
  const n = fit.cells.length
  const normal = new Float64Array(n * n)
  const right = new Float64Array(n)
  accumulate(grid, fit.weights, axes.rpm.length, normal, right)
  const variance = fit.sigma * fit.sigma * fit.factor
  addSmoothing(normal, axes, variance / BEND_SIGMA_PCT ** 2)
  for (let c = 0; c < n; c++) normal[c * n + c] += variance / WIDE_SIGMA_PCT ** 2
  const solved = solveSpd(normal, right, withInverse)
  fit.cells = solved.x
  fit.inverseDiagonal = solved.inverseDiagonal
}

/** Used seconds of each cell, shared out by the bilinear weights. @param from first row that counts */
export function secondsPerCell(grid: GridSamples, nr: number, n: number, from = 0): Float64Array {
  const seconds = new Float64Array(n)
  for (let k = 0; k < grid.n; k++) {
    if (grid.row[k] < from) continue
    const a = grid.at[k]
    const s = grid.stepS[k] * grid.share[k]
    seconds[a] += (1 - grid.u[k]) * (1 - grid.v[k]) * s
    seconds[a + 1] += grid.u[k] * (1 - grid.v[k]) * s
    seconds[a + nr] += (1 - grid.u[k]) * grid.v[k] * s
    seconds[a + nr + 1] += grid.u[k] * grid.v[k] * s
  }
  return seconds
}
/** Cells that the engine went through in rows that tell nothing: 1, else 0. */
export function passedThrough(samples: Samples, axes: Axes, load: Float32Array = samples.causeMapKpa): Uint8Array {
  const nr = axes.rpm.length
  const passed = new Uint8Array(nr * axes.mapKpa.length)
  for (let i = 0; i < samples.fate.length; i++) {
    if (samples.fate[i] === 0 || !(samples.causeRpm[i] >= axes.rpm[0] / 2)) continue
    const x = lowerIndex(axes.rpm, samples.causeRpm[i])
    const y = lowerIndex(axes.mapKpa, load[i])
    for (const c of [y * nr + x, y * nr + x + 1, (y + 1) * nr + x, (y + 1) * nr + x + 1]) passed[c] = 1
  }
  return passed
}

/** Steps 5 and 6: what each cell needs, how sure that is, and the state it is in. */
export function judgeCells(
  grid: GridSamples,
  fit: Fit,
  axes: Axes,
  /** manifold pressure over the barometer at each cell, where it tells the load */
  loadShare: (c: number) => number,
  passed: Uint8Array,
  unsafe: Float64Array,
  held: Float64Array | null,
): LearnCell[] {
  const nr = axes.rpm.length
  const n = fit.cells.length
  const seconds = secondsPerCell(grid, nr, n)
  const nearest = nearestMeans(grid, axes)
  const misfit = lackOfFit(grid, fit.residuals, fit.weights, nr, n, fit.sigma)
  return Array.from(fit.cells, (fitted, c) => {
    const correctionPct = held ? 100 * ((1 + fitted / 100) / (1 + held[c] / 100) - 1) : fitted
    const i = c % nr
    const j = (c - i) / nr
    const spread = fit.sigma * Math.sqrt(fit.factor * fit.inverseDiagonal[c])
    const standardErrorPct = Math.hypot(spread, bendAt(fit.cells, axes, i, j) / 8, 1.5 * misfit[c])
    const touched = seconds[c] > TOUCHED_S
    const state = cellState({
      unsafeSeconds: unsafe[c],
      loadShare: loadShare(j),
      seconds: seconds[c],
      standardErrorPct,
      correctionPct,
      passed: passed[c] > 0,
    })
    return {
      i,
      j,
      rpm: axes.rpm[i],
      mapKpa: axes.mapKpa[j],
      correctionPct: touched ? correctionPct : null,
      standardErrorPct: touched ? standardErrorPct : null,
      seconds: seconds[c],
      missingSeconds: state === 'thin' ? missingSeconds(seconds[c], standardErrorPct) : 0,
      nearestMeanPct: Number.isFinite(nearest[c]) ? nearest[c] : null,
      state,
    }
  })
}
/** Seconds still to be driven in a thin cell: up to the least time, and until the error, falling with the root of time, is small enough. */
export const missingSeconds = (seconds: number, standardErrorPct: number): number =>
  Math.max(PROVEN_SECONDS - seconds, seconds * ((standardErrorPct / PROVEN_SE_PCT) ** 2 - 1), 0)
