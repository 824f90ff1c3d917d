import { fitTiming, type TimingReading } from './fit-timing.ts'
import { delayDeg } from './delay-retard.ts'

export interface TimingFix {
  id: 'turn-distributor' | 'move-sensor' | 'change-reference' | 'change-delay'
  title: string
  detail: string
  /** what it does to the rotor's alignment, crank degrees BTDC; 0 when nothing mechanical moves */
  movesAlignDeg: number
}

export type ReadingMistake = 'scatter' | 'poor-fit'

export interface TimingVerdict {
  referenceErrorDeg: number
  delayErrorUs: number | null
  referenceErrorSeDeg: number
  delayErrorSeUs: number | null
  residualDeg: number | null
  /** set when the readings contradict each other: then nothing is to be adjusted */
  mistake: { kind: ReadingMistake; message: string } | null
  fixes: TimingFix[]
  /** settings after the electronic fix */
  newReferenceDeg: number | null
  newDelayUs: number | null
  /** the speed at which one more reading would tighten the answer most */
  nextRpm: number
  enough: boolean
  /** largest error left between idle and the highest speed asked about, if nothing is changed */
  worstErrorDeg: number
}

const MAX_SCATTER_DEG = 1.5
const MAX_RESIDUAL_DEG = 1
const GOOD_REFERENCE_SE_DEG = 0.5
const GOOD_DELAY_SE_US = 35

/**
 * Judges timing-light readings taken at one commanded value and one setting, and says what to change.
 *
 * observed = commanded + reference error - 6e-6 rpm delay error, so with R set in the unit and the pulse truly at R + error, raising R by the
 * error sets it right and moves nothing; turning the housing by half of it does the same and carries the rotor alignment with it.
 * Readings at one speed that spread more than 1.5 degrees, or a fit that misses by more than 1 degree, are a reading problem, not a setting.
 */
export function judgeTiming(input: {
  commandedDeg: number
  readings: TimingReading[]
  referenceDeg: number
  delayUs: number
  rotation: 'clockwise' | 'anticlockwise'
  hasDistributor: boolean
  maxRpm: number
}): TimingVerdict {
  const { commandedDeg, readings, referenceDeg, delayUs, rotation, hasDistributor, maxRpm } = input
  const fit = fitTiming.run({ commandedDeg, readings })
  const speeds = readings.map((r) => r.rpm)
  const mistake = findMistake(readings, fit.residualDeg)
  const error = fit.referenceErrorDeg
  const fixes: TimingFix[] = []
  if (!mistake && Math.abs(error) >= 0.25) {
    // a pulse that comes early (error positive) is made later by turning the housing the way the rotor turns
    const withRotation = error > 0
    const clockwise = (rotation === 'clockwise') === withRotation
    fixes.push({
      id: 'change-reference',
      title: `Set the reference angle to ${(referenceDeg + error).toFixed(1)}°`,
      detail: `From ${referenceDeg.toFixed(1)}° by ${signed(error)}°. Nothing moves; the rotor stays where it is.`,
      movesAlignDeg: 0,
    })
    fixes.push(
      hasDistributor
        ? {
            id: 'turn-distributor',
            title: `Or turn the distributor ${Math.abs(error / 2).toFixed(1)}° ${withRotation ? 'with' : 'against'} the rotor (${clockwise ? 'clockwise' : 'anticlockwise'})`,
            detail: `Half of ${Math.abs(error).toFixed(1)} crank degrees. It also moves the rotor's alignment by ${signed(-error)} crank degrees: check the phase again.`,
            movesAlignDeg: -error,
          }
        : {
            id: 'move-sensor',
            title: `Or move the crank sensor ${Math.abs(error).toFixed(1)}° ${withRotation ? 'with' : 'against'} crank rotation`,
            detail: 'The pulse then comes at the angle the unit believes.',
            movesAlignDeg: 0,
          },
    )
  }
  const delayError = fit.delayErrorUs
  if (!mistake && delayError !== null && Math.abs(delayError) >= 10)
    fixes.push({
      id: 'change-delay',
      title: `Set the signal delay to ${Math.max(0, delayUs + delayError).toFixed(0)} µs`,
      detail: `From ${delayUs.toFixed(0)} µs by ${signed(delayError, 0)} µs: timing ${delayError > 0 ? 'falls' : 'rises'} by ${Math.abs(delayDeg(1000, delayError)).toFixed(2)}° for each 1,000 rpm now.`,
      movesAlignDeg: 0,
    })
  const low = Math.min(...speeds)
  const high = Math.max(...speeds)
  const enough =
    !mistake && fit.referenceErrorSeDeg <= GOOD_REFERENCE_SE_DEG && fit.delayErrorSeUs !== null && fit.delayErrorSeUs <= GOOD_DELAY_SE_US
  return {
    ...fit,
    mistake,
    fixes,
    newReferenceDeg: mistake ? null : referenceDeg + error,
    newDelayUs: mistake || delayError === null ? null : Math.max(0, delayUs + delayError),
    // a line is tightened most at whichever end is further from the middle of what there is
    nextRpm:
      high < maxRpm * 0.6
        ? Math.round((maxRpm * 0.7) / 100) * 100
        : average(speeds) - low > high - average(speeds)
          ? Math.round(high / 50) * 50
          : Math.round(low / 50) * 50,
    enough,
    worstErrorDeg: Math.max(...[low, high].map((rpm) => Math.abs(error - delayDeg(rpm, delayError ?? 0)))),
  }
}

const average = (values: number[]): number => values.reduce((a, b) => a + b, 0) / values.length
const signed = (value: number, decimals = 1): string => `${value > 0 ? '+' : ''}${value.toFixed(decimals)}`

function findMistake(readings: TimingReading[], residualDeg: number | null): TimingVerdict['mistake'] {
  for (const { rpm } of readings) {
    const near = readings.filter((r) => Math.abs(r.rpm - rpm) <= Math.max(25, rpm * 0.02)).map((r) => r.observedDeg)
    const spread = Math.max(...near) - Math.min(...near)
    if (spread > MAX_SCATTER_DEG)
      return {
        kind: 'scatter',
        message: `Readings near ${rpm.toFixed(0)} rpm differ by ${spread.toFixed(1)}°. That is a reading problem, not a setting: parallax, a loose plug lead, the light on the wrong lead, or a worn drive.`,
      }
  }
  if (residualDeg !== null && residualDeg > MAX_RESIDUAL_DEG)
    return {
      kind: 'poor-fit',
      message: `The readings miss any straight line by ${residualDeg.toFixed(1)}°. Old advance weights still moving look like this, and so does a dial-back light on paired coils. Check those before adjusting.`,
    }
  return null
}
