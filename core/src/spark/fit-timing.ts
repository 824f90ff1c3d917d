import { z } from 'zod'
import { defineCalculation, huberWeights, weightedLine } from '../kernel/index.ts'

/** How well a timing light is read on a running engine, crank degrees (1 sigma): strobe latency, parallax, a moving mark. */
export const LIGHT_SIGMA_DEG = 0.5
const HUBER_K = 1.5
const DEG_PER_RPM_US = 6e-6

export const TimingReading = z.strictObject({
  rpm: z.number().positive().max(20000).describe('rpm'),
  observedDeg: z.number().min(-60).max(120).describe('crank degrees BTDC seen on the damper'),
})
export type TimingReading = z.infer<typeof TimingReading>

const distinctSpeeds = (readings: TimingReading[]): number => new Set(readings.map((r) => r.rpm)).size

/**
 * Reference error and delay error from timing-light readings at one fixed commanded advance.
 * Four readings or more are fitted with Huber weights, so one misread does not pull the line; fewer by plain least squares.
 * One speed gives the reference error only (delay null). Standard errors take the larger of the scatter and what a light can be read to.
 */
export const fitTiming = defineCalculation({
  id: 'spark.fitTiming',
  title: 'Reference and delay error from a timing light',
  input: z.strictObject({
    commandedDeg: z.number().min(-60).max(90).describe('the fixed advance commanded, crank degrees BTDC'),
    readings: z.array(TimingReading).min(1).max(200),
  }),
  output: z.object({
    referenceErrorDeg: z.number(),
    delayErrorUs: z.number().nullable().describe('null with readings at one speed only'),
    residualDeg: z.number().nullable().describe('rms residual; null when nothing is left over to judge by'),
    referenceErrorSeDeg: z.number(),
    delayErrorSeUs: z.number().nullable(),
  }),
  formula: 'observed = commanded + reference error - 6e-6 x rpm x delay error;  least squares (Huber from 4 readings)',
  source: 'Linear least squares; P. J. Huber, Ann. Math. Statist. 35 (1964)',
  run: ({ commandedDeg, readings }) => {
    const y = readings.map((r) => r.observedDeg - commandedDeg)
    const n = readings.length
    if (distinctSpeeds(readings) < 2) {
      const mean = y.reduce((a, b) => a + b, 0) / n
      const residual = n > 1 ? Math.sqrt(y.reduce((a, b) => a + (b - mean) ** 2, 0) / (n - 1)) : null
      return {
        referenceErrorDeg: mean,
        delayErrorUs: null,
        residualDeg: residual,
        referenceErrorSeDeg: Math.max(LIGHT_SIGMA_DEG, residual ?? 0) / Math.sqrt(n),
        delayErrorSeUs: null,
      }
    }
    const x = readings.map((r) => -DEG_PER_RPM_US * r.rpm)
    let w = readings.map(() => 1)
    let line = weightedLine(x, y, w)
    if (n >= 4)
      for (let pass = 0; pass < 30; pass++) {
        w = huberWeights(
          y.map((v, i) => v - line.a - line.b * x[i]),
          HUBER_K,
          LIGHT_SIGMA_DEG / 2,
        )
        line = weightedLine(x, y, w)
      }
    const sum = y.reduce((acc, v, i) => acc + w[i] * (v - line.a - line.b * x[i]) ** 2, 0)
    const residualDeg = n > 2 ? Math.sqrt(sum / (n - 2)) : null
    const sigma = Math.max(LIGHT_SIGMA_DEG, residualDeg ?? 0)
    return {
      referenceErrorDeg: line.a,
      delayErrorUs: line.b,
      residualDeg,
      referenceErrorSeDeg: sigma * Math.sqrt(line.varA),
      delayErrorSeUs: sigma * Math.sqrt(line.varB),
    }
  },
})
