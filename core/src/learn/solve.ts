import { z } from 'zod'
import { CoreError } from '../calc/errors.ts'
import type { LogData } from '../logfile/read.ts'
import { solveSpd } from './cholesky.ts'
import type { Axes } from '../tune/axes.ts'
import { bilinear, checkAxis, lowerIndex } from '../tune/axes.ts'
import { defaultLimits, excludedReasons, judgeSamples, type SampleLimits, type Samples } from './samples.ts'
import type { LearnSetup } from './setup.ts'
import { judgeWhole } from './verdicts.ts'

export const CellState = z.enum(['proven', 'needs-correction', 'thin', 'passed-through', 'untouched', 'unsafe'])
export type CellState = z.infer<typeof CellState>

export const LearnCell = z.object({
  i: z.int().describe('index on the rpm axis'),
  j: z.int().describe('index on the MAP axis'),
  rpm: z.number(),
  mapKpa: z.number(),
  correctionPct: z.number().nullable().describe('fuel still to be added at this cell, %; null where nothing was measured'),
  standardErrorPct: z.number().nullable(),
  seconds: z.number().describe('used seconds, by bilinear share'),
  missingSeconds: z.number().describe('for a thin cell: seconds still to be driven, estimated; else 0'),
  nearestMeanPct: z.number().nullable().describe('what plain averaging into the nearest cell gives, for comparison only'),
  state: CellState,
})
export type LearnCell = z.infer<typeof LearnCell>

export const LearnResult = z.object({
  rpm: z.array(z.number()),
  mapKpa: z.array(z.number()),
  cells: z.array(LearnCell),
  totals: z.object({
    samples: z.int(),
    used: z.int(),
    usedSeconds: z.number(),
    excluded: z.record(z.string(), z.int()),
    provenTimePct: z.number().nullable(),
    errorRmsPct: z.number().nullable().describe('rms of the error still in the table, weighted by used time'),
    noisePct: z.number().nullable(),
    autocorrelationFactor: z.number().nullable(),
  }),
  delay: z.object({ lagS: z.number(), cycles: z.number(), pipe: z.number(), events: z.int(), fitted: z.boolean() }),
  verdicts: z.array(z.object({ code: z.string(), message: z.string() })),
})
export type LearnResult = z.infer<typeof LearnResult>

export interface LearnOptions {
  limits?: Partial<SampleLimits>
  barometerKpa?: number
  /** target from the tune in force, for a log that carries none */
  targetLambdaAt?: (rpm: number, mapKpa: number) => number
  onProgress?: (share: number) => void
}

/** Solves with the setup of a build, see `learnSetup`. */
export function solveWithSetup(
  log: Pick<LogData, 'timeS' | 'channels'>,
  setup: LearnSetup,
  onProgress?: (share: number) => void,
): LearnResult {
  const { target } = setup
  return solveLearn(log, setup.axes, {
    barometerKpa: setup.barometerKpa,
    limits: { coolantMinC: setup.coolantMinC },
    targetLambdaAt: target ? (rpm, mapKpa) => bilinear(target.axes, target.tables.lambdaTarget, rpm, mapKpa) : undefined,
    onProgress,
  })
}

/** Limits of handbook 07, step 6. */
const PROVEN_SECONDS = 3
const PROVEN_SE_PCT = 1
const PROVEN_ERROR_PCT = 3
const UNSAFE_OVER_LAMBDA = 0.05
const UNSAFE_BAROMETER_SHARE = 0.85
const UNSAFE_RUN_S = 0.5

/** How much the need may bend from cell to cell before the smoothing resists, %: wide enough to keep a real step. */
const BEND_SIGMA_PCT = 3
/** Nobody's table is off by more than this without other news; keeps cells without data solvable. */
const WIDE_SIGMA_PCT = 40
const HUBER_K = 1.345
const PASSES = 8
const SETTLED_PCT = 0.02
const BLOCK_S = 3
const DEFAULT_FACTOR = 20

interface GridSamples {
  n: number
  row: Int32Array
  at: Int32Array
  u: Float64Array
  v: Float64Array
  y: Float64Array
  stepS: Float64Array
}

/** Samples that are used, placed on the grid. One half cell beyond the edge still counts, as the unit holds the edge value there. */
function placeOnGrid(samples: Samples, axes: Axes): GridSamples {
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
  }
  const nr = axes.rpm.length
  for (let i = 0; i < samples.fate.length; i++) {
    if (samples.fate[i] !== 0) continue
    const rpm = samples.causeRpm[i]
    const map = samples.causeMapKpa[i]
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
  }
  return grid
}

/** Residuals of the surface at every sample. */
function residuals(g: GridSamples, cells: Float64Array, nr: number, out: Float64Array): void {
  for (let k = 0; k < g.n; k++) {
    const a = g.at[k]
    const low = cells[a] + (cells[a + 1] - cells[a]) * g.u[k]
    const high = cells[a + nr] + (cells[a + nr + 1] - cells[a + nr]) * g.u[k]
    out[k] = g.y[k] - low - (high - low) * g.v[k]
  }
}

/** Robust spread: 1.4826 x median of absolute values, over at most 20,000 samples. */
function robustSigma(values: Float64Array, n: number): number {
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
function autocorrelationFactor(g: GridSamples, r: Float64Array, weights: Float64Array): number {
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

function accumulate(g: GridSamples, weights: Float64Array, nr: number, normal: Float64Array, right: Float64Array): void {
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
function addSmoothing(normal: Float64Array, axes: Axes, scale: number): void {
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

/** Seconds, per cell, in unbroken runs of half a second or more with lambda over target + 0.05 above 0.85 barometer. */
function unsafeSeconds(samples: Samples, timeS: Float64Array, axes: Axes, barometerKpa: number, limits: SampleLimits): Float64Array {
  const nr = axes.rpm.length
  const seconds = new Float64Array(nr * axes.mapKpa.length)
  const blind = new Set(
    (['unreadable', 'cranking', 'fuel-cut', 'after-fuel-cut', 'gap'] as const).map((r) => 1 + excludedReasons.indexOf(r)),
  )
  const lean = (i: number) =>
    !blind.has(samples.fate[i]) &&
    samples.causeMapKpa[i] > UNSAFE_BAROMETER_SHARE * barometerKpa &&
    samples.overTarget[i] > UNSAFE_OVER_LAMBDA &&
    samples.overTarget[i] < limits.lambdaMax
  for (let i = 0; i < samples.fate.length;) {
    if (!lean(i)) {
      i++
      continue
    }
    let end = i
    while (end + 1 < samples.fate.length && lean(end + 1)) end++
    if (timeS[end] - timeS[i] >= UNSAFE_RUN_S)
      for (let k = i; k <= end; k++) {
        const x = lowerIndex(axes.rpm, samples.causeRpm[k])
        const y = lowerIndex(axes.mapKpa, samples.causeMapKpa[k])
        const nearX = samples.causeRpm[k] - axes.rpm[x] > axes.rpm[x + 1] - samples.causeRpm[k] ? x + 1 : x
        const nearY = samples.causeMapKpa[k] - axes.mapKpa[y] > axes.mapKpa[y + 1] - samples.causeMapKpa[k] ? y + 1 : y
        seconds[nearY * nr + nearX] += samples.stepS[k]
      }
    i = end + 1
  }
  return seconds
}

/**
 * How far the straight-line surface misses the readings around each cell, %, beyond their noise: rms of block means of the residual, by
 * bilinear share. A need that bends inside a cell, or drifts, shows here and nowhere else.
 */
function lackOfFit(g: GridSamples, r: Float64Array, weights: Float64Array, nr: number, n: number, sigma: number): Float64Array {
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
 * How much the solved surface bends at a cell, %, the larger of both directions. A bent need drawn with straight lines between cells is off
 * by an eighth of the bend at the middle; that belongs in the standard error, since the residuals of a well-fitted line do not show it.
 */
function bendAt(cells: Float64Array, axes: Axes, i: number, j: number): number {
  const nr = axes.rpm.length
  const nm = axes.mapKpa.length
  // at an edge the bend is not seen from one side only: the next cell's stands in
  const ii = Math.min(nr - 2, Math.max(1, i))
  const jj = Math.min(nm - 2, Math.max(1, j))
  const alongRpm = nr < 3 ? 0 : cells[j * nr + ii - 1] - 2 * cells[j * nr + ii] + cells[j * nr + ii + 1]
  const alongMap = nm < 3 ? 0 : cells[(jj - 1) * nr + i] - 2 * cells[jj * nr + i] + cells[(jj + 1) * nr + i]
  return Math.max(Math.abs(alongRpm), Math.abs(alongMap))
}

/** What plain averaging into the nearest cell gives. People do this today; it smears, and is kept only to show by how much. */
function nearestMeans(g: GridSamples, axes: Axes): Float64Array {
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

/**
 * Solves for the correction a VE table still needs, cell by cell, from a log of ordinary driving (handbook 07, steps 1-6).
 *
 * The unit interpolates between four cells, so each sample constrains four: weighted least squares on bilinear weights, Huber loss,
 * second-difference smoothing weak enough to keep a step. Standard error per cell is sqrt(s2 x factor x diag((WtW + smoothing)^-1)), where
 * the factor counts how many successive samples carry the news of one.
 * @param axes rpm and MAP breakpoints, strictly rising
 * @returns cells row by row, MAP the slow index
 * @throws CoreError AXIS_INVALID, COLUMN_MISSING
 * @source Bjorck, Numerical Methods for Least Squares Problems (bilinear design, regularisation); Huber, Robust Statistics
 */
export function solveLearn(log: Pick<LogData, 'timeS' | 'channels'>, axes: Axes, options: LearnOptions = {}): LearnResult {
  checkAxis('rpm', axes.rpm)
  checkAxis('mapKpa', axes.mapKpa)
  if (log.timeS.length < 2) throw new CoreError('LOG_TOO_SHORT', 'log', 'at least 2 rows are needed')
  const progress = options.onProgress ?? (() => {})
  const limits = { ...defaultLimits, ...options.limits }
  const barometerKpa = options.barometerKpa ?? 101.325
  progress(0)
  const samples = judgeSamples(log, limits, options.targetLambdaAt)
  progress(0.4)
  const grid = placeOnGrid(samples, axes)
  const nr = axes.rpm.length
  const n = nr * axes.mapKpa.length

  const weights = new Float64Array(grid.n).fill(1)
  const r = new Float64Array(grid.n)
  let cells: Float64Array = new Float64Array(n)
  let inverseDiagonal = new Float64Array(n)
  let sigma = 2
  let factor = DEFAULT_FACTOR
  if (grid.n > 0) {
    residuals(grid, cells, nr, r)
    for (let pass = 0, last = false; ; pass++) {
      const normal = new Float64Array(n * n)
      const right = new Float64Array(n)
      accumulate(grid, weights, nr, normal, right)
      addSmoothing(normal, axes, (sigma * sigma * factor) / BEND_SIGMA_PCT ** 2)
      for (let c = 0; c < n; c++) normal[c * n + c] += (sigma * sigma * factor) / WIDE_SIGMA_PCT ** 2
      const before = cells
      const solved = solveSpd(normal, right, last)
      cells = solved.x
      inverseDiagonal = solved.inverseDiagonal as Float64Array<ArrayBuffer>
      residuals(grid, cells, nr, r)
      sigma = robustSigma(r, grid.n)
      const limit = HUBER_K * sigma
      for (let k = 0; k < grid.n; k++) weights[k] = Math.min(1, limit / Math.max(Math.abs(r[k]), 1e-9))
      progress(0.4 + (0.55 * (pass + 1)) / PASSES)
      if (last) break
      // the weights settle in a few passes; one more then carries the measured correlation and gives the standard errors
      let moved = 0
      for (let c = 0; c < n; c++) moved = Math.max(moved, Math.abs(cells[c] - before[c]))
      if ((pass > 0 && moved < SETTLED_PCT) || pass >= PASSES - 2) {
        factor = autocorrelationFactor(grid, r, weights)
        last = true
      } else if (pass === 1) factor = autocorrelationFactor(grid, r, weights)
    }
  }

  const seconds = new Float64Array(n)
  for (let k = 0; k < grid.n; k++) {
    const a = grid.at[k]
    const s = grid.stepS[k]
    seconds[a] += (1 - grid.u[k]) * (1 - grid.v[k]) * s
    seconds[a + 1] += grid.u[k] * (1 - grid.v[k]) * s
    seconds[a + nr] += (1 - grid.u[k]) * grid.v[k] * s
    seconds[a + nr + 1] += grid.u[k] * grid.v[k] * s
  }
  const passed = new Uint8Array(n)
  for (let i = 0; i < samples.fate.length; i++) {
    if (samples.fate[i] === 0 || !(samples.causeRpm[i] >= axes.rpm[0] / 2)) continue
    const x = lowerIndex(axes.rpm, samples.causeRpm[i])
    const y = lowerIndex(axes.mapKpa, samples.causeMapKpa[i])
    for (const c of [y * nr + x, y * nr + x + 1, (y + 1) * nr + x, (y + 1) * nr + x + 1]) passed[c] = 1
  }
  const unsafe = unsafeSeconds(samples, log.timeS, axes, barometerKpa, limits)
  const nearest = nearestMeans(grid, axes)

  const misfit = lackOfFit(grid, r, weights, nr, n, sigma)
  const result: LearnCell[] = []
  for (let c = 0; c < n; c++) {
    const i = c % nr
    const j = (c - i) / nr
    const se = Math.hypot(sigma * Math.sqrt(factor * inverseDiagonal[c]), bendAt(cells, axes, i, j) / 8, 1.5 * misfit[c])
    const solid = seconds[c] >= PROVEN_SECONDS && se <= PROVEN_SE_PCT
    const touched = seconds[c] > 0.05
    const state: CellState =
      unsafe[c] >= UNSAFE_RUN_S && axes.mapKpa[j] >= UNSAFE_BAROMETER_SHARE * barometerKpa
        ? 'unsafe'
        : solid
          ? Math.abs(cells[c]) <= PROVEN_ERROR_PCT
            ? 'proven'
            : 'needs-correction'
          : touched
            ? 'thin'
            : passed[c]
              ? 'passed-through'
              : 'untouched'
    result.push({
      i,
      j,
      rpm: axes.rpm[i],
      mapKpa: axes.mapKpa[j],
      correctionPct: touched ? cells[c] : null,
      standardErrorPct: touched ? se : null,
      seconds: seconds[c],
      missingSeconds: state === 'thin' ? Math.max(PROVEN_SECONDS - seconds[c], seconds[c] * ((se / PROVEN_SE_PCT) ** 2 - 1), 0) : 0,
      nearestMeanPct: Number.isFinite(nearest[c]) ? nearest[c] : null,
      state,
    })
  }

  const excluded: Record<string, number> = {}
  for (const fate of samples.fate) if (fate !== 0) excluded[excludedReasons[fate - 1]] = (excluded[excludedReasons[fate - 1]] ?? 0) + 1
  const usedSeconds = grid.stepS.subarray(0, grid.n).reduce((a, b) => a + b, 0)
  let provenSeconds = 0
  let squares = 0
  for (const cell of result) {
    if (cell.state === 'proven') provenSeconds += cell.seconds
    squares += cell.seconds * (cell.correctionPct ?? 0) ** 2
  }
  const { lagS, cycles, pipe, events, fitted } = samples.delay
  const out: LearnResult = {
    rpm: [...axes.rpm],
    mapKpa: [...axes.mapKpa],
    cells: result,
    totals: {
      samples: samples.fate.length,
      used: grid.n,
      usedSeconds,
      excluded,
      provenTimePct: usedSeconds > 0 ? (100 * provenSeconds) / usedSeconds : null,
      errorRmsPct: usedSeconds > 0 ? Math.sqrt(squares / usedSeconds) : null,
      noisePct: grid.n > 0 ? sigma : null,
      autocorrelationFactor: grid.n > 0 ? factor : null,
    },
    delay: { lagS, cycles, pipe, events, fitted },
    verdicts: [],
  }
  out.verdicts = judgeWhole(log, samples, out)
  progress(1)
  return out
}
