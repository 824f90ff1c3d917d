import { z } from 'zod'
import { defineCalculation, huberWeights, weightedLine } from '../kernel/index.ts'

/** How well a timing light is read on a running engine, crank degrees (1 sigma), before the readings themselves tell: parallax, a moving mark. */
export const LIGHT_SIGMA_DEG = 0.5
/** That belief counts like so many readings. */
const BELIEF_READINGS = 2
const HUBER_FROM = 4
const HUBER_K = 1.5
/**
 * With normal scatter and that bound so large a share of the weights is 1, and the variance is so many times that of plain least squares.
 * The small sample adds 1 + (p / n)(1 - m) / m on its root (P. J. Huber, Robust Statistics (1981), section 7.6).
 */
const HUBER_FREE_SHARE = 0.866
const HUBER_VARIANCE = 1.037
const DEG_PER_RPM_US = 6e-6
/** From so many readings on one may be told from the others; it must miss by so many spreads, and by this much at least, degrees. */
const OUTLIER_FROM = 5
const OUTLIER_SPREADS = 5
const OUTLIER_LEAST_DEG = 3
const OUTLIER_MOST_SHARE = 0.2

export const TimingReading = z.strictObject({
  rpm: z.number().positive().max(20000).describe('rpm'),
  observedDeg: z.number().min(-360).max(360).describe('crank degrees BTDC seen on the damper'),
})
export type TimingReading = z.infer<typeof TimingReading>

/** What no repetition of the readings makes smaller, 1 sigma each. */
const systematic = {
  zeroSigmaDeg: z.number().min(0).max(20).optional().describe('how well the zero mark is known, crank degrees'),
  latencySigmaUs: z.number().min(0).max(500).optional().describe('how well the light’s own latency is known, us'),
  resolutionDeg: z.number().min(0).max(10).optional().describe('step to which the marks are read, crank degrees'),
}

const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0)

/** Line through the readings with the weights of Huber; fewer than four, and those at one speed, by plain means. */
function lineThrough(x: readonly number[], y: readonly number[], oneSpeed: boolean): { a: number; b: number; w: number[] } {
  let w = y.map(() => 1)
  if (oneSpeed) return { a: sum(y) / y.length, b: 0, w }
  let line = weightedLine(x, y, w)
  if (y.length >= HUBER_FROM)
    for (let pass = 0; pass < 30; pass++) {
      w = huberWeights(
        y.map((v, i) => v - line.a - line.b * x[i]),
        HUBER_K,
        LIGHT_SIGMA_DEG / 2,
      )
      const next = weightedLine(x, y, w)
      const still = Math.abs(next.a - line.a) < 1e-9 && Math.abs(next.b - line.b) < 1e-9 * Math.max(1, Math.abs(next.b))
      line = next
      if (still) break
    }
  return { ...line, w }
}

/** What each reading contributes to intercept and slope: both are weighted sums of the readings. */
function contributions(x: readonly number[], w: readonly number[], oneSpeed: boolean): { a: number[]; b: number[] } {
  const [s, sx, sxx] = [sum(w), sum(w.map((v, i) => v * x[i])), sum(w.map((v, i) => v * x[i] * x[i]))]
  if (oneSpeed) return { a: w.map((v) => v / s), b: w.map(() => 0) }
  const det = s * sxx - sx * sx
  return { a: w.map((v, i) => (v * (sxx - sx * x[i])) / det), b: w.map((v, i) => (v * (s * x[i] - sx)) / det) }
}

/** Readings that miss the line as no scatter does: a typo, a glance at the wrong mark. */
function outliersOf(misses: readonly number[]): number[] {
  if (misses.length < OUTLIER_FROM) return []
  const sorted = misses.map(Math.abs).sort((p, q) => p - q)
  const spread = 1.4826 * sorted[sorted.length >> 1]
  const out = misses.flatMap((m, i) => (Math.abs(m) > Math.max(OUTLIER_LEAST_DEG, OUTLIER_SPREADS * spread) ? [i] : []))
  return out.length <= OUTLIER_MOST_SHARE * misses.length ? out : []
}

/**
 * Reference error and delay error from timing-light readings at one fixed commanded advance.
 * Four readings or more are fitted with Huber weights; from five on a reading that misses as no scatter does is left out and named. One speed gives
 * the reference error only (delay null). Scatter is estimated from what is left over, together with a belief of half a degree; rounding to the marks
 * is shared by readings at one speed as far as they do not scatter over a step; zero mark and latency of the light are added as they stand.
 */
export const fitTiming = defineCalculation({
  id: 'spark.fitTiming',
  title: 'Reference and delay error from a timing light',
  input: z.strictObject({
    commandedDeg: z.number().min(-60).max(90).describe('the fixed advance commanded, crank degrees BTDC'),
    readings: z.array(TimingReading).min(1).max(200),
    ...systematic,
  }),
  output: z.object({
    referenceErrorDeg: z.number(),
    delayErrorUs: z.number().nullable().describe('null with readings at one speed only'),
    residualDeg: z.number().nullable().describe('rms residual; null when nothing is left over to judge by'),
    referenceErrorSeDeg: z.number(),
    delayErrorSeUs: z.number().nullable(),
    leftOut: z.array(z.int()).describe('places in the list of readings that no scatter explains'),
  }),
  formula: 'observed = commanded + reference error - 6e-6 x rpm x delay error;  least squares (Huber from 4 readings)',
  source:
    'Linear least squares; P. J. Huber, Ann. Math. Statist. 35 (1964); rounding: Widrow and Kollar, Quantization Noise, section 5.6 (correlation exp(-2 pi^2 s^2/q^2) taken for repeats)',
  run: ({ commandedDeg, readings, zeroSigmaDeg = 0, latencySigmaUs = 0, resolutionDeg = 0 }) => {
    const oneSpeedOf = (list: readonly TimingReading[]): boolean => new Set(list.map((r) => r.rpm)).size < 2
    const xOf = (r: TimingReading): number => -DEG_PER_RPM_US * r.rpm
    const yOf = (r: TimingReading): number => r.observedDeg - commandedDeg
    const first = lineThrough(readings.map(xOf), readings.map(yOf), oneSpeedOf(readings))
    const leftOut = outliersOf(readings.map((r) => yOf(r) - first.a - first.b * xOf(r)))
    const kept = readings.filter((_, i) => !leftOut.includes(i))
    const oneSpeed = oneSpeedOf(kept)
    const [x, y] = [kept.map(xOf), kept.map(yOf)]
    const { a, b, w } = lineThrough(x, y, oneSpeed)
    const n = kept.length
    const free = n - (oneSpeed ? 1 : 2)
    const left = sum(y.map((v, i) => w[i] * (v - a - b * x[i]) ** 2))
    const residualDeg = free > 0 ? Math.sqrt(left / free) : null
    // weights of Huber make large misses smaller than they were: the spread is that of the misses themselves
    const misses = sum(y.map((v, i) => (v - a - b * x[i]) ** 2))
    const variance = (BELIEF_READINGS * LIGHT_SIGMA_DEG ** 2 + misses) / (BELIEF_READINGS + Math.max(0, free))
    const step2 = resolutionDeg ** 2
    const shared = step2 === 0 ? 0 : (step2 / 12) * Math.exp((-2 * Math.PI ** 2 * variance) / step2)
    const small = 1 + (2 / n) * (1 / HUBER_FREE_SHARE - 1)
    const own = Math.max(variance, step2 / 12 - shared) * (n >= HUBER_FROM && !oneSpeed ? HUBER_VARIANCE * small ** 2 : 1)
    const share = contributions(x, w, oneSpeed)
    const speeds = [...new Set(kept.map((r) => r.rpm))]
    const varianceOf = (c: readonly number[]): number =>
      own * sum(c.map((v) => v * v)) + shared * sum(speeds.map((rpm) => sum(c.filter((_, i) => kept[i].rpm === rpm)) ** 2))
    return {
      referenceErrorDeg: a,
      delayErrorUs: oneSpeed ? null : b,
      residualDeg,
      referenceErrorSeDeg: Math.hypot(Math.sqrt(varianceOf(share.a)), zeroSigmaDeg),
      delayErrorSeUs: oneSpeed ? null : Math.hypot(Math.sqrt(varianceOf(share.b)), latencySigmaUs),
      leftOut,
    }
  },
})
