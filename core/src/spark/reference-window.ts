import { z } from 'zod'
import { defineCalculation } from '../kernel/index.ts'
import { firingIntervalDeg } from './firing-interval.ts'

/** Time the crank takes for an angle, microseconds. */
export const degreesToUs = (angleDeg: number, rpm: number): number => (angleDeg / (6 * rpm)) * 1e6

/** Room on both sides of the reference pulse: before it the spark must not yet be due, after it the next cylinder's pulse must not have come. */
export const referenceWindow = defineCalculation({
  id: 'spark.referenceWindow',
  title: 'Room around the reference pulse',
  input: z.strictObject({
    referenceDeg: z.number().min(-360).max(720).describe('crank degrees BTDC at which the pulse arrives'),
    maxAdvanceDeg: z.number().min(-30).max(90).describe('most advance commanded, crank degrees BTDC'),
    minAdvanceDeg: z.number().min(-60).max(90).describe('least advance commanded, crank degrees BTDC'),
    cylinders: z.int().min(1).max(12),
    maxRpm: z.number().positive().max(20000).describe('rpm'),
  }),
  output: z.object({ leadDeg: z.number(), leadUs: z.number(), roomDeg: z.number() }),
  formula: 'lead = R - max advance;  us = deg / (6 rpm);  room = 720/N - (R - min advance)',
  source: 'Crank kinematics: 6 degrees a second for each rpm',
  run: ({ referenceDeg, maxAdvanceDeg, minAdvanceDeg, cylinders, maxRpm }) => {
    const leadDeg = referenceDeg - maxAdvanceDeg
    return { leadDeg, leadUs: degreesToUs(leadDeg, maxRpm), roomDeg: firingIntervalDeg(cylinders) - (referenceDeg - minAdvanceDeg) }
  },
})
