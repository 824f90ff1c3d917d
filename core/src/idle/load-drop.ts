import { CoreError } from '../kernel/index.ts'
import { BACK_WITHIN_S, FAN_DROP_RPM, GEAR_DROP_RPM, SAME_RPM } from './limits.ts'
import type { Log } from './runs.ts'

const BEFORE_S = 3
const AFTER_S = 8
/** the first moments of a load are a reading or two: what the speed does is smoothed over so long, s */
const SMOOTH_S = 0.25

/** What a load does to the idle. */
export interface LoadDrop {
  beforeRpm: number
  dropRpm: number
  /** until the speed is back where it goes on, s; null: it was not within the look */
  backS: number | null
  endRpm: number
}
/**
 * The drop of the speed as a load comes on: mean before, least after, and how soon it stays within 30 rpm of where it ends.
 * @param atS when the load came on, s of the log
 * @throws CoreError LOG_TOO_SHORT when there is too little about it
 */
export function loadDrop({ timeS, channels }: Log, atS: number): LoadDrop {
  const { rpm } = channels
  if (!rpm) throw new CoreError('COLUMN_MISSING', 'engine speed')
  const before: number[] = []
  const after: { t: number; v: number }[] = []
  let value = NaN
  for (let i = 0; i < timeS.length; i++) {
    const t = timeS[i] - atS
    if (t >= -BEFORE_S && t < 0) before.push(rpm[i])
    if (t >= 0 && t <= AFTER_S) {
      const dt = i > 0 ? timeS[i] - timeS[i - 1] : 0
      value = Number.isNaN(value) ? rpm[i] : value + (rpm[i] - value) * Math.min(1, dt / SMOOTH_S)
      after.push({ t, v: value })
    }
  }
  if (before.length < 5 || after.length < 10 || after.at(-1)!.t < BACK_WITHIN_S + 1)
    throw new CoreError('LOG_TOO_SHORT', 'look at the load', `wants ${BEFORE_S} s before it comes on and ${BACK_WITHIN_S + 1} s after`)
  const beforeRpm = before.reduce((s, v) => s + v, 0) / before.length
  const end = after.filter((a) => a.t > after.at(-1)!.t - 2)
  const endRpm = end.reduce((s, a) => s + a.v, 0) / end.length
  const least = Math.min(...after.map((a) => a.v))
  const lastOff = after.findLastIndex((a) => Math.abs(a.v - endRpm) > SAME_RPM)
  return {
    beforeRpm,
    dropRpm: Math.max(0, beforeRpm - least),
    backS: lastOff === after.length - 1 ? null : lastOff < 0 ? 0 : after[lastOff + 1].t,
    endRpm,
  }
}
export type Load = 'gear' | 'fan' | 'steering' | 'lights'
/** Most that the speed may fall with a load, rpm. */
export const dropAllowedRpm = (load: Load): number => (load === 'gear' ? GEAR_DROP_RPM : FAN_DROP_RPM)
