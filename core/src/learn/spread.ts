import { solveSpd } from '../kernel/index.ts'
import { MAX_CHANGE_PCT, PROVEN_SECONDS, STEP_PCT, UNSAFE_MARGIN_PCT } from './limits.ts'
import type { LearnResult } from './result.ts'

export type Cell = Pick<LearnResult['cells'][number], 'state' | 'correctionPct' | 'standardErrorPct' | 'seconds'>
export interface Spread {
  /** %, row by row */
  correction: number[]
  /** a cell's own reading decides it */
  solid: boolean[]
}

const SPREAD_PASSES = 6
/** what a table may be off by as a whole, and may lean from edge to edge, one sigma, % */
const TREND_SIGMAS_PCT = [10, 6, 6]
/** a cell departs from such a plane by so much, one sigma, % */
const ROUGH_PCT = 3
/** what neighbours let expect may be off by so much; and so may the reading of a cell in which no time was spent, one sigma, % */
const EXPECTED_SIGMA_PCT = 5
const HARDLY_SIGMA_PCT = 6
/** a trend known to no better than this counts half, % */
const HALF_AT_PCT = 3

/**
 * Correction of every cell of a table, from the cells that were driven long enough. Those take their own, capped; what they have in common, a plane over
 * speed and load, is carried to the others as far as it is known there, and what is left of them fades with distance; a cell that was only touched takes
 * of its own reading what is known of it. An unsafe cell gets its own and a
 * margin, never less; an unseen cell under high load is never leaned; and no cell is leaner than a neighbour by more than a step.
 * @param load the slow axis; @param highLoad whether a row of it is one where lean running hurts
 * @returns %, positive is more fuel
 * @source Bayesian linear regression: Rasmussen and Williams, Gaussian Processes for Machine Learning, section 2.1
 */
export function spreadCorrection(
  cells: readonly Cell[],
  rpm: readonly number[],
  load: readonly number[],
  highLoad: (j: number) => boolean,
): Spread {
  const nr = rpm.length
  const capped = (pct: number) => Math.min(MAX_CHANGE_PCT, Math.max(-MAX_CHANGE_PCT, pct))
  const unsafe = cells.map((c) => c.state === 'unsafe')
  const solid = cells.map((c, k) => c.state === 'proven' || c.state === 'needs-correction' || (unsafe[k] && c.correctionPct !== null))
  const own = cells.map((c, k) =>
    !solid[k] ? 0 : unsafe[k] ? Math.max(0, capped(Math.max(0, c.correctionPct!) + UNSAFE_MARGIN_PCT)) : capped(c.correctionPct!),
  )
  const trend = trendOf(cells, own, solid, rpm, load)
  const near = (c: number): number[] => {
    const i = c % nr
    return [i > 0 ? c - 1 : -1, i < nr - 1 ? c + 1 : -1, c - nr, c + nr].filter((k) => k >= 0 && k < cells.length)
  }
  // a cell that was only touched says what it says, as far as that is known; its neighbours say the rest
  const said = cells.map((c, k) => (solid[k] ? own[k] : c.correctionPct === null ? trend[k] : capped(c.correctionPct)) - trend[k])
  const heard = cells.map((c, k) => (solid[k] ? 1 : shareHeard(c)))
  let rest = said.map((v, c) => heard[c] * v)
  for (let pass = 0; pass < SPREAD_PASSES; pass++)
    rest = rest.map((_, c) => heard[c] * said[c] + ((1 - heard[c]) * near(c).reduce((sum, k) => sum + rest[k], 0)) / near(c).length)
  const correction = own.map((v, c) => (solid[c] ? v : capped(trend[c] + rest[c])))
  cells.forEach((_, c) => {
    const unseenHigh = !solid[c] && highLoad((c - (c % nr)) / nr)
    if (unseenHigh || unsafe[c]) correction[c] = Math.max(0, correction[c])
  })
  // the lean side of a step is raised to it: that side can hurt
  for (let pass = 0; pass < nr + load.length; pass++)
    for (let c = 0; c < correction.length; c++) for (const k of near(c)) correction[c] = Math.max(correction[c], correction[k] - STEP_PCT)
  return { correction, solid }
}

/** How much a cell's own reading decides against what its neighbours let expect: by the variance of each; a cell hardly touched is less sure than it says. */
function shareHeard({ correctionPct, standardErrorPct, seconds }: Cell): number {
  if (correctionPct === null || standardErrorPct === null) return 0
  const hardly = Math.max(0, 1 - seconds / PROVEN_SECONDS)
  return EXPECTED_SIGMA_PCT ** 2 / (EXPECTED_SIGMA_PCT ** 2 + standardErrorPct ** 2 + (HARDLY_SIGMA_PCT * hardly) ** 2)
}

/** The plane that the solid cells have in common, at every cell, the less the less it is known there, %. */
function trendOf(
  cells: readonly Cell[],
  own: readonly number[],
  solid: readonly boolean[],
  rpm: readonly number[],
  load: readonly number[],
): number[] {
  const nr = rpm.length
  const across = (axis: readonly number[], k: number) => (2 * axis[k] - axis[0] - axis.at(-1)!) / Math.max(1e-9, axis.at(-1)! - axis[0])
  const at = (c: number): number[] => [1, across(rpm, c % nr), across(load, (c - (c % nr)) / nr)]
  const normal = new Float64Array(9)
  const right = new Float64Array(3)
  for (let p = 0; p < 3; p++) normal[4 * p] = 1 / TREND_SIGMAS_PCT[p] ** 2
  cells.forEach((cell, c) => {
    if (!solid[c] || cell.state === 'unsafe') return
    const weight = 1 / ((cell.standardErrorPct ?? 0) ** 2 + ROUGH_PCT ** 2)
    const x = at(c)
    for (let p = 0; p < 3; p++) {
      right[p] += weight * x[p] * own[c]
      for (let q = 0; q < 3; q++) normal[3 * p + q] += weight * x[p] * x[q]
    }
  })
  const { x: size } = solveSpd(normal.slice(), right)
  return cells.map((_, c) => {
    const x = at(c)
    const { x: spread } = solveSpd(normal.slice(), Float64Array.from(x), false)
    const variance = x.reduce((sum, v, p) => sum + v * spread[p], 0)
    return x.reduce((sum, v, p) => sum + v * size[p], 0) / (1 + variance / HALF_AT_PCT ** 2)
  })
}
