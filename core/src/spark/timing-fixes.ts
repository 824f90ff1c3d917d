import { delayDeg } from './delay-retard.ts'
import { firingIntervalDeg } from './firing-interval.ts'
import { fitTiming, LIGHT_SIGMA_DEG, type TimingReading } from './fit-timing.ts'
import { GOOD_DELAY_SE_US, GOOD_REFERENCE_SE_DEG, MAX_RESIDUAL_DEG, MAX_SCATTER_DEG } from './limits.ts'

export interface TimingFix {
  id: 'turn-distributor' | 'move-sensor' | 'change-reference' | 'change-delay'
  title: string
  detail: string
  /** what it does to the rotor's alignment, crank degrees BTDC; 0 when nothing mechanical moves */
  movesAlignDeg: number
}

type ReadingMistake = 'scatter' | 'doubled' | 'advance-moves' | 'wrong-lead' | 'poor-fit'

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
  /** set-up mistakes that leave just such an error behind: looked at before anything is adjusted */
  suspects: string[]
  /** readings that no scatter explains, by their place among those given: named, and left out of the fit */
  leftOut: { place: number; rpm: number; observedDeg: number; missDeg: number }[]
}
/** A light reading; without a commanded value of its own it was taken at the one given for all. */
export type LightReading = TimingReading & { commandedDeg?: number }
export interface TimingQuestion {
  commandedDeg: number
  readings: LightReading[]
  referenceDeg: number
  delayUs: number
  /** of the rotor, from above; left out where it is not known: the words then tell it by the towers */
  rotation?: 'clockwise' | 'anticlockwise'
  hasDistributor: boolean
  /** speeds between which a next reading can be taken, rpm */
  minRpm?: number
  maxRpm: number
  cylinders?: number | null
  pairedCoils?: boolean
  /** what repetition does not make smaller, 1 sigma: zero mark, degrees; latency of the light, us */
  zeroSigmaDeg?: number
  latencySigmaUs?: number
  /** crank degrees by which the wrong edge or the wrong polarity would shift the pulse, where that is known */
  edgeShiftDeg?: number | null
  lobeShiftDeg?: number | null
  /** edge or polarity was looked at and found right */
  polarityLooked?: boolean
}

const SAME_SPEED = 0.15

/**
 * Judges timing-light readings taken at one commanded value and one setting, and says what to change.
 *
 * observed = commanded + reference error - 6e-6 rpm delay error, so with R set in the unit and the pulse truly at R + error, raising R by the
 * error sets it right and moves nothing; turning the housing by half of it does the same and carries the rotor alignment with it.
 * Readings at one speed that spread more than 1.5 degrees, or a fit that typically misses by more than 1 degree, are a reading problem, not a setting.
 */
export function judgeTiming(input: TimingQuestion): TimingVerdict {
  const { commandedDeg, readings, referenceDeg, delayUs, rotation, hasDistributor, maxRpm } = input
  const errors = readings.map((r) => ({ rpm: r.rpm, observedDeg: r.observedDeg - (r.commandedDeg ?? commandedDeg) }))
  const resolutionDeg = readStepDeg(readings)
  const fit = fitTiming.run({
    commandedDeg: 0,
    readings: errors,
    resolutionDeg,
    zeroSigmaDeg: input.zeroSigmaDeg,
    latencySigmaUs: input.latencySigmaUs,
  })
  // more readings help against scatter only: whether there are enough is asked of that part
  const byScatter = fitTiming.run({ commandedDeg: 0, readings: errors })
  const sound = errors.filter((_, i) => !fit.leftOut.includes(i))
  const speeds = readings.map((r) => r.rpm)
  const mistake = findMistake(input, sound, byScatter)
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
            title: `Or turn the distributor ${Math.abs(error / 2).toFixed(1)}° ${withRotation ? 'with' : 'against'} the rotor (${rotation ? (clockwise ? 'clockwise' : 'anticlockwise') : withRotation ? 'the way the towers are met' : 'against the way the towers are met'})`,
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
  // one reading at an end cannot show that it scatters
  const repeated = [low, high].every((end) => speeds.filter((rpm) => Math.abs(rpm - end) <= SAME_SPEED * end).length >= 2)
  const enough =
    !mistake &&
    repeated &&
    byScatter.referenceErrorSeDeg <= GOOD_REFERENCE_SE_DEG &&
    byScatter.delayErrorSeUs !== null &&
    byScatter.delayErrorSeUs <= GOOD_DELAY_SE_US
  return {
    ...fit,
    mistake,
    fixes,
    newReferenceDeg: mistake ? null : referenceDeg + error,
    newDelayUs: mistake || delayError === null ? null : Math.max(0, delayUs + delayError),
    nextRpm: nextSpeed(speeds, input.minRpm ?? 800, maxRpm),
    enough,
    worstErrorDeg: Math.max(...[low, high].map((rpm) => Math.abs(error - delayDeg(rpm, delayError ?? 0)))),
    suspects: mistake ? [] : suspectsOf(input, error),
    leftOut: fit.leftOut.map((place) => ({
      place,
      rpm: readings[place].rpm,
      observedDeg: readings[place].observedDeg,
      missDeg: errors[place].observedDeg - error + delayDeg(readings[place].rpm, delayError ?? 0),
    })),
  }
}

/** Step to which marks were read, degrees: the largest of the usual ones that all readings are whole multiples of; 0 where none is. */
function readStepDeg(readings: readonly LightReading[]): number {
  const whole = (step: number) => readings.every((r) => Math.abs(r.observedDeg / step - Math.round(r.observedDeg / step)) < 1e-6)
  const values = new Set(readings.map((r) => r.observedDeg)).size
  return values >= VALUES_SHOW_STEP ? ([2, 1, 0.5].find(whole) ?? 0) : 0
}

/** One or two values are whole multiples of anything. */
const VALUES_SHOW_STEP = 3

const signed = (value: number, decimals = 1): string => `${value > 0 ? '+' : ''}${value.toFixed(decimals)}`

/** The speed at which one more reading leaves the least uncertainty, each of the two errors counted against what is good enough. */
function nextSpeed(speeds: readonly number[], minRpm: number, maxRpm: number): number {
  const lever = (rpm: number) => -delayDeg(rpm, 1)
  const taken = speeds.map(lever)
  const sum = taken.reduce((a, b) => a + b, 0)
  const squares = taken.reduce((a, b) => a + b * b, 0)
  const n = speeds.length + 1
  let best = { rpm: maxRpm, worth: Infinity }
  for (let rpm = Math.ceil(minRpm / 50) * 50; rpm <= maxRpm; rpm += 50) {
    const x = lever(rpm)
    const mean = (sum + x) / n
    const spread = squares + x * x - n * mean ** 2
    if (spread <= 1e-12 * squares) continue
    const referenceSe = LIGHT_SIGMA_DEG * Math.sqrt(1 / n + mean ** 2 / spread)
    const delaySe = LIGHT_SIGMA_DEG / Math.sqrt(spread)
    const worth = Math.max(referenceSe / GOOD_REFERENCE_SE_DEG, delaySe / GOOD_DELAY_SE_US)
    if (worth < best.worth - 1e-9) best = { rpm, worth }
  }
  return best.rpm
}

const SPREAD_BY_LOG = 0.38
const RISE_US = 60
/** commanded less than this, twice it cannot be told from an error of the pick-up */
const DOUBLED_LEAST_DEG = 10
const DOUBLED_DEG = 5
const DOUBLED_SLOPE = 0.35
/** Commanded values this far apart tell the slope, degrees. */
const COMMANDED_APART_DEG = 5

/** Degrees seen for each degree commanded, speed allowed for; null while all were taken near one commanded value. Least squares. */
function slopeOnCommanded(readings: readonly { rpm: number; commandedDeg: number; observedDeg: number }[]): number | null {
  const values = readings.map((r) => r.commandedDeg)
  if (readings.length < 3 || Math.max(...values) - Math.min(...values) < COMMANDED_APART_DEG) return null
  const mean = (of: (r: (typeof readings)[number]) => number) => readings.reduce((s, r) => s + of(r), 0) / readings.length
  const [mc, mx, my] = [mean((r) => r.commandedDeg), mean((r) => r.rpm / 1000), mean((r) => r.observedDeg)]
  let [cc, cx, xx, cy, xy] = [0, 0, 1e-9, 0, 0]
  for (const r of readings) {
    const [c, x, y] = [r.commandedDeg - mc, r.rpm / 1000 - mx, r.observedDeg - my]
    cc += c * c
    cx += c * x
    xx += x * x
    cy += c * y
    xy += x * y
  }
  const det = cc * xx - cx * cx
  // commanded and speed moved together: they cannot be told apart
  return det < 0.05 * cc * xx ? null : (cy * xx - xy * cx) / det
}

/** A pick-up set by hand is a few degrees off besides, 1 sigma; one in ten is further off for a reason of its own, anywhere within these degrees. */
const HAND_SIGMA_DEG = 3
const ELSEWHERE = { share: 0.1, withinDeg: 120 } as const
/** How often edge or polarity is wrong: before anybody looked, and after somebody found it right. */
const WRONG_WAY = { notLooked: 0.1, looked: 0.01 } as const

/**
 * Chance that an error comes from the wrong edge or polarity rather than from the hand that set the pick-up.
 * @param shiftsDeg errors that the wrong way would make
 * @source Bayes' theorem
 */
export function wrongWayChance(errorDeg: number, shiftsDeg: readonly number[], looked: boolean): number {
  const bell = (x: number) => Math.exp(-0.5 * (x / HAND_SIGMA_DEG) ** 2) / (HAND_SIGMA_DEG * Math.sqrt(2 * Math.PI))
  const prior = looked ? WRONG_WAY.looked : WRONG_WAY.notLooked
  const wrong = (prior * shiftsDeg.reduce((sum, shift) => sum + bell(errorDeg - shift), 0)) / shiftsDeg.length
  const right = (1 - prior) * ((1 - ELSEWHERE.share) * bell(errorDeg) + ELSEWHERE.share / ELSEWHERE.withinDeg)
  return wrong / (wrong + right)
}

function suspectsOf({ edgeShiftDeg, lobeShiftDeg, polarityLooked }: TimingQuestion, errorDeg: number): string[] {
  const suspects: string[] = []
  const likely = (shifts: number[]) => wrongWayChance(errorDeg, shifts, polarityLooked ?? false) > 0.5
  if (edgeShiftDeg && likely([edgeShiftDeg, -edgeShiftDeg]))
    suspects.push(
      `${Math.abs(errorDeg).toFixed(1)}° is about the width of the target (${edgeShiftDeg.toFixed(0)}° at the crank): look whether the unit takes the wrong edge before anything is turned.`,
    )
  if (lobeShiftDeg && likely([-lobeShiftDeg]))
    suspects.push(`${Math.abs(errorDeg).toFixed(1)}° late is about a lobe of the pick-up: look at its polarity again.`)
  return suspects
}

/** Timing that rises with speed cannot come from a delay: a signal is late, never early, and the unit takes off no more than it was told. */
function risesWithSpeed(fit: ReturnType<typeof fitTiming.run>, delayUs: number): boolean {
  if (fit.delayErrorUs === null || fit.delayErrorSeUs === null) return false
  return -fit.delayErrorUs > delayUs + Math.max(RISE_US, 2 * fit.delayErrorSeUs)
}

/** Scatter about the line that one misread does not raise: 1.48 times the median miss, as for a normal scatter; 0 with fewer than four readings. */
function typicalMissDeg(errors: readonly TimingReading[], fit: ReturnType<typeof fitTiming.run>): number {
  if (errors.length < 4) return 0
  const misses = errors
    .map((r) => Math.abs(r.observedDeg - fit.referenceErrorDeg + delayDeg(r.rpm, fit.delayErrorUs ?? 0)))
    .sort((a, b) => a - b)
  return 1.48 * misses[misses.length >> 1]
}

function findMistake(
  { readings, commandedDeg, delayUs, pairedCoils, cylinders }: TimingQuestion,
  errors: readonly TimingReading[],
  fit: ReturnType<typeof fitTiming.run>,
): TimingVerdict['mistake'] {
  const commanded = (r: LightReading) => r.commandedDeg ?? commandedDeg
  const slope = slopeOnCommanded(readings.map((r) => ({ rpm: r.rpm, commandedDeg: commanded(r), observedDeg: r.observedDeg })))
  if (slope !== null && Math.abs(slope - 2) < DOUBLED_SLOPE)
    return {
      kind: 'doubled',
      message: `What is seen moves ${slope.toFixed(1)} degrees for each degree commanded. A dial-back light sees both sparks of a paired coil, or is set to the wrong strokes: set it right, or use a plain light and the marks.`,
    }
  for (const { rpm } of errors) {
    const near = errors.filter((r) => Math.abs(r.rpm - rpm) <= Math.max(25, rpm * 0.02)).map((r) => r.observedDeg)
    const spread = Math.max(...near) - Math.min(...near)
    // the more readings, the wider they lie with the same hand
    if (spread > MAX_SCATTER_DEG * (1 + SPREAD_BY_LOG * Math.log(Math.max(1, near.length / 3))))
      return {
        kind: 'scatter',
        message: `Readings near ${rpm.toFixed(0)} rpm differ by ${spread.toFixed(1)}°. That is a reading problem, not a setting: parallax, a loose plug lead, the light on the wrong lead, or a worn drive (chain, gear, bush).`,
      }
  }
  if (pairedCoils && readings.every((r) => commanded(r) >= DOUBLED_LEAST_DEG && Math.abs(r.observedDeg - 2 * commanded(r)) < DOUBLED_DEG))
    return {
      kind: 'doubled',
      message: `Every reading is about twice what was commanded. A dial-back light sees both sparks of a paired coil: set it to two-stroke, or use a plain light and the marks.`,
    }
  if (risesWithSpeed(fit, delayUs))
    return {
      kind: 'advance-moves',
      message: `Timing rises with speed, by ${(-delayDeg(1000, fit.delayErrorUs!)).toFixed(1)}° for each 1,000 rpm. A delay can only make it fall: weights or a vacuum can still move. Look under the plate and do the hand-twist test again.`,
    }
  const interval = cylinders ? firingIntervalDeg(cylinders) : null
  const places = interval === null ? 0 : Math.round(fit.referenceErrorDeg / interval)
  if (interval !== null && places !== 0 && Math.abs(fit.referenceErrorDeg - places * interval) < interval / 6)
    return {
      kind: 'wrong-lead',
      message: `The error of ${fit.referenceErrorDeg.toFixed(0)}° is ${Math.abs(places)} firing interval${Math.abs(places) > 1 ? 's' : ''}: the light is on another cylinder’s lead, or the leads are laid that many towers round.`,
    }
  const missDeg = Math.max(fit.residualDeg ?? 0, typicalMissDeg(errors, fit))
  if (missDeg > MAX_RESIDUAL_DEG)
    return {
      kind: 'poor-fit',
      message: `The readings miss any straight line by ${missDeg.toFixed(1)}°. Parallax, a loose plug lead or a light on the wrong lead look like this, and so do old advance weights still moving. Check those before adjusting.`,
    }
  return null
}
