import { at, type Context, finding, latest, rootBetween, type Rule } from '../kernel/index.ts'
import type { SparkChoices } from './choices.ts'
import { controlsTiming, sensorDegToCrank, sensorOf } from './ways.ts'

export type Edge = 'falling' | 'rising'

/** The electrical edge that marks the moment a pick-up was set to: output low or high with the target there, set on it arriving or leaving. */
export const edgeOf = (output: 'low' | 'high', setOn: 'arriving' | 'leaving'): Edge =>
  (output === 'low') === (setOn === 'arriving') ? 'falling' : 'rising'

/** Crank degrees by which the wrong edge of a target shifts every spark: its width, doubled when it turns with the distributor. */
export const wrongEdgeShiftDeg = (targetWidthDeg: number, inDistributor: boolean): number => targetWidthDeg * (inDistributor ? 2 : 1)

export const USUAL_TARGET_DEG = 8
export const USUAL_LOBE_DEG = 3

/**
 * Crank degrees by which the pulse comes later than it was set because the unit takes the other edge (early: minus).
 * @returns 0 with the right edge, null while output, setting or edge are not known
 */
export function edgeErrorDeg(spark: SparkChoices, toCrank: number): number | null {
  const { output, setOn, edge, targetWidthDeg = USUAL_TARGET_DEG } = spark
  if (!output || !setOn || !edge) return null
  if (edgeOf(output, setOn) === edge) return 0
  return targetWidthDeg * toCrank * (setOn === 'arriving' ? 1 : -1)
}

/**
 * One pulse of a magnetic pick-up: the slope of a bell-shaped flux, peaks of +1 before and -1 after the middle.
 * @param u distance from the middle of the target, in thirds of a lobe's width
 * @source induction: the voltage is the rate of change of the flux
 */
export const lobeWave = (u: number): number => -u * Math.exp((1 - u * u) / 2)
const THIRDS = 3

/**
 * Degrees by which a magnetic pick-up with its wires changed over triggers late: the unit still waits for a positive lobe, which now comes after
 * the middle, and then for it to have died down.
 * @param peakV peak of the pulse at that speed
 * @param releaseV level under which the unit takes the pulse for ended
 * @returns on the shaft of the wheel; null when the pulse never rises over the release level
 */
export function reversedShiftDeg(lobeDeg: number, peakV: number, releaseV: number): number | null {
  if (!(peakV > releaseV) || releaseV <= 0) return null
  const u = rootBetween((x) => -lobeWave(x) * peakV - releaseV, 1, 8)
  return (u * lobeDeg) / THIRDS
}

/** Peak of a magnetic pulse at a speed, V, from its peak while cranking: it grows with speed. Source: induction. */
export const peakAtV = (crankingV: number, crankingRpm: number, rpm: number): number => (crankingV * rpm) / crankingRpm
export const CRANKING_RPM = 200
export const RELEASE_V = 0.1
const SAME_DEG = 0.5

export const edgeRules: Rule[] = [
  {
    id: 'spark.edge',
    where: at('spark', 'trigger', 'choices.spark.edge'),
    check: (c) => {
      if (!controlsTiming(c) || sensorOf(c) === 'magnetic' || sensorOf(c) === null) return null
      const error = edgeErrorDeg(c.spark, sensorDegToCrank(c))
      if (error === null || Math.abs(error) < SAME_DEG) return null
      const { output, setOn } = c.spark
      return finding(
        'stop',
        'The unit takes the wrong edge',
        `Output ${output} with the target there, set on it ${setOn}: the moment is the ${edgeOf(output!, setOn!)} edge. With the other every spark comes ${Math.abs(error).toFixed(0)}° ${error > 0 ? 'late' : 'early'} at the crank, at any speed.`,
        `Set the unit to the ${edgeOf(output!, setOn!)} edge.`,
      )
    },
  },
  {
    id: 'spark.polarity',
    where: at('spark', 'steps', 'polarity'),
    check: (c) => {
      const reading = latest(c.readings, 'spark.polarity')
      if (!controlsTiming(c) || !reading || reading.value.right) return null
      if (sensorOf(c) !== 'magnetic')
        return finding(
          'stop',
          'The sensor answers the wrong way round',
          `Looked at with the ${reading.value.method}.`,
          'Change the edge in the unit to match, then look again.',
        )
      const shift = reversedAtSpeeds(c).filter((s) => s.lateDeg !== null)
      return finding(
        'stop',
        'The pick-up is connected the wrong way round',
        `The zero crossing has not moved, but the unit triggers elsewhere on the wave: ${shift.map((s) => `${s.lateDeg!.toFixed(1)}° late at ${s.rpm} rpm`).join(', ') || 'it does not trigger at all'}.`,
        'Change its two wires over, then look again.',
      )
    },
  },
]

/** What reversed wires of a magnetic pick-up would do over speed, at the crank. */
export function reversedAtSpeeds(c: Context): { rpm: number; lateDeg: number | null }[] {
  const crankingV = latest(c.readings, 'spark.signal')?.value.crankingV ?? 1
  const lobe = c.spark.lobeDeg ?? USUAL_LOBE_DEG
  return [CRANKING_RPM, 1000, Math.round(c.resolved.redlineRpm / 100) * 100].map((rpm) => {
    const shift = reversedShiftDeg(lobe, peakAtV(crankingV, CRANKING_RPM, rpm), RELEASE_V)
    return { rpm, lateDeg: shift === null ? null : shift * sensorDegToCrank(c) }
  })
}
