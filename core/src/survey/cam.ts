import type { CamClass } from '../air/index.ts'

/** Idle MAP limits of handbook 01: below 40 kPa stock, to 50 mild, to 62 hot, above wild. The vacuum says how the engine really breathes. */
export function camClassFromIdleMap(idleMapKpa: number): CamClass {
  return idleMapKpa < 40 ? 'stock' : idleMapKpa <= 50 ? 'mild' : idleMapKpa <= 62 ? 'hot' : 'wild'
}

/** Valve overlap at 1.27 mm lift, crank degrees: (inlet + exhaust duration) / 2 - 2 x lobe separation. Negative for quiet cams. */
export const overlapDeg = (inletDurationDeg: number, exhaustDurationDeg: number, lobeSeparationDeg: number): number =>
  (inletDurationDeg + exhaustDurationDeg) / 2 - 2 * lobeSeparationDeg

/** Class by overlap at 1.27 mm: our own bands, wide on purpose; the measured vacuum wins over them. */
export function camClassFromOverlap(overlap: number): CamClass {
  return overlap < -10 ? 'stock' : overlap < 5 ? 'mild' : overlap < 25 ? 'hot' : 'wild'
}
