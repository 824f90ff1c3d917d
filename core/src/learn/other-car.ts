import { type Context, kPa, type LogSummary, readingsOf, type Said, say } from '../kernel/index.ts'
import { OVER_AIR_KPA, OVER_REDLINE } from './limits.ts'

/**
 * Why a log may be of another car: what it shows that this engine cannot do, by what was told of it; empty when nothing speaks against it, or a
 * person said that it is this car's.
 */
export function logDoubtsSaid(c: Context, log: LogSummary): Said[] {
  const { engine, induction, place } = c.build.facts
  if (readingsOf(c.readings, 'learn.same-car').some((r) => r.value.logId === log.id)) return []
  const doubts: Said[] = []
  const redlineRpm = engine?.redlineRpm
  if (redlineRpm && log.topRpm && log.topRpm > OVER_REDLINE * redlineRpm)
    doubts.push(`It reaches ${log.topRpm.toFixed(0)} rpm; this engine turns ${redlineRpm} at most.`)
  const boostKpa = induction?.boostKpa ?? (induction?.kind === 'natural' ? 0 : undefined)
  const airKpa = place?.barometerKpa ?? 101.3
  if (boostKpa !== undefined && log.topMapKpa && log.topMapKpa > airKpa + boostKpa + OVER_AIR_KPA)
    doubts.push(say`Its manifold pressure reaches ${kPa(log.topMapKpa)}; this engine sees ${kPa(airKpa + boostKpa)} at most.`)
  return doubts
}
