import { benchDrive, benchFaults, everydayDrive, type FaultId } from '../src/bench/index.ts'
import { factorSpd, whitened } from '../src/kernel/index.ts'
import type { LogData } from '../src/logfile/index.ts'
import type { TuneDocument } from '../src/tune/index.ts'
import { buildOf, type ScoreCar } from './cars.ts'

/**
 * The least size of a fault that a test of likelihood ratios finds in 90 % at 0.1 % false alarms, so that sizes are asked for that a log holds at all. The
 * test knows what only the bench knows: what this very fault does to this very drive, and by what sound drives differ from one another. All of it is
 * taken from rows of logs; nothing of what is judged is used.
 */

type Log = Pick<LogData, 'timeS' | 'channels'>
/** where a fault shows: in the fuel that is wanted, by place and time, also while the throttle moves; or in how the crank shakes */
export type Shows = 'need' | 'moving-need' | 'crank-shake'

/** quantiles of the normal distribution for 90 % and 0.1 % */
const FOUND_SIGMA = 1.282 + 3.09
const BIN_S = 10
const MOVING_BIN_S = 2
const DRIVE_MIN = 15
const COLD_C = 30
const WARM_C = 60
const CUT_LAMBDA = 1.25
/** sound drives that tell the noise, each of another engine of its kind on its own tune */
const SOUND_DRIVES = 10
/** so few drives tell little of how bins go together: what they tell of it counts half */
const TOGETHER = 0.5
const LEAST_ROWS = 20
const LEAST_MOVING_ROWS = 5
const SHAKE_STEPS = 6

const lnWanted = ({ channels: { lambda, lambdaTarget, correctionPct } }: Log, i: number): number =>
  100 * Math.log((lambda![i] / lambdaTarget![i]) * (1 + (correctionPct?.[i] ?? 0) / 100))
/** rms step from row to row, as a natural log in per cent */
const logSwing = (values: readonly number[]): number =>
  50 * Math.log(1e-12 + values.reduce((sum, v, i) => (i ? sum + (v - values[i - 1]) ** 2 : 0), 0) / values.length)
const middle = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1]

/** Rows of each bin in which a warm engine burns what it is given. */
function rowsOfBins({ timeS, channels: { lambda, rpm, coolantC } }: Log, binS: number): number[][] {
  const bins = Array.from({ length: (DRIVE_MIN * 60) / binS }, (): number[] => [])
  for (let i = 0; i < timeS.length; i++)
    if (lambda![i] < CUT_LAMBDA && rpm![i] > 400 && coolantC![i] > WARM_C)
      bins[Math.min(bins.length - 1, Math.floor(timeS[i] / binS))].push(i)
  return bins
}
/** Wanted fuel of each bin, %; NaN where too few rows tell. */
const wantedPct = (log: Log, moving: boolean): number[] =>
  rowsOfBins(log, moving ? MOVING_BIN_S : BIN_S).map((rows) =>
    rows.length < (moving ? LEAST_MOVING_ROWS : LEAST_ROWS) ? NaN : rows.reduce((sum, i) => sum + lnWanted(log, i), 0) / rows.length,
  )
/** How much the crank shakes from row to row, in the middle one of a drive's bins. */
const shakePct = (log: Log): number =>
  middle(
    rowsOfBins(log, BIN_S)
      .filter((rows) => rows.length >= LEAST_ROWS)
      .map((rows) => logSwing(rows.map((i) => log.channels.rpm![i]))),
  )

const dot = (a: Float64Array, b: Float64Array): number => a.reduce((sum, v, i) => sum + v * b[i], 0)

/**
 * How many times a mark has to be there to be found: by the best linear test, whose weights come from the other sound drives and whose scatter is that of
 * the ones left out.
 * @param mark what one unit of the fault adds to each bin, % @param sound the bins of each sound drive, %
 * @source Neyman and Pearson: between two normal distributions that scatter alike the ratio of likelihoods goes with a linear sum of what was seen
 */
export function leastTimes(mark: readonly number[], sound: readonly (readonly number[])[]): number {
  const n = sound.length
  const scores = sound.map((left, k) => {
    const others = sound.filter((_, i) => i !== k)
    const mean = left.map((_, b) => others.reduce((sum, drive) => sum + drive[b], 0) / (n - 1))
    const off = others.map((drive) => drive.map((v, b) => v - mean[b]))
    const factor = Float64Array.from({ length: mean.length ** 2 }, (_, k) => {
      const [i, j] = [Math.floor(k / mean.length), k % mean.length]
      return ((i === j ? 1 : TOGETHER) * off.reduce((sum, d) => sum + d[i] * d[j], 0)) / (n - 2) + (i === j ? 1e-6 : 0)
    })
    factorSpd(factor, mean.length)
    const white = whitened(factor, mark)
    const apart = left.map((v, b) => v - mean[b])
    return dot(white, whitened(factor, apart)) / dot(white, white)
  })
  // each was held against a mean of the others, which is itself unsure
  const variance = scores.reduce((sum, v) => sum + v * v, 0) / n / (1 + 1 / (n - 1))
  return FOUND_SIGMA * Math.sqrt(variance)
}

/** Where a fault of a size is looked for. */
export interface Sized {
  fault: FaultId
  /** size at which it is nothing */
  none: number
  /** a size that is clear to see, on the side that is meant: its mark is taken from it */
  clear: number
  shows?: Shows
}

/** Finds least sizes on one car. `tuneOf` is the tune that an engine of a seed runs on while it is sound; seeds from the one given are driven. */
export function leastSizes(car: ScoreCar, seed: number, tuneOf: (seed: number) => TuneDocument): (sized: Sized) => number {
  const driven = (of: number, road: number, fault?: { id: FaultId; size: number }): Log =>
    benchDrive(
      buildOf({ ...car, choices: { ...car.choices, unit: { learns: 'trim' }, ...(fault ? { bench: { faults: [fault] } } : {}) } }, of),
      tuneOf(of),
      everydayDrive(DRIVE_MIN, road),
      { coolantC: COLD_C },
    )
  const seeds = Array.from({ length: SOUND_DRIVES }, (_, k) => seed + k)
  const oneRoad = seeds.map((s) => driven(s, seed))
  let roads: number[][] | null = null
  return ({ fault, none, clear, shows = 'need' }) => {
    const apart = Math.abs(clear - none)
    if (shows === 'crank-shake') {
      // here one road differs from another by more than engines do
      const sound = (roads ??= seeds.map((s) => [shakePct(driven(s, s))]))
      const found = leastTimes([1], sound)
      // a lean cylinder burns until it does not: the size is looked for by driving it
      let [under, over] = [0, 1]
      for (let k = 0; k < SHAKE_STEPS; k++) {
        const share = (under + over) / 2
        const shaken = shakePct(driven(seed, seed, { id: fault, size: none + share * (clear - none) })) - sound[0][0]
        if (shaken < found) under = share
        else over = share
      }
      return over * apart
    }
    const marked = driven(seed, seed, { id: fault, size: clear })
    const wanted = wantedPct(marked, shows !== 'need')
    const sound = oneRoad.map((log) => wantedPct(log, shows !== 'need'))
    const bins = [...wanted.keys()].filter((b) => [wanted, ...sound].every((d) => Number.isFinite(d[b])))
    const mark = bins.map((b) => (wanted[b] - sound[0][b]) / apart)
    return mark.every((v) => v === 0)
      ? Infinity
      : leastTimes(
          mark,
          sound.map((d) => bins.map((b) => d[b])),
        )
  }
}
/** The furthest that a fault goes to the side that is meant, from nothing. */
export const mostOf = ({ fault, none, clear }: Sized): number => {
  const { min, max } = benchFaults[fault].size!
  return Math.abs((clear > none ? max : min) - none)
}
