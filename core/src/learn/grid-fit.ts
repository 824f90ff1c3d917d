import { type Axes, lowerIndex } from '../tune/index.ts'
import type { LearnCell } from './result.ts'
import { excludedReasons, type Samples } from '../samples/index.ts'

const BLOCK_S = 3
/** taken until the log itself has shown how much its samples repeat each other */
export const DEFAULT_FACTOR = 20

/** Least squares of a bilinear surface on a grid of cells: the pieces the learn solve is made of. */
export interface GridSamples {
  n: number
  row: Int32Array
  at: Int32Array
  u: Float64Array
  v: Float64Array
  y: Float64Array
  stepS: Float64Array
  /** share of a sample's fuel that comes from this table, 0 to 1 */
  share: Float64Array
}
/** Which table is fitted: what tells its load, and how much of each row's fuel comes from it. */
export interface Placing {
  load: Float32Array
  share: (row: number) => number
}
/** A sample of which less than this comes from a table says nothing of it. */
const LEAST_SHARE = 0.05

/** Samples that are used, placed on the grid. One half cell beyond the edge still counts, as the unit holds the edge value there. */
export function placeOnGrid(samples: Samples, axes: Axes, placing?: Placing): GridSamples {
  const offGrid = 1 + excludedReasons.indexOf('off-grid')
  const total = samples.used
  const grid: GridSamples = {
    n: 0,
    row: new Int32Array(total),
    at: new Int32Array(total),
    u: new Float64Array(total),
    v: new Float64Array(total),
    y: new Float64Array(total),
    stepS: new Float64Array(total),
    share: new Float64Array(total),
  }
  const nr = axes.rpm.length
  for (let i = 0; i < samples.fate.length; i++) {
    if (samples.fate[i] !== 0) continue
    const share = placing ? placing.share(i) : 1
    if (share < LEAST_SHARE) continue
    const rpm = samples.causeRpm[i]
    const map = placing ? placing.load[i] : samples.causeMapKpa[i]
    const x = lowerIndex(axes.rpm, rpm)
    const y = lowerIndex(axes.mapKpa, map)
    const u = (rpm - axes.rpm[x]) / (axes.rpm[x + 1] - axes.rpm[x])
    const v = (map - axes.mapKpa[y]) / (axes.mapKpa[y + 1] - axes.mapKpa[y])
    if (u < -0.5 || u > 1.5 || v < -0.5 || v > 1.5) {
      samples.fate[i] = offGrid
      samples.used--
      continue
    }
    const k = grid.n++
    grid.row[k] = i
    grid.at[k] = y * nr + x
    grid.u[k] = Math.min(1, Math.max(0, u))
    grid.v[k] = Math.min(1, Math.max(0, v))
    grid.y[k] = samples.error[i] * 100
    grid.stepS[k] = samples.stepS[i]
    grid.share[k] = share
  }
  return grid
}

/** Residuals of the surface at every sample. */
export function residuals(g: GridSamples, cells: Float64Array, nr: number, out: Float64Array): void {
  for (let k = 0; k < g.n; k++) {
    const a = g.at[k]
    const low = cells[a] + (cells[a + 1] - cells[a]) * g.u[k]
    const high = cells[a + nr] + (cells[a + nr + 1] - cells[a + nr]) * g.u[k]
    out[k] = g.y[k] - low - (high - low) * g.v[k]
  }
}

/** Robust spread: 1.4826 x median of absolute values, over at most 20,000 samples. */
export function robustSigma(values: Float64Array, n: number): number {
  const stride = Math.max(1, Math.floor(n / 20000))
  const sorted: number[] = []
  for (let k = 0; k < n; k += stride) sorted.push(Math.abs(values[k]))
  sorted.sort((a, b) => a - b)
  return Math.max(0.05, 1.4826 * sorted[sorted.length >> 1])
}

/**
 * How many successive samples count as one, from the scatter of block means: blocks of unbroken rows a few seconds long would scatter by
 * sigma / sqrt(n) if samples were independent; they scatter more, by the square root of this factor. Block means see slow, faint
 * correlation (a loop that wanders, a bend inside a cell) that a sum over single lags loses in the sensor's noise.
 * Source: method of batch means, e.g. Law, Simulation Modeling and Analysis, section 9.5
 */
export function autocorrelationFactor(g: GridSamples, r: Float64Array, weights: Float64Array): number {
  let variance = 0
  let total = 0
  for (let k = 0; k < g.n; k++) {
    variance += weights[k] * r[k] * r[k]
    total += weights[k]
  }
  variance /= Math.max(1e-12, total)
  let sum = 0
  let count = 0
  for (const [, , mean, weight, seconds] of blocks(g, r, weights))
    if (seconds >= BLOCK_S / 2) {
      sum += mean * mean * weight
      count++
    }
  return count < 5 || !(variance > 0) ? DEFAULT_FACTOR : Math.max(1, sum / count / variance)
}

/** Blocks of unbroken used rows, each at most a few seconds long: first row, row after the last, mean residual, summed weight, seconds. */
function* blocks(g: GridSamples, r: Float64Array, weights: Float64Array): Generator<[number, number, number, number, number]> {
  for (let k = 0; k < g.n;) {
    let sum = 0
    let weight = 0
    let seconds = 0
    let end = k
    for (; end < g.n && seconds < BLOCK_S && (end === k || g.row[end] === g.row[end - 1] + 1); end++) {
      sum += weights[end] * r[end]
      weight += weights[end]
      seconds += g.stepS[end]
    }
    if (weight > 0) yield [k, end, sum / weight, weight, seconds]
    k = end
  }
}

export function accumulate(g: GridSamples, weights: Float64Array, nr: number, normal: Float64Array, right: Float64Array): void {
  const n = right.length
  for (let k = 0; k < g.n; k++) {
    const w = weights[k]
    if (w === 0) continue
    const u = g.u[k]
    const v = g.v[k]
    const a = g.at[k]
    const b = a + nr
    const w00 = (1 - u) * (1 - v)
    const w10 = u * (1 - v)
    const w01 = (1 - u) * v
    const w11 = u * v
    const wy = w * g.y[k]
    right[a] += w00 * wy
    right[a + 1] += w10 * wy
    right[b] += w01 * wy
    right[b + 1] += w11 * wy
    const a1 = a + 1
    const b1 = b + 1
    normal[a * n + a] += w * w00 * w00
    normal[a1 * n + a] += w * w10 * w00
    normal[a1 * n + a1] += w * w10 * w10
    normal[b * n + a] += w * w01 * w00
    normal[b * n + a1] += w * w01 * w10
    normal[b * n + b] += w * w01 * w01
    normal[b1 * n + a] += w * w11 * w00
    normal[b1 * n + a1] += w * w11 * w10
    normal[b1 * n + b] += w * w11 * w01
    normal[b1 * n + b1] += w * w11 * w11
  }
}

/** Adds the weak belief that the need bends little along each axis, as second differences over the real spacing. */
export function addSmoothing(normal: Float64Array, axes: Axes, scale: number): void {
  const nr = axes.rpm.length
  const nm = axes.mapKpa.length
  const n = nr * nm
  const bend = (first: number, stride: number, axis: readonly number[], i: number) => {
    const left = axis[i] - axis[i - 1]
    const right = axis[i + 1] - axis[i]
    // scaled so that equal spacing gives 1, -2, 1
    const c = [(2 * right) / (left + right), -2, (2 * left) / (left + right)]
    for (let p = 0; p < 3; p++) for (let q = 0; q <= p; q++) normal[(first + p * stride) * n + first + q * stride] += scale * c[p] * c[q]
  }
  for (let j = 0; j < nm; j++) for (let i = 1; i < nr - 1; i++) bend(j * nr + i - 1, 1, axes.rpm, i)
  for (let j = 1; j < nm - 1; j++) for (let i = 0; i < nr; i++) bend((j - 1) * nr + i, nr, axes.mapKpa, j)
}

/**
 * How far the straight-line surface misses the readings around each cell, %, beyond their noise: rms of block means of the residual, by
 * bilinear share. A need that bends inside a cell, or drifts, shows here and nowhere else.
 */
export function lackOfFit(g: GridSamples, r: Float64Array, weights: Float64Array, nr: number, n: number, sigma: number): Float64Array {
  const share = new Float64Array(n)
  const square = new Float64Array(n)
  for (const [from, to, mean] of blocks(g, r, weights)) {
    const excess = mean * mean - (sigma * sigma) / (to - from)
    for (let k = from; k < to; k++) {
      const a = g.at[k]
      const put = (cell: number, w: number) => {
        share[cell] += w
        square[cell] += w * excess
      }
      put(a, (1 - g.u[k]) * (1 - g.v[k]))
      put(a + 1, g.u[k] * (1 - g.v[k]))
      put(a + nr, (1 - g.u[k]) * g.v[k])
      put(a + nr + 1, g.u[k] * g.v[k])
    }
  }
  return square.map((s, c) => (share[c] > 0 ? Math.sqrt(Math.max(0, s / share[c])) : 0))
}

/**
 * What a quantity is on the mean around each cell, by bilinear share and robust weights, where it was driven; and how well that is known. The
 * readings themselves are averaged, so that neither a bend inside a cell nor a corner that was never reached counts.
 * @param values at each sample, %
 * @param factor how many successive samples carry the news of one
 * @returns mean and standard error, %, by cell: noise over the samples, and what blocks of them differ by over the blocks
 */
export function meansAround(
  g: GridSamples,
  values: Float64Array,
  { residuals: r, weights, sigma, factor }: { residuals: Float64Array; weights: Float64Array; sigma: number; factor: number },
  nr: number,
  n: number,
): { mean: Float64Array; errorPct: Float64Array } {
  const [sum, weight, count, blocksIn] = Array.from({ length: 4 }, () => new Float64Array(n))
  const shares = (k: number, put: (cell: number, share: number) => void): void => {
    const a = g.at[k]
    put(a, (1 - g.u[k]) * (1 - g.v[k]))
    put(a + 1, g.u[k] * (1 - g.v[k]))
    put(a + nr, (1 - g.u[k]) * g.v[k])
    put(a + nr + 1, g.u[k] * g.v[k])
  }
  for (let k = 0; k < g.n; k++)
    shares(k, (cell, share) => {
      const w = share * weights[k]
      sum[cell] += w * g.stepS[k] * values[k]
      weight[cell] += w * g.stepS[k]
      count[cell] += w
    })
  for (const [from, to] of blocks(g, r, weights))
    for (let k = from; k < to; k++) shares(k, (cell, share) => void (blocksIn[cell] += share / (to - from)))
  const misfit = lackOfFit(g, r, weights, nr, n, sigma)
  return {
    mean: sum.map((s, c) => s / weight[c]),
    errorPct: count.map((m, c) => Math.sqrt((sigma * sigma * factor) / m + misfit[c] ** 2 / Math.max(1, blocksIn[c]))),
  }
}

/**
 * How much the solved surface bends at a cell, %, the larger of both directions. A bent need drawn with straight lines between cells is off
 * by an eighth of the bend at the middle; that belongs in the standard error, since the residuals of a well-fitted line do not show it.
 */
export function bendAt(cells: Float64Array, axes: Axes, i: number, j: number): number {
  const nr = axes.rpm.length
  const nm = axes.mapKpa.length
  // at an edge the bend is not seen from one side only: the next cell's stands in
  const ii = Math.min(nr - 2, Math.max(1, i))
  const jj = Math.min(nm - 2, Math.max(1, j))
  const alongRpm = nr < 3 ? 0 : cells[j * nr + ii - 1] - 2 * cells[j * nr + ii] + cells[j * nr + ii + 1]
  const alongMap = nm < 3 ? 0 : cells[(jj - 1) * nr + i] - 2 * cells[jj * nr + i] + cells[(jj + 1) * nr + i]
  return Math.max(Math.abs(alongRpm), Math.abs(alongMap))
}

/** How far plain averaging is from the solve over the solid cells, % rms; null when no cell has both. */
export function averagingGapPct(cells: readonly LearnCell[]): number | null {
  const both = cells.filter((c) => (c.state === 'proven' || c.state === 'needs-correction') && c.nearestMeanPct !== null)
  return both.length ? Math.sqrt(both.reduce((sum, c) => sum + (c.nearestMeanPct! - c.correctionPct!) ** 2, 0) / both.length) : null
}

/** What plain averaging into the nearest cell gives. People do this today; it smears, and is kept only to show by how much. */
export function nearestMeans(g: GridSamples, axes: Axes): Float64Array {
  const nr = axes.rpm.length
  const sum = new Float64Array(nr * axes.mapKpa.length)
  const count = new Float64Array(sum.length)
  for (let k = 0; k < g.n; k++) {
    const cell = g.at[k] + (g.u[k] >= 0.5 ? 1 : 0) + (g.v[k] >= 0.5 ? nr : 0)
    sum[cell] += g.y[k]
    count[cell]++
  }
  return sum.map((s, i) => s / count[i])
}
