import { type Context, kPa, type LogSummary, readingsOf, type Said, say } from '../kernel/index.ts'
import type { Facts } from '../survey/index.ts'
import { OVER_AIR_KPA, OVER_REDLINE } from './limits.ts'

/** What this engine cannot pass, by what was told of it, rpm and kPa; what was not told bounds nothing. */
export function mostOf({ engine, induction }: Facts, barometerKpa: number): { mostRpm?: number; mostKpa?: number } {
  const boostKpa = induction?.boostKpa ?? (induction?.kind === 'natural' ? 0 : undefined)
  return {
    ...(engine?.redlineRpm ? { mostRpm: OVER_REDLINE * engine.redlineRpm } : {}),
    ...(boostKpa === undefined ? {} : { mostKpa: barometerKpa + boostKpa + OVER_AIR_KPA }),
  }
}

/**
 * Why a log may be of another car: what it shows that this engine cannot do, by what was told of it; empty when nothing speaks against it, or a
 * person said that it is this car's.
 */
export function logDoubtsSaid(c: Context, log: LogSummary): Said[] {
  const { facts } = c.build
  if (readingsOf(c.readings, 'learn.same-car').some((r) => r.value.logId === log.id)) return []
  const { mostRpm, mostKpa } = mostOf(facts, facts.place?.barometerKpa ?? 101.3)
  const doubts: Said[] = []
  if (mostRpm && log.topRpm && log.topRpm > mostRpm)
    doubts.push(`It reaches ${log.topRpm.toFixed(0)} rpm; this engine turns ${facts.engine!.redlineRpm} at most.`)
  if (mostKpa && log.topMapKpa && log.topMapKpa > mostKpa)
    doubts.push(say`Its manifold pressure reaches ${kPa(log.topMapKpa)}; this engine sees ${kPa(mostKpa - OVER_AIR_KPA)} at most.`)
  return doubts
}
