import type { Context } from '../../kernel/index.ts'
import { edgeOf } from '../sensor-edge.ts'
import { hasDistributor, sensorOf } from '../ways.ts'
import type { TrainVerdict } from './judge.ts'
import type { PulsePattern } from './trace.ts'

/** The train of pulses the chosen way should give; null while way or cylinders are not known. */
export function patternOf(c: Context): PulsePattern | null {
  const bare = barePattern(c)
  const widthDeg = c.spark.targetWidthDeg
  return bare && widthDeg !== undefined ? { ...bare, widthShare: (widthDeg * bare.places) / 360 } : bare
}
function barePattern(c: Context): PulsePattern | null {
  const { trigger, wheel } = c.spark
  if (!trigger || c.resolved.cylinders === null) return null
  if (trigger === 'toothed-wheel') return wheel?.teeth ? { places: wheel.teeth, missing: wheel.missing ?? 0, crankTurns: 1 } : null
  return hasDistributor(c)
    ? { places: c.resolved.cylinders, missing: 0, crankTurns: 2 }
    : { places: c.resolved.cylinders / 2, missing: 0, crankTurns: 1 }
}

/** Whether the signal passes a target the way it was set up: a magnetic one falls steeply; a square one takes the edge that marks the moment. */
export function polarityOf(c: Context, verdict: Pick<TrainVerdict, 'kind' | 'slope' | 'unsure'>): 'right' | 'reversed' | 'unknown' {
  const sensor = sensorOf(c)
  if (verdict.unsure !== null) return 'unknown'
  if (sensor === 'magnetic') return verdict.kind !== 'magnetic' ? 'unknown' : verdict.slope === 'falling' ? 'right' : 'reversed'
  if (!sensor || !c.spark.output || verdict.kind !== 'square') return 'unknown'
  // the train is timed by the edge at which a target leaves
  return verdict.slope === edgeOf(c.spark.output, 'leaving') ? 'right' : 'reversed'
}
