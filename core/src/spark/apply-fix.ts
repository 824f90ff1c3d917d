import type { Context, EntryKind } from '../kernel/index.ts'
import { alignOf } from './phase.ts'
import type { TimingFix, TimingVerdict } from './timing-fixes.ts'
import { hasDistributor } from './ways.ts'

export interface FixActions {
  /** settings of the unit, by path */
  changes: { path: string; value: number }[]
  /** what goes into the record after the fit itself, oldest first */
  readings: { kind: EntryKind; value: Record<string, unknown> }[]
}
const tenth = (value: number): number => Math.round(value * 10) / 10

/**
 * What doing a fix means for settings and record. Turning metal is a reading of hand work and carries the rotor's
 * alignment along; the delay is set with either. Nothing is done with contradicting readings.
 */
export function fixActions(c: Context, verdict: TimingVerdict, id: TimingFix['id']): FixActions {
  const fix = verdict.fixes.find((f) => f.id === id)
  if (!fix || verdict.mistake) return { changes: [], readings: [] }
  const changes: FixActions['changes'] = []
  const record: FixActions['readings'] = []
  if (verdict.newDelayUs !== null) changes.push({ path: 'choices.spark.delayUs', value: Math.round(verdict.newDelayUs) })
  if (id === 'change-reference' && verdict.newReferenceDeg !== null)
    changes.push({ path: 'choices.spark.referenceDeg', value: tenth(verdict.newReferenceDeg) })
  if (id === 'turn-distributor' || id === 'move-sensor') {
    record.push({
      kind: 'spark.moved',
      value: { what: id === 'move-sensor' ? 'sensor' : 'distributor', laterDeg: tenth(verdict.referenceErrorDeg) },
    })
    if (hasDistributor(c)) changes.push({ path: 'choices.spark.alignDegBtdc', value: tenth(alignOf(c) + fix.movesAlignDeg) })
  }
  return { changes, readings: record }
}
