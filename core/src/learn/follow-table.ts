import { type Axes, place } from '../tune/index.ts'
import type { LogData } from '../logfile/index.ts'

/** A cell is visited while it has this share of a row; a new visit begins after so long elsewhere, s. */
const VISIT_SHARE = 0.3
const VISIT_GAP_S = 10

/** What a table may hold before anything was read of it: so much, alike over so many cells, and rough from cell to cell by so much, %. */
const HOLDS_PCT = 10
const ALIKE_CELLS = 1.5
const ROUGH_PCT = 2
/** A row tells what is held to this: the sensors that say where the engine is are noisy, %. */
const READ_PCT = 0.6
/** Learning moves what stands between four cells by so much in the root of a second, % */
const LEARNS_PCT = 0.25
/** Between two drives it may have been loaded anew: what is held is then known to this share of what it is known to beforehand. */
const PAUSE_S = 30
const ANEW_SHARE = 0.2
/** rows nearer than this tell nothing new, s; and no more are looked at than come to so many steps of the sum */
const EVERY_S = 0.1
const MOST_STEPS = 2e8

/** Covariance of the cells before anything was read. */
function beforehand({ rpm, mapKpa }: Axes): Float64Array {
  const nr = rpm.length
  const n = nr * mapKpa.length
  const p = new Float64Array(n * n)
  for (let a = 0; a < n; a++)
    for (let b = 0; b < n; b++) {
      const far = ((a % nr) - (b % nr)) ** 2 + (Math.floor(a / nr) - Math.floor(b / nr)) ** 2
      p[a * n + b] = HOLDS_PCT ** 2 * Math.exp(-far / (2 * ALIKE_CELLS ** 2)) + (a === b ? ROUGH_PCT ** 2 : 0)
    }
  return p
}

/**
 * The unit's own table followed through a log. A row reads what stands between four cells; learning moves it along the very weights by which it is
 * read, so that what a row tells also says what its neighbours hold. Every row counts in which the engine turns, also those that say nothing of
 * the mixture.
 * @param axes breakpoints of the unit's own cells
 * @returns what it holds at the end, and how far each cell moved since the visit before the last, %; NaN: visited once
 * @source R. E. Kalman, A New Approach to Linear Filtering and Prediction Problems (1960)
 */
export function followTable(
  { timeS, channels: { rpm, mapKpa, learnedPct } }: Pick<LogData, 'timeS' | 'channels'>,
  axes: Axes,
): { cells: Float64Array; movedPct: Float64Array } {
  const nr = axes.rpm.length
  const n = nr * axes.mapKpa.length
  const cells = new Float64Array(n)
  const prior = beforehand(axes)
  const p = prior.slice()
  const lastS = new Float64Array(n).fill(-Infinity)
  const atEnd = new Float64Array(n).fill(NaN)
  const before = new Float64Array(n).fill(NaN)
  const stepS = Math.max(EVERY_S, ((timeS[timeS.length - 1] - timeS[0]) * n * n) / MOST_STEPS)
  const gain = new Float64Array(n)
  let then = -Infinity
  for (let i = 0; i < timeS.length; i++) {
    if (timeS[i] - then < stepS || !Number.isFinite(learnedPct![i]) || !(rpm![i] > axes.rpm[0] / 2) || !Number.isFinite(mapKpa![i]))
      continue
    if (timeS[i] - then > PAUSE_S && then > -Infinity) for (let c = 0; c < p.length; c++) p[c] += ANEW_SHARE ** 2 * prior[c]
    const dt = Math.min(1, timeS[i] - then)
    then = timeS[i]
    const { index: x, fraction: u } = place(axes.rpm, rpm![i])
    const { index: y, fraction: v } = place(axes.mapKpa, mapKpa![i])
    const a = y * nr + x
    const near = [a, a + 1, a + nr, a + nr + 1]
    const w = [(1 - u) * (1 - v), u * (1 - v), (1 - u) * v, u * v]
    const norm = w[0] ** 2 + w[1] ** 2 + w[2] ** 2 + w[3] ** 2
    // it has learned since: what is read may have moved by so much, along its weights
    const moved = (LEARNS_PCT ** 2 * dt) / norm ** 2
    // the covariance is the same both ways: half of it is kept, and `near` rises
    for (let k = 0; k < 4; k++) for (let l = k; l < 4; l++) p[near[k] * n + near[l]] += moved * w[k] * w[l]
    let off = learnedPct![i]
    for (let k = 0; k < 4; k++) off -= w[k] * cells[near[k]]
    gain.fill(0)
    for (let k = 0; k < 4; k++) {
      const at = near[k]
      for (let c = 0; c < at; c++) gain[c] += w[k] * p[c * n + at]
      for (let c = at; c < n; c++) gain[c] += w[k] * p[at * n + c]
    }
    const spread = READ_PCT ** 2 + w[0] * gain[near[0]] + w[1] * gain[near[1]] + w[2] * gain[near[2]] + w[3] * gain[near[3]]
    for (let c = 0; c < n; c++) {
      const share = gain[c] / spread
      cells[c] += share * off
      for (let d = c; d < n; d++) p[c * n + d] -= share * gain[d]
    }
    for (let k = 0; k < 4; k++) {
      const c = near[k]
      if (w[k] < VISIT_SHARE) continue
      if (timeS[i] - lastS[c] > VISIT_GAP_S && lastS[c] > -Infinity) before[c] = atEnd[c]
      lastS[c] = timeS[i]
      atEnd[c] = cells[c]
    }
  }
  return { cells, movedPct: Float64Array.from(cells, (_, c) => atEnd[c] - before[c]) }
}
