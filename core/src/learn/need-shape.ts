import { solveSpd } from '../kernel/index.ts'
import type { LearnCell } from './result.ts'

/**
 * What the need over the base is made of: a constant, a part that falls with flow as outside air in the exhaust does, and what is left: a base
 * table is off by some per cent, smoothly, and that is no fault. The last is a Gaussian field, so that the two parts carry honest errors.
 * @source generalised least squares with a squared-exponential covariance: Rasmussen and Williams, Gaussian Processes for Machine Learning, 2.7
 */
export interface NeedShape {
  constantPct: number
  constantSePct: number
  /** rise from the highest flow driven to the lowest, % */
  lowFlowPct: number
  lowFlowSePct: number
}

/** How far a computed base table is off, rms %, and over how much speed and pressure that changes. */
const TABLE_SIGMA_PCT = 5
const TABLE_RPM = 1500
const TABLE_KPA = 25
/** readings of a cell are never better than this, % */
const LEAST_SE_PCT = 0.7
/** flow, as share of that at 3,000 rpm and 100 kPa, at which outside air drawn in by the exhaust has halved */
const LEAK_HALF_FLOW = 0.1
const FULL_FLOW = 3e5

/** Share of outside air at a point against that at no flow. */
export const leakShape = (rpm: number, mapKpa: number): number => 1 / (1 + (rpm * mapKpa) / FULL_FLOW / LEAK_HALF_FLOW)

/** @param cells those that were driven long enough, with what they need over the base; @returns null when they are too few or too much alike */
export function needShape(cells: readonly LearnCell[]): NeedShape | null {
  const n = cells.length
  if (n < 6) return null
  const shapes = cells.map((c) => leakShape(c.rpm, c.mapKpa))
  const range = Math.max(...shapes) - Math.min(...shapes)
  if (range < 0.1) return null
  const middle = shapes.reduce((a, b) => a + b, 0) / n
  const columns = [cells.map(() => 1), shapes.map((s) => (s - middle) / range)]
  const need = cells.map((c) => c.neededBasePct ?? c.correctionPct!)
  const covariance = (): Float64Array => {
    const k = new Float64Array(n * n)
    for (let i = 0; i < n; i++)
      for (let j = 0; j <= i; j++) {
        const d = ((cells[i].rpm - cells[j].rpm) / TABLE_RPM) ** 2 + ((cells[i].mapKpa - cells[j].mapKpa) / TABLE_KPA) ** 2
        const noise = i === j ? Math.max(LEAST_SE_PCT, cells[i].standardErrorPct ?? LEAST_SE_PCT) ** 2 : 0
        k[i * n + j] = TABLE_SIGMA_PCT ** 2 * Math.exp(-d / 2) + noise
      }
    return k
  }
  const solved = columns.map((c) => solveSpd(covariance(), Float64Array.from(c), false).x)
  const dot = (a: ArrayLike<number>, b: ArrayLike<number>): number => {
    let sum = 0
    for (let i = 0; i < n; i++) sum += a[i] * b[i]
    return sum
  }
  const [aa, ab, bb] = [dot(columns[0], solved[0]), dot(columns[0], solved[1]), dot(columns[1], solved[1])]
  const [ay, by] = [dot(need, solved[0]), dot(need, solved[1])]
  const det = aa * bb - ab * ab
  if (!(det > 0)) return null
  return {
    constantPct: (bb * ay - ab * by) / det,
    constantSePct: Math.sqrt(bb / det),
    lowFlowPct: (aa * by - ab * ay) / det,
    lowFlowSePct: Math.sqrt(aa / det),
  }
}
