import type { CamClass } from '../air/index.ts'
import { HOT_FROM_DEG, HOT_TO_KPA, MILD_FROM_DEG, MILD_TO_KPA, STOCK_BELOW_KPA, WILD_FROM_DEG } from './limits.ts'

/** Idle MAP limits of handbook 01: below 40 kPa stock, to 50 mild, to 62 hot, above wild. The vacuum says how the engine really breathes. */
export function camClassFromIdleMap(idleMapKpa: number): CamClass {
  return idleMapKpa < STOCK_BELOW_KPA ? 'stock' : idleMapKpa <= MILD_TO_KPA ? 'mild' : idleMapKpa <= HOT_TO_KPA ? 'hot' : 'wild'
}

/** Valve overlap at 1.27 mm lift, crank degrees: (inlet + exhaust duration) / 2 - 2 x lobe separation. Negative for quiet cams. */
export const overlapDeg = (inletDurationDeg: number, exhaustDurationDeg: number, lobeSeparationDeg: number): number =>
  (inletDurationDeg + exhaustDurationDeg) / 2 - 2 * lobeSeparationDeg

/** Class by overlap at 1.27 mm: our own bands, wide on purpose; the measured vacuum wins over them. */
export function camClassFromOverlap(overlap: number): CamClass {
  return overlap < MILD_FROM_DEG ? 'stock' : overlap < HOT_FROM_DEG ? 'mild' : overlap < WILD_FROM_DEG ? 'hot' : 'wild'
}
