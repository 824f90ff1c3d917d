import type { StoredReading } from '../../kernel/index.ts'
import { LEAST_SHARED } from './limits.ts'

type Solved = StoredReading<'learn.result'>['value']

/** What several logs left at the cells that all of them drove. */
export interface SharedErrors {
  /** of each log, rms over those cells, weighed by the shortest time that any of them was there, % */
  errorsPct: number[]
  /** that time, over the shortest of the drives, 0 to 1 */
  share: number
}

/**
 * The errors of logs where they can be compared: at the same cells. Logs from before cells were kept, or on other breakpoints, are compared by their whole error.
 * @returns null: too little of them was driven at the same places
 */
export function sharedErrors(logs: readonly Solved[]): SharedErrors | null {
  const left = logs.map((v) => v.left)
  if (left.some((l) => l?.axes !== left[0]?.axes || !l)) return { errorsPct: logs.map((v) => v.errorRmsPct!), share: 1 }
  const cells = left[0]!.pct.map((_, c) => (left.some((l) => l!.pct[c] === null) ? 0 : Math.min(...left.map((l) => l!.seconds[c]))))
  const shared = cells.reduce((sum, s) => sum + s, 0)
  const share = shared / Math.min(...left.map((l) => l!.seconds.reduce((sum, s) => sum + s, 0)))
  if (!(share >= LEAST_SHARED)) return null
  return { errorsPct: left.map((l) => Math.sqrt(cells.reduce((sum, s, c) => sum + s * (l!.pct[c] ?? 0) ** 2, 0) / shared)), share }
}
