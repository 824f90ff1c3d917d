import { type Context, CoreError, type EntryTable } from '../../kernel/index.ts'
import { judgeTrain } from './judge.ts'
import { patternOf, polarityOf } from './pattern.ts'
import type { PulsePattern, Trace } from './trace.ts'

/** A cam signal: one pulse in two turns of the crank. */
const CAM: PulsePattern = { places: 1, missing: 0, crankTurns: 2 }
/** The train a trace should show, by its name; null while way or cylinders are not known. */
export const patternFor = (c: Context, traceId: string): PulsePattern | null => (traceId === 'cam' ? CAM : patternOf(c))

/**
 * What a scope's record says of the sensor, as it goes into the record.
 * @throws CoreError EVIDENCE_MISSING while the way of triggering is not known, SCOPE_UNREADABLE with too few pulses
 */
export function scopeVerdict(c: Context, trace: Trace): EntryTable['spark.scope'] {
  const pattern = patternFor(c, trace.id)
  if (!pattern) throw new CoreError('EVIDENCE_MISSING', 'the scope’s verdict', 'choose the way of triggering, with its wheel, first')
  const v = judgeTrain(trace, pattern)
  return {
    rpm: v.rpm ?? 0,
    pulses: v.pulses.length,
    missing: v.missing.length,
    extra: v.extra.length,
    jitterDeg: v.jitterDeg,
    polarity: polarityOf(c, v),
    ...(v.unsure === null ? {} : { unsure: v.unsure }),
    ...(v.counted && (v.counted.places !== pattern.places || v.counted.missing !== pattern.missing) ? { counted: v.counted } : {}),
    noiseV: v.noiseV,
    peakV: v.peakV,
  }
}
