import { ZERO_TOLERANCE_DEG } from './limits.ts'

/** What a zero mark was read as: the stop from both sides, or only an offset that somebody told. */
export interface ZeroReading {
  beforeDeg?: number
  afterDeg?: number
  offsetDeg?: number
  dealt?: 'stored' | 're-marked'
}

/**
 * What the mark must be corrected by, crank degrees: top centre lies in the middle of the two readings at a piston stop. Read b degrees before the
 * mark on one side and a degrees after it on the other, the middle lies (b - a)/2 before the mark, so that every reading is too early by that.
 */
export function zeroOffsetDeg({ beforeDeg, afterDeg, offsetDeg = 0 }: ZeroReading): number {
  if (beforeDeg === undefined || afterDeg === undefined) return offsetDeg
  return (afterDeg - beforeDeg) / 2
}

/** Why a reading does not prove the mark, or null. */
export function zeroMarkWeakness(v: ZeroReading): string | null {
  if (v.beforeDeg === undefined || v.afterDeg === undefined) return 'only an offset was told: the stop is read from both sides'
  return v.dealt === 're-marked' && Math.abs(zeroOffsetDeg(v)) > ZERO_TOLERANCE_DEG
    ? `marked anew, and still off by ${Math.abs(zeroOffsetDeg(v)).toFixed(1)}°: read both sides on the new mark`
    : null
}
