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
  if (left.some((l) => !l || l.axes !== left[0]?.axes)) return { errorsPct: logs.map((v) => v.errorRmsPct!), share: 1 }
  const driven = left.map((l) => new Map(l!.cells.map(([c, pct, seconds]) => [c, { pct, seconds }])))
  const shared = [...driven[0].keys()]
    .filter((c) => driven.every((d) => d.has(c)))
    .map((c) => ({ c, seconds: Math.min(...driven.map((d) => d.get(c)!.seconds)) }))
  const seconds = shared.reduce((sum, s) => sum + s.seconds, 0)
  const share = seconds / Math.min(...driven.map((d) => [...d.values()].reduce((sum, v) => sum + v.seconds, 0)))
  if (!(share >= LEAST_SHARED)) return null
  return { errorsPct: driven.map((d) => Math.sqrt(shared.reduce((sum, s) => sum + s.seconds * d.get(s.c)!.pct ** 2, 0) / seconds)), share }
}
