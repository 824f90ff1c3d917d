import { damperArc } from './damper-arc.ts'

export interface TapeTick {
  deg: number
  /** along the tape from its zero, mm */
  mm: number
  kind: 'ten' | 'five' | 'one'
}
/** Length of the bar printed beside the tape: if it does not measure this, the print was scaled. */
export const CHECK_BAR_MM = 100
/** Paper with its glue, until it is measured, mm. */
export const USUAL_TAPE_MM = 0.15

/**
 * Ticks of a paper tape for the rim of a damper, one for each degree. Before top centre is positive.
 * @param thicknessMm paper and glue: the tape lies on a larger circle than the rim
 * @source arc length, pi D a / 360
 */
export function timingTape(damperDiameterMm: number, fromDeg: number, toDeg: number, thicknessMm = 0): TapeTick[] {
  const first = Math.ceil(Math.min(fromDeg, toDeg))
  const last = Math.floor(Math.max(fromDeg, toDeg))
  const start = damperArc.run({ damperDiameterMm: damperDiameterMm + 2 * thicknessMm, angleDeg: first }).arcMm
  return Array.from({ length: last - first + 1 }, (_, k) => {
    const deg = first + k
    const { arcMm } = damperArc.run({ damperDiameterMm: damperDiameterMm + 2 * thicknessMm, angleDeg: deg })
    return { deg, mm: arcMm - start, kind: deg % 10 === 0 ? 'ten' : deg % 5 === 0 ? 'five' : 'one' }
  })
}
