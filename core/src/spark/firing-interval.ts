import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'

const CYCLE_DEG = 720

/** Crank degrees between firings of an even-fire four-stroke. */
export const firingIntervalDeg = (cylinders: number): number => CYCLE_DEG / cylinders

export const firingInterval = defineCalculation({
  id: 'spark.firingInterval',
  title: 'Degrees between firings',
  input: z.strictObject({ cylinders: z.int().min(1).max(12) }),
  output: z.object({ intervalDeg: z.number() }),
  formula: 'interval = 720 / cylinders',
  source: 'Four-stroke cycle of 720 crank degrees, even firing',
  run: ({ cylinders }) => ({ intervalDeg: firingIntervalDeg(cylinders) }),
})
