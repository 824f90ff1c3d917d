import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'
import { firingIntervalDeg } from './firing-interval.ts'

/** Where the once-a-cycle pulse must fall so that it is as far as can be from the crank pulses on both sides. */
export const camSyncPosition = defineCalculation({
  id: 'spark.camSyncPosition',
  title: 'Place of the cam sync pulse',
  input: z.strictObject({
    referenceDeg: z.number().min(-360).max(720).describe('crank degrees BTDC of the reference pulse'),
    cylinders: z.int().min(1).max(12),
    windows: z.number().min(0.5).max(11.5).describe('firing intervals ahead of the reference pulse: 0.5 or 1.5, by control unit'),
  }),
  output: z.object({ positionDegBtdc: z.number(), marginDeg: z.number() }),
  formula: 'position = R + windows x 720/N;  margin = 720/N / 2',
  source: 'Even firing: the middle between two pulses is the safest place',
  run: ({ referenceDeg, cylinders, windows }) => ({
    positionDegBtdc: referenceDeg + windows * firingIntervalDeg(cylinders),
    marginDeg: firingIntervalDeg(cylinders) / 2,
  }),
})
