import { PROVEN_ERROR_PCT, PROVEN_SE_PCT, PROVEN_SECONDS, UNSAFE_BAROMETER_SHARE, UNSAFE_RUN_S } from './limits.ts'
import type { CellState } from './result.ts'

/** Used seconds from which a cell counts as touched at all. */
export const TOUCHED_S = 0.05

/** What the solve knows of one cell. */
export interface CellSeen {
  /** seconds of lean running at it, in runs long enough to count */
  unsafeSeconds: number
  /** manifold pressure of the cell as a share of the barometer */
  loadShare: number
  /** used seconds, by bilinear share */
  seconds: number
  standardErrorPct: number
  /** fuel still to be added, % */
  correctionPct: number
  passed: boolean
}

/** Where a cell stands (handbook 07, step 6): lean under load before all else, then what is proven, then what was only touched. */
export function cellState(c: CellSeen): CellState {
  if (c.unsafeSeconds >= UNSAFE_RUN_S && c.loadShare >= UNSAFE_BAROMETER_SHARE) return 'unsafe'
  if (c.seconds >= PROVEN_SECONDS && c.standardErrorPct <= PROVEN_SE_PCT)
    return Math.abs(c.correctionPct) <= PROVEN_ERROR_PCT ? 'proven' : 'needs-correction'
  if (c.seconds > TOUCHED_S) return 'thin'
  return c.passed ? 'passed-through' : 'untouched'
}
