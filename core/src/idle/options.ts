import { alongCurve } from '../kernel/index.ts'
import type { TuneDocument } from '../tune/index.ts'
import type { IdleOptions } from './verdict.ts'

/** coolant of a warm idle, degC */
export const WARM_IDLE_C = 85

/** Against what an idle of a tune is judged: its target with what is added, its correction, and how far it may move the valve. */
export function tuneIdleOptions({ parameters: p }: Pick<TuneDocument, 'parameters'>): IdleOptions {
  return {
    targetRpm: alongCurve(p.idleTargetRpm, WARM_IDLE_C),
    offsetsRpm: [p.idleFanRpm, p.idleInGearRpm],
    ...(p.loopAuthorityPct > 0 ? { authorityPct: p.loopAuthorityPct } : {}),
    reach: { startPct: alongCurve(p.idleValvePct, WARM_IDLE_C), mostPct: p.idleAdaptMostPct },
  }
}
