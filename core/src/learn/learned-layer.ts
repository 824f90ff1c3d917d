import { type Axes, bilinear, place } from '../tune/index.ts'
import { solveSpd } from '../kernel/index.ts'
import { accumulate, addSmoothing, type GridSamples } from './grid-fit.ts'
import type { Samples } from '../samples/index.ts'

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
/** A cell is visited while it has this share of a sample; a new visit begins after so long elsewhere. */
const VISIT_SHARE = 0.3
const VISIT_GAP_S = 10
/** Seconds at the end of a visit that tell what is held then. */
const VISIT_END_S = 3
/** Learned values that scatter less than this about their mean at a place stand still: each sample then knows its own, %. */
const STILL_PCT = 1
/** on the unit's own axes its values are straight lines without noise; on others they bend inside a cell */
const SMOOTHING = { exact: 0.005, other: 0.02 }
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

/** Weights that fade with the seconds driven before in the same square of the grid: what was held when the log began. */
function firstWeights(grid: GridSamples): Float64Array {
  const before = new Map<number, number>()
  return Float64Array.from({ length: grid.n }, (_, k) => {
    const s = before.get(grid.at[k]) ?? 0
    before.set(grid.at[k], s + grid.stepS[k])
    return Math.max(LEAST_WEIGHT, Math.exp(-s / RECENT_S))
  })
}

/** share of a difference that one row takes into the cells: the sensors that say where the engine is are noisy */
const TRACK = 0.1
/**
 * The unit's own table followed through a log: each row tells what stands between four cells, and the least change of them that agrees with it is
 * what a unit makes that writes to its cells by the same weights it reads them with.
 * @param begin table at the beginning of the log
 * @returns the table at its end, and how far each cell moved since the visit before the last, %; NaN: visited once
 * @source S. Kaczmarz, Angenaeherte Aufloesung von Systemen linearer Gleichungen (1937): projection row by row
 */
function tracked(samples: Samples, axes: Axes, begin: Float64Array, timeS: Float64Array): { cells: Float64Array; movedPct: Float64Array } {
  const nr = axes.rpm.length
  const cells = Float64Array.from(begin)
  const lastS = new Float64Array(cells.length).fill(-Infinity)
  const atEnd = new Float64Array(cells.length).fill(NaN)
  const before = new Float64Array(cells.length).fill(NaN)
  for (let i = 0; i < samples.fate.length; i++) {
    const told = samples.learnedPct![i]
    const rpm = samples.causeRpm[i]
    if (samples.fate[i] !== 0 || !Number.isFinite(told)) continue
    const { index: x, fraction: u } = place(axes.rpm, rpm)
    const { index: y, fraction: v } = place(axes.mapKpa, samples.causeMapKpa[i])
    const a = y * nr + x
    const near = [a, a + 1, a + nr, a + nr + 1]
    const w = [(1 - u) * (1 - v), u * (1 - v), (1 - u) * v, u * v]
    let off = told
    let norm = 0
    for (let k = 0; k < 4; k++) {
      off -= w[k] * cells[near[k]]
      norm += w[k] * w[k]
    }
    for (let k = 0; k < 4; k++) {
      const c = near[k]
      if (w[k] >= VISIT_SHARE) {
        if (timeS[i] - lastS[c] > VISIT_GAP_S && lastS[c] > -Infinity) before[c] = atEnd[c]
        lastS[c] = timeS[i]
      }
      cells[c] += (TRACK * off * w[k]) / norm
      if (w[k] >= VISIT_SHARE) atEnd[c] = cells[c]
    }
  }
  return { cells, movedPct: Float64Array.from(cells, (_, c) => atEnd[c] - before[c]) }
}

interface Visit {
  endS: number
  /** what was held over the mean at the end of it, running over its last seconds, % */
  end: number
}
/** Passages through each cell, with what was held there beyond the mean over the log, so that the place inside the cell falls out. */
function visitsOf(grid: GridSamples, over: Float64Array, timeS: Float64Array, nr: number, n: number): Visit[][] {
  const visits: Visit[][] = Array.from({ length: n }, () => [])
  for (let k = 0; k < grid.n; k++) {
    const { u, v } = { u: grid.u[k], v: grid.v[k] }
    const t = timeS[grid.row[k]]
    const shares = [(1 - u) * (1 - v), u * (1 - v), (1 - u) * v, u * v]
    const near = [grid.at[k], grid.at[k] + 1, grid.at[k] + nr, grid.at[k] + nr + 1]
    for (let i = 0; i < 4; i++) {
      if (shares[i] < VISIT_SHARE) continue
      const list = visits[near[i]]
      const last = list.at(-1)
      if (!last || t - last.endS > VISIT_GAP_S) list.push({ endS: t, end: over[k] })
      else {
        last.end += (over[k] - last.end) * Math.min(1, grid.stepS[k] / VISIT_END_S)
        last.endS = t
      }
    }
  }
  return visits
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
  timeS: Float64Array,
  unitAxes?: Axes,
): LearnedLayer {
  if (unitAxes) {
    const held = placedOn(grid, samples, unitAxes)
    const { cells, movedPct } = tracked(samples, unitAxes, surface(held, unitAxes, learnedPct, firstWeights(held), SMOOTHING.exact), timeS)
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
  return layerOn(grid, axes, learnedPct, timeS)
}

const overHeld = (grid: GridSamples, heldPct: Float64Array) => ({
  heldPct,
  remainderPct: heldPct.map((held, k) => 100 * ((1 + grid.y[k] / 100) / (1 + held / 100) - 1)),
})
/** The surface of a fit at every sample. */
export const atSamples = (grid: GridSamples, cells: Float64Array, nr: number): Float64Array =>
  Float64Array.from({ length: grid.n }, (_, k) => at(grid, cells, nr, k))

function layerOn(grid: GridSamples, axes: Axes, learnedPct: Float64Array, timeS: Float64Array): LearnedLayer {
  const nr = axes.rpm.length
  const n = nr * axes.mapKpa.length
  const mean = surface(grid, axes, learnedPct, new Float64Array(grid.n).fill(1), SMOOTHING.other)
  const nowPct = surface(grid, axes, learnedPct, recentWeights(grid, n), SMOOTHING.other)
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
  const visits = visitsOf(grid, over, timeS, nr, n)
  return {
    nowPct,
    ...overHeld(grid, heldPct),
    exact: false,
    movedPct: Float64Array.from(visits, (list) => (list.length < 2 ? NaN : list.at(-1)!.end - list.at(-2)!.end)),
  }
}
