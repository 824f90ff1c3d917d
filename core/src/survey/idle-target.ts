import type { CamClass } from '../air/index.ts'
import type { ResolvedFacts } from './resolve.ts'

/** Warm idle of handbook 05, by cam class, rpm. */
const IDLE_RPM: Record<CamClass, number> = { stock: 700, mild: 750, hot: 850, wild: 975 }
/** An automatic idles so much lower, rpm: the converter would creep. */
const AUTOMATIC_LOWER_RPM = 25
export const idleTargetRpm = (r: Pick<ResolvedFacts, 'camClass' | 'automatic'>): number =>
  IDLE_RPM[r.camClass] - (r.automatic ? AUTOMATIC_LOWER_RPM : 0)
